<script lang="ts">
	import { paramsOf } from '$lib/wire/asked';
	import { asking } from '$lib/ui/base/asking';
	import Groups from '$lib/ui/items/Groups.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();

	const ask = asking(
		() => ({ ...data.asked, by: data.by as readonly string[] }),
		({ by, ...asked }) => {
			const params = paramsOf(asked);
			for (const of of by) params.append('by', of);
			return `/groups?${params}`;
		},
	);
</script>

<Groups asked={data.asked} kinds={data.kinds} by={data.by} groups={data.groups} {ask} />
