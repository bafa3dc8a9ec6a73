<script lang="ts">
	import Kbd from 'flowbite-svelte/Kbd.svelte';
	import type { Snippet } from 'svelte';

	/** A key that does what stands beside it. */
	let { children }: { children: Snippet } = $props();
</script>

<Kbd
	class="self-start rounded-md border-rule bg-transparent px-1 py-0 font-sans text-[11px] font-normal text-ink-2 dark:border-rule dark:bg-transparent dark:text-ink-2"
	>{@render children()}</Kbd
>
