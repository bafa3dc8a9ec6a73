<script lang="ts">
	import People from '$lib/ui/access/People.svelte';
	import Tokens from '$lib/ui/access/Tokens.svelte';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();
</script>

<div class="w-full max-w-5xl px-4 py-3">
	<People known={data.people} />
	<Tokens known={data.tokens} />
</div>
