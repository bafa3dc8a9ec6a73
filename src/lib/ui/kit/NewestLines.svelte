<script lang="ts">
	import type { NewestSaid } from '$core/words/status';
	import NewestLine from './NewestLine.svelte';

	/** How the newest period of each frequency stands: the most usual one, and those where anything is amiss. */
	let { newest }: { newest: readonly NewestSaid[] } = $props();

	const amiss = ({ items, have, graded, inside, reasons }: NewestSaid) =>
		have < items || inside < graded || Object.keys(reasons).length > 0;
	const lines = $derived(newest.filter((each, i) => i === 0 || amiss(each)));
	const quiet = $derived(
		newest.filter((each) => !lines.includes(each)).reduce((sum, { items }) => sum + items, 0),
	);
</script>

{#each lines as line (line.frequency)}<NewestLine newest={line} />{/each}
{#if quiet > 0}<span class="text-ink-2">{quiet} of other frequencies: all up to date and inside</span>{/if}
