<script lang="ts">
	import { paramsOf } from '$lib/wire/asked';
	import { asking } from '$lib/ui/base/asking';
	import HandOver from '$lib/ui/items/HandOver.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();

	const ask = asking(
		() => data.asked,
		(asked) => `/hand-over?${paramsOf(asked)}`,
	);
</script>

<HandOver asked={data.asked} first={data.forecasts} counts={data.counts} {ask} />
