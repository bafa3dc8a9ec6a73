<script lang="ts">
	import Button from '../kit/Button.svelte';
	import { inMark } from '../../reader.svelte';
	import { Doing } from '../base/doing.svelte';
	import type { SavedState } from './state/saved.svelte';

	/** What stands against saving, and what can be done about it; nothing while all is well. */
	let { saved }: { saved: SavedState } = $props();

	/** Why a conflict could not be put an end to just now. */
	const settling = new Doing();
	const settle = (decide: () => Promise<void>) => settling.run(decide);

	const BAR = 'flex shrink-0 items-start gap-6 border-b bg-wash px-4 py-2 text-[13px]';
</script>

{#if saved.saving.state === 'conflict'}
	<div class="{BAR} border-warn" role="alert">
		<div class="min-w-0 flex-1">
			<p class="font-medium">{saved.saving.message} Nothing of either is lost.</p>
			{#if saved.between.length > 0}
				<ul class="mt-0.5 max-h-16 overflow-y-auto" data-between>
					{#each saved.between as words, i (i)}<li>{inMark(words)}</li>{/each}
				</ul>
			{/if}
			{#if settling.refusal}<p class="mt-0.5 text-bad">{settling.refusal}</p>{/if}
		</div>
		<Button look="main" size="xs" class="shrink-0" onclick={() => settle(() => saved.putMineOnTop())}
			>Save mine over theirs</Button
		>
		<Button size="xs" look="other" class="shrink-0" onclick={() => settle(() => saved.takeTheirs())}
			>Use theirs; Undo brings mine back</Button
		>
	</div>
{:else if saved.saving.state === 'waiting' || saved.saving.state === 'refused'}
	<p class="{BAR} border-warn" role="alert">
		{saved.saving.message}
		{#if saved.saving.state === 'waiting'}It is saved in this browser, also when the page is closed.{/if}
	</p>
{:else if saved.tookUp}
	<p class="{BAR} border-rule" role="status">
		These changes could not be saved last time. Undo goes back to what was saved.
	</p>
{/if}
