<script lang="ts">
	import Spinner from 'flowbite-svelte/Spinner.svelte';

	/** What is going on, beside a sign that it goes on. */
	let { words }: { words: string } = $props();
</script>

<span class="inline-flex items-center gap-2 text-ink-2" role="status">
	<Spinner
		size="4"
		role="presentation"
		aria-hidden="true"
		class="text-rule"
		currentFill="var(--accent)"
	/>{words}
</span>
