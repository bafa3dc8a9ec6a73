<script lang="ts">
	import Progressbar from 'flowbite-svelte/Progressbar.svelte';

	/** How much of something long is done. */
	let {
		done,
		of,
		label = 'Done',
		class: more = 'w-40',
	}: { done: number; of: number; label?: string; class?: string } = $props();
</script>

<Progressbar
	progress={of > 0 ? (100 * done) / of : 0}
	size="h-1.5"
	class="inline-block self-center overflow-hidden bg-rule dark:bg-rule {more}"
	role="progressbar"
	aria-label={label}
	aria-valuemin={0}
	aria-valuemax={of}
	aria-valuenow={done}
/>
