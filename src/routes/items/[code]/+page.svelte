<script lang="ts">
	import { replaceState } from '$app/navigation';
	import { page } from '$app/state';
	import { VIEWS, type ViewName } from '$lib/ui/base/view-names';
	import ItemPage from '$lib/ui/item/ItemPage.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();

	const asked = page.url.searchParams.get('view');
	const view: ViewName = VIEWS.find(({ id }) => id === asked)?.id ?? 'working';
	const candidate = page.url.searchParams.get('candidate');

	function remember(chosenView: string, chosenCandidate: string) {
		const address = new URL(location.href);
		if (
			address.searchParams.get('view') === chosenView &&
			address.searchParams.get('candidate') === chosenCandidate
		)
			return;
		address.searchParams.set('view', chosenView);
		address.searchParams.set('candidate', chosenCandidate);
		replaceState(address, {});
	}
</script>

{#key data.item.code}
	<ItemPage item={data.item} {view} {candidate} workspace={data.workspace} {remember} />
{/key}
