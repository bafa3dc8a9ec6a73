<script lang="ts">
	import { page } from '$app/state';
	import HandOver from '$lib/ui/items/HandOver.svelte';
	import { wantedIn } from '$lib/ui/items/which';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();
</script>

<HandOver
	list={data.list}
	forecasts={data.forecasts}
	why={page.url.searchParams.get('why')}
	wanted={wantedIn(page.url.searchParams)}
/>
