<script lang="ts">
	import { shorten } from '../../reading/figures';
	import { labelName } from '../../wire/asked';
	import { type Wanted, withLabel } from '../../wire/labels';
	import type { Overview } from '../../wire/list';
	import Button from '../kit/Button.svelte';
	import Choice from '../kit/Choice.svelte';

	interface Props {
		/** What is chosen among. */
		labels: Overview['labels'];
		wanted: Wanted;
		take: (wanted: Wanted) => void;
	}
	let { labels, wanted, take }: Props = $props();

	const without = (of: string) => wanted.filter(([each]) => each !== of);
</script>

{#each wanted as [of, label] (of)}
	<Button
		aria-pressed="true"
		title="{of}: {labelName(of, label)}. Press to show the others again"
		data-wanted={of}
		onclick={() => take(without(of))}>{shorten(labelName(of, label))} ✕</Button
	>
{/each}
{#if labels.length > 0}
	<Choice
		label="By label"
		value={-1}
		of={[-1, ...labels.keys()]}
		group={(at) => (at < 0 ? '' : labels[at]!.of)}
		names={(at) =>
			at < 0 ? 'by label…' : `${labelName(labels[at]!.of, labels[at]!.label)} (${labels[at]!.items})`}
		take={(at) => at >= 0 && take(withLabel(wanted, labels[at]!.of, labels[at]!.label))}
	/>
{/if}
