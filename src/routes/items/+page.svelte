<script lang="ts">
	import { goto } from '$app/navigation';
	import { type Asked, paramsOf } from '$lib/asked';
	import ItemList from '$lib/ui/items/ItemList.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();

	/** What is asked for stands in the address, so that it can be kept, sent and gone back to. */
	const ask = (asked: Asked) =>
		void goto(`/items?${paramsOf(asked)}`, { replaceState: true, keepFocus: true, noScroll: true });
</script>

<ItemList asked={data.asked} first={data.first} {ask} />
