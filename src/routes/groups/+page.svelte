<script lang="ts">
	import { goto } from '$app/navigation';
	import { type Asked, paramsOf } from '$lib/asked';
	import Groups from '$lib/ui/items/Groups.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();

	function ask(asked: Asked, by: readonly string[]) {
		const params = paramsOf(asked);
		for (const of of by) params.append('by', of);
		void goto(`/groups?${params}`, { replaceState: true, keepFocus: true, noScroll: true });
	}
</script>

<Groups asked={data.asked} kinds={data.kinds} by={data.by} groups={data.groups} {ask} />
