<script lang="ts">
	import Happened from '$lib/ui/access/Happened.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();
</script>

{#key data}<Happened asked={data.asked} first={data.first} />{/key}
