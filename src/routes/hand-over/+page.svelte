<script lang="ts">
	import { goto } from '$app/navigation';
	import { type Asked, paramsOf } from '$lib/asked';
	import HandOver from '$lib/ui/items/HandOver.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();

	const ask = (asked: Asked) =>
		void goto(`/hand-over?${paramsOf(asked)}`, { replaceState: true, keepFocus: true, noScroll: true });
</script>

<HandOver asked={data.asked} first={data.forecasts} counts={data.counts} {ask} />
