<script lang="ts">
	import Settings from '$lib/ui/access/Settings.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();
</script>

<Settings known={data.kept} />
