<script lang="ts">
	import Account from '$lib/ui/access/Account.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();
</script>

<Account sessions={data.sessions} />
