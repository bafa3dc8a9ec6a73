<script lang="ts">
	import Modal from 'flowbite-svelte/Modal.svelte';
	import { findTerms } from '$core/words/terms';
	import { KEYS } from '../base/keys';
	import Tabs from '../kit/Tabs.svelte';
	import TextInput from '../kit/TextInput.svelte';
	import Key from '../kit/Key.svelte';

	/** Terms, found by typing, and what the keys do. */
	let { open = $bindable(false) }: { open?: boolean } = $props();

	const PARTS = [
		{ id: 'terms', name: 'Terms' },
		{ id: 'keys', name: 'Keys' },
	] as const;
	let at = $state<(typeof PARTS)[number]['id']>('terms');
	let words = $state('');
	const terms = $derived(findTerms(words));
</script>

<Modal bind:open size="md" outsideclose>
	{#snippet header()}<h3 class="text-base font-semibold text-ink">Help</h3>{/snippet}
	<Tabs label="Parts of the help" tabs={PARTS} bind:at panel="help-part" />
	<div
		id="help-part"
		role="tabpanel"
		tabindex="0"
		aria-label={at}
		class="h-[26rem] overflow-y-auto px-4 pt-3"
		data-help={at}
	>
		{#if at === 'terms'}
			<TextInput
				bind:value={words}
				type="search"
				label="Find a term"
				placeholder="Type to find a term"
				class="h-8 w-full"
				autofocus
			/>
			<dl class="mt-2 grid grid-cols-[10rem_1fr] gap-x-4 gap-y-1.5 text-ink" aria-live="polite">
				{#each terms as { term, is } (term)}
					<dt class="font-semibold">{term}</dt>
					<dd>{is}</dd>
				{/each}
			</dl>
			{#if terms.length === 0}<p class="text-ink-2">No term has these letters.</p>{/if}
		{:else}
			<dl class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1.5 text-ink">
				{#each KEYS as { keys, does } (does)}
					<dt class="flex gap-1">
						{#each keys as name (name)}<Key>{name}</Key>{/each}
					</dt>
					<dd>{does}</dd>
				{/each}
			</dl>
		{/if}
	</div>
</Modal>
