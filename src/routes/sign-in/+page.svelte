<script lang="ts">
	import SignIn from '$lib/ui/access/SignIn.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();
</script>

<SignIn to={data.to} anybody={data.anybody} />
