<script lang="ts">
	import { shorten } from '../../reading/figures';
	import type { ItemRow } from '../../shapes';
	import Button from '../kit/Button.svelte';
	import Choice from '../kit/Choice.svelte';
	import { labelName, labelsOf, type Wanted } from './which';

	interface Props {
		/** What is chosen among. */
		rows: readonly Pick<ItemRow, 'labels'>[];
		wanted: Wanted;
		take: (wanted: Wanted) => void;
	}
	let { rows, wanted, take }: Props = $props();

	const there = $derived(labelsOf(rows));
	const chosen = $derived(Object.entries(wanted));
	const without = (of: string) => Object.fromEntries(chosen.filter(([each]) => each !== of));
</script>

{#each chosen as [of, label] (of)}
	<Button
		aria-pressed="true"
		title="{of}: {labelName(of, label)}. Press to show the others again"
		data-wanted={of}
		onclick={() => take(without(of))}>{shorten(labelName(of, label))} ✕</Button
	>
{/each}
{#if there.length > 0}
	<Choice
		label="By label"
		value={-1}
		of={[-1, ...there.keys()]}
		group={(at) => (at < 0 ? '' : there[at]!.of)}
		names={(at) =>
			at < 0 ? 'by label…' : `${labelName(there[at]!.of, there[at]!.label)} (${there[at]!.count})`}
		take={(at) => at >= 0 && take({ ...wanted, [there[at]!.of]: there[at]!.label })}
	/>
{/if}
