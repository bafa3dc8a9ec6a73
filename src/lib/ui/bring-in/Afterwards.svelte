<script lang="ts">
	import { call } from '../call';
	import NewestLines from '../kit/NewestLines.svelte';

	/** How the newest periods stand after a table came in, with the way to the items that are to be looked at. */
	const newest = call('GET /newest', {});
</script>

{#await newest then lines}
	<p class="mt-1 flex flex-col gap-1"><NewestLines newest={lines} /></p>
	<p class="mt-2">
		<a class="font-semibold text-accent underline" href="/items?why=look">See the items to look at</a>
		<a class="quiet ml-4" href="/items">See all items</a>
	</p>
{:catch}
	<p class="mt-1"><a class="quiet" href="/items">See the items</a></p>
{/await}
