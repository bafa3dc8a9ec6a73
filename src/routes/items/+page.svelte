<script lang="ts">
	import { invalidate, replaceState } from '$app/navigation';
	import { page } from '$app/state';
	import ItemList from '$lib/ui/items/ItemList.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();

	function remember(why: string | null) {
		const address = new URL(location.href);
		if (why === null) address.searchParams.delete('why');
		else address.searchParams.set('why', why);
		if (address.href !== location.href) replaceState(address, {});
	}
</script>

<ItemList
	list={data.list}
	sought={page.url.searchParams.get('find') ?? ''}
	why={page.url.searchParams.get('why')}
	{remember}
	again={() => invalidate('items')}
/>
