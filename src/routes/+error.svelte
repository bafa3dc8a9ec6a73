<script lang="ts">
	import Button from '$lib/ui/kit/Button.svelte';
	import { page } from '$app/state';
</script>

<div class="mx-auto mt-24 max-w-xl px-6">
	<p class="figures text-left text-ink-2">{page.status}</p>
	<h1 class="mt-1 text-xl font-semibold">{page.error?.message}</h1>
	<p class="mt-4 flex gap-5">
		<a class="text-accent underline" href="/items">To the items</a>
		<Button onclick={() => location.reload()}>Try again</Button>
	</p>
</div>
