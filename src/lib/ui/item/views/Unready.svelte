<script lang="ts">
	import { inMark } from '../../../reader.svelte';
	import type { ItemState } from '../state/item-state.svelte';

	/** Why a view of the chosen candidate has nothing to show: it is being calculated, cannot run, or nobody is chosen. */
	let { desk, what }: { desk: ItemState; what: string } = $props();

	const answer = $derived(desk.answers.answerFor(desk.lineUp.chosenId));
	const words = $derived.by(() => {
		if (desk.answers.proposing) return 'Trying methods on past periods…';
		if (desk.lineUp.candidates.length === 0) return `Add a candidate to see ${what}.`;
		if (!answer)
			return desk.answers.problem ? `Nothing can be shown just now: ${desk.answers.problem}` : 'Calculating…';
		return answer.ok ? '' : inMark(`This candidate cannot run. ${answer.notes[0]!.text}`);
	});
</script>

<p class="px-4 py-4 text-[13px] text-ink-2" role="status" data-unready>{words}</p>
