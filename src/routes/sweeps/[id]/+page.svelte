<script lang="ts">
	import { sweepParams } from '$lib/wire/sweep-asked';
	import { asking } from '$lib/ui/base/asking';
	import SweepPage from '$lib/ui/sweeps/SweepPage.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();

	const ask = asking(
		() => data.asked,
		(asked) => `/sweeps/${data.sweep.id}?${sweepParams(asked)}`,
	);
</script>

{#key data.sweep.id}
	<SweepPage sweep={data.sweep} sums={data.sums} asked={data.asked} first={data.first} {ask} />
{/key}
