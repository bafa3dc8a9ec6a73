<script lang="ts">
	import { onMount } from 'svelte';
	import Button from '../kit/Button.svelte';

	/** One line of what can be done here, until somebody closes it for good. */
	let { place, says }: { place: string; says: string } = $props();

	const key = $derived(`ventrel-seen-${place}`);
	let shown = $state(false);
	onMount(() => (shown = localStorage.getItem(key) === null));

	function close() {
		localStorage.setItem(key, 'yes');
		shown = false;
	}
</script>

{#if shown}
	<p
		class="flex shrink-0 items-baseline gap-4 border-b border-rule bg-panel px-4 py-1 text-[13px] text-ink-2"
		data-first-visit={place}
	>
		<span class="min-w-0 flex-1">{says}</span>
		<Button aria-label="Close this line for good" title="Close it for good" onclick={close}>✕</Button>
	</p>
{/if}
