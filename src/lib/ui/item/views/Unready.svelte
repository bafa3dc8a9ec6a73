<script lang="ts">
	import { inMark } from '../../../reader.svelte';
	import type { ItemState } from '../state/item-state.svelte';

	/** Why a view of the chosen candidate has nothing to show: it is being calculated, cannot run, or nobody is chosen. */
	let { itemState, what }: { itemState: ItemState; what: string } = $props();

	const answer = $derived(itemState.answers.answerFor(itemState.lineUp.chosenId));
	const words = $derived.by(() => {
		if (itemState.answers.proposing) return 'Trying methods on past periods…';
		if (itemState.lineUp.candidates.length === 0) return `Add a candidate to see ${what}.`;
		if (!answer)
			return itemState.answers.problem
				? `Nothing can be shown just now: ${itemState.answers.problem}`
				: 'Calculating…';
		return answer.ok ? '' : inMark(`This candidate cannot run. ${answer.notes[0]!.text}`);
	});
</script>

<p class="px-4 py-4 text-[13px] text-ink-2" role="status" data-unready>{words}</p>
