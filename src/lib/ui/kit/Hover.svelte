<script lang="ts">
	import Tooltip from 'flowbite-svelte/Tooltip.svelte';
	import type { Snippet } from 'svelte';

	interface Props {
		/** What is said where the pointer or the keyboard stands, and to who does not see it. */
		words: string | undefined;
		/** What is pointed at; it takes this id as its `aria-describedby`. */
		children: Snippet<[described: string | undefined]>;
	}
	let { words, children }: Props = $props();
	const id = $props.id();
</script>

{@render children(words ? id : undefined)}
{#if words}
	<span hidden {id}>{words}</span>
	<Tooltip
		type="custom"
		placement="bottom"
		arrow={false}
		offset={4}
		triggeredBy={`[aria-describedby="${id}"]`}
		class="w-max max-w-72 border border-edge bg-panel px-2 py-1 text-left text-[12px] leading-[1.35] font-normal whitespace-normal text-ink"
		>{words}</Tooltip
	>
{/if}
