<script lang="ts">
	import { invalidate } from '$app/navigation';
	import { page } from '$app/state';
	import Modal from 'flowbite-svelte/Modal.svelte';
	import type { DemoProgress } from '../../wire/service';
	import { call } from '../base/call';
	import { Doing, leaveFor } from '../base/doing.svelte';
	import { figure } from '../base/format';
	import { may } from '../base/access';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';
	import ProgressBar from '../kit/ProgressBar.svelte';

	/** How far the large demo is, until it is there; and whether items of a demo are on the list. */
	let { demo, hasDemo }: { demo: DemoProgress | null; hasDemo: boolean } = $props();

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

	let asking = $state(false);
	const clearing = new Doing();
	const clear = () =>
		clearing.run(async () => {
			await call('POST /demo/cleared', {});
			// Everything that is shown may be of the demo.
			await leaveFor('/items');
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
{#if !demo && hasDemo && page.url.pathname === '/items'}
	<p class="flex shrink-0 items-baseline gap-x-2 border-b border-rule px-4 py-1 text-[13px]" data-demo-line>
		<span>Demo data.</span>
		{#if may('work')}<a href="/bring-in" class="text-accent underline">Bring in your own table</a>{/if}
		{#if may('manage')}<span>or</span>
			<Button look="link" onclick={() => (asking = true)}>clear the demo</Button>{/if}
	</p>
	<Modal bind:open={asking} size="sm" outsideclose>
		{#snippet header()}<h3 class="text-base font-semibold text-ink">Clear the demo?</h3>{/snippet}
		<div class="text-ink">
			<p>
				All items that came with the demo leave the list. They are retired, with everything on record: each
				can be brought back from the retired ones. Your own items stay.
			</p>
			{#if clearing.refusal}<Notice class="mt-2">{clearing.refusal}</Notice>{/if}
			<p class="mt-4 flex gap-4">
				<Button look="main" disabled={clearing.busy} onclick={clear}>Clear the demo</Button>
				<Button look="other" onclick={() => (asking = false)}>Cancel</Button>
			</p>
		</div>
	</Modal>
{/if}
