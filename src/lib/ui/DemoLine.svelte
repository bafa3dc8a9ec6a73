<script lang="ts">
	import { invalidate, invalidateAll } from '$app/navigation';
	import type { DemoProgress } from '../shapes';
	import { figure } from './format';

	/** How far the large demo is, until it is there. */
	let { demo }: { demo: DemoProgress | null } = $props();

	const LOOK = 1000;
	const share = $derived(demo && demo.of > 0 ? demo.done / demo.of : 0);
	let waiting = false;

	$effect(() => {
		if (demo?.failed === null) {
			waiting = true;
			const again = setTimeout(() => void invalidate('demo:progress'), LOOK);
			return () => clearTimeout(again);
		}
		// Pages that were opened before it was there.
		if (waiting && demo === null) void invalidateAll();
		waiting = false;
	});
</script>

{#if demo}
	<div
		class="flex shrink-0 items-center gap-3 border-b border-rule px-4 py-1.5"
		role="status"
		data-demo-progress
	>
		{#if demo.failed === null}
			<span>The large demo, {figure(20_000, 0)} items, is being made. Pages show what is there so far.</span>
			<progress class="h-1.5 w-40" max="1" value={share} aria-label="Done"></progress>
			<span class="text-ink-2">{Math.floor(100 * share)} %</span>
		{:else}
			<span class="text-bad" role="alert"
				>The large demo could not be made: {demo.failed}. Stop Ventrel and start it again to try once more.</span
			>
		{/if}
	</div>
{/if}
