<script lang="ts">
	import Modal from 'flowbite-svelte/Modal.svelte';
	import { methodOf } from '$core/methods/registry';
	import { periodsInWords } from '$core/series/frequency';
	import Button from '../kit/Button.svelte';
	import type { ItemState } from './state/item-state.svelte';

	/** What adopting does, before it is done for the first time in a visit. */
	let { itemState }: { itemState: ItemState } = $props();

	let open = $state(true);
	const answer = (sure: boolean) => itemState.record.asksToAdopt?.go(sure);
	// Whoever closes it does not adopt.
	$effect(() => {
		if (!open) answer(false);
	});
	const name = $derived(
		itemState.lineUp.chosen &&
			(itemState.answers.names.get(itemState.lineUp.chosen.id) ??
				methodOf(itemState.lineUp.chosen.method).label(itemState.lineUp.chosen)),
	);
</script>

<Modal bind:open size="sm">
	{#snippet header()}<h3 class="text-base font-semibold text-ink">Adopt this forecast?</h3>{/snippet}
	<div class="text-ink">
		<p>
			“{name}” becomes the forecast of {itemState.item.code} for {periodsInWords(
				itemState.series.frequency,
				itemState.answers.horizon,
			)}.
		</p>
		<p class="mt-2">
			It stays on record for good. Adopting again replaces it for the future. You are asked once in this
			visit.
		</p>
		<p class="mt-4 flex gap-4">
			<Button look="main" onclick={() => answer(true)}>Adopt</Button>
			<Button look="other" onclick={() => (open = false)}>Cancel</Button>
		</p>
	</div>
</Modal>
