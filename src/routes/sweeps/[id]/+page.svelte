<script lang="ts">
	import { goto } from '$app/navigation';
	import type { SweepAsked } from '$lib/shapes';
	import { sweepParams } from '$lib/sweep-asked';
	import SweepPage from '$lib/ui/sweeps/SweepPage.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();

	const ask = (asked: SweepAsked) =>
		void goto(`/sweeps/${data.sweep.id}?${sweepParams(asked)}`, {
			replaceState: true,
			keepFocus: true,
			noScroll: true,
		});
</script>

{#key data.sweep.id}
	<SweepPage sweep={data.sweep} sums={data.sums} asked={data.asked} first={data.first} {ask} />
{/key}
