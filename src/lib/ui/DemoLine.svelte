<script lang="ts">
	import { invalidate } from '$app/navigation';
	import type { DemoProgress } from '../shapes';
	import { figure } from './format';
	import ProgressBar from './kit/ProgressBar.svelte';

	/** How far the large demo is, until it is there. */
	let { demo }: { demo: DemoProgress | null } = $props();

	const LOOK = 1000;
	const share = $derived(demo && demo.of > 0 ? demo.done / demo.of : 0);
	const making = $derived(demo !== null && demo.failed === null);
	let waited = false;

	$effect(() => {
		if (making) {
			waited = true;
			const again = setInterval(() => void invalidate('demo:progress').catch(() => undefined), LOOK);
			return () => clearInterval(again);
		}
		// Lists that were opened before it was there show nothing of it; what is typed elsewhere stays.
		if (waited && demo === null && /^\/(items|groups|hand-over)$/.test(location.pathname)) location.reload();
	});
</script>

{#if demo}
	<div
		class="flex shrink-0 items-center gap-3 border-b border-rule px-4 py-1.5"
		role="status"
		data-demo-progress
	>
		{#if making}
			<span
				>The large demo, {figure(20_000, 0)} items, is being made. Its items are there once it is whole.</span
			>
			<ProgressBar done={demo.done} of={demo.of} />
			<span class="text-ink-2">{Math.floor(100 * share)} %</span>
		{:else}
			<span class="text-bad" role="alert"
				>The large demo could not be made: {demo.failed}. Stop Ventrel and start it again to try once more.</span
			>
		{/if}
	</div>
{/if}
