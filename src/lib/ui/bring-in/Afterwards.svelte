<script lang="ts">
	import { onMount } from 'svelte';
	import type { Overview } from '../../wire/list';
	import { figure } from '../base/format';
	import NewestLines from '../kit/NewestLines.svelte';
	import { watchOverview } from '../base/overview';

	/** How the newest periods stand after a table came in, with the way to the items that are to be looked at. */
	let overview = $state.raw<Overview | null>(null);
	let failed = $state(false);
	onMount(() =>
		watchOverview(
			(said) => (overview = said),
			() => (failed = true),
		),
	);
</script>

{#if overview}
	<p class="mt-1 flex flex-col gap-1"><NewestLines newest={overview.newest} /></p>
	{#if overview.working > 0}
		<p class="mt-1 text-ink-2" role="status">
			Checking {figure(overview.working, 0)}
			{overview.working === 1 ? 'item' : 'items'}…
		</p>
	{/if}
	<p class="mt-2">
		<a class="font-semibold text-accent underline" href="/items?why=look">See the items to check</a>
		<a class="quiet ml-4" href="/items">See all items</a>
	</p>
{:else if failed}
	<p class="mt-1"><a class="quiet" href="/items">See the items</a></p>
{/if}
