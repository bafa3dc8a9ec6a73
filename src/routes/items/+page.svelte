<script lang="ts">
	import { invalidate, replaceState } from '$app/navigation';
	import { page } from '$app/state';
	import ItemList from '$lib/ui/items/ItemList.svelte';
	import { askFor, type Wanted, wantedIn, type Which } from '$lib/ui/items/which';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();

	function remember(which: Which, wanted: Wanted) {
		const address = new URL(location.href);
		askFor(address.searchParams, which, wanted);
		if (address.href !== location.href) replaceState(address, {});
	}
</script>

<ItemList
	list={data.list}
	sought={page.url.searchParams.get('find') ?? ''}
	why={page.url.searchParams.get('why')}
	wanted={wantedIn(page.url.searchParams)}
	{remember}
	again={() => invalidate('items')}
/>
