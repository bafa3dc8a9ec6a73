<script lang="ts">
	import { paramsOf } from '$lib/wire/asked';
	import { asking } from '$lib/ui/base/asking';
	import ItemList from '$lib/ui/items/ItemList.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();

	const ask = asking(
		() => data.asked,
		(asked) => `/items?${paramsOf(asked)}`,
	);
</script>

<ItemList asked={data.asked} first={data.first} {ask} />
