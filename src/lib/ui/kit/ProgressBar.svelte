<script lang="ts">
	/** How much of something long is done. */
	let { done, of, label = 'Done' }: { done: number; of: number; label?: string } = $props();

	const share = $derived(of > 0 ? done / of : 0);
</script>

<span
	class="inline-block h-1.5 w-40 self-center overflow-hidden rounded-full bg-rule"
	role="progressbar"
	aria-label={label}
	aria-valuemin="0"
	aria-valuemax={of}
	aria-valuenow={done}
>
	<span class="block h-full bg-accent" style:width="{100 * share}%"></span>
</span>
