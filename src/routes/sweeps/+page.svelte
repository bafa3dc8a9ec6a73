<script lang="ts">
	import Sweeps from '$lib/ui/sweeps/Sweeps.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();
</script>

<Sweeps sweeps={data.sweeps} />
