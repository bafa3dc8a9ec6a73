<script lang="ts">
	import { page } from '$app/state';
	import ItemList from '$lib/ui/items/ItemList.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();
</script>

<ItemList items={data.items} sought={page.url.searchParams.get('find') ?? ''} />
