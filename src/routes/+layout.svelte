<script lang="ts">
	import DemoLine from '$lib/ui/DemoLine.svelte';
	import FindItem from '$lib/ui/FindItem.svelte';
	import Button from '$lib/ui/kit/Button.svelte';
	import '../app.css';
	import { page } from '$app/state';
	import Modal from 'flowbite-svelte/Modal.svelte';
	import { onMount, type Snippet } from 'svelte';
	import type { LayoutData } from './$types';
	import { reader } from '$lib/reader.svelte';
	import { KEYS } from '$lib/ui/keys';
	import { theme } from '$lib/ui/theme.svelte';

	let { data, children }: { data: LayoutData; children: Snippet } = $props();

	let finding: FindItem | undefined = $state();
	let keysShown = $state(false);

	const places = [
		{ name: 'Items', href: '/items' },
		{ name: 'Bring in', href: '/bring-in' },
		{ name: 'Sweeps', href: '/sweeps' },
	];

	onMount(() => {
		theme.adoptPainted();
		reader.adopt();
		// For whoever drives the page by program: from here on it answers.
		document.documentElement.dataset.ready = 'yes';
	});

	function key(event: KeyboardEvent) {
		const target = event.target as HTMLElement;
		if (event.ctrlKey || event.metaKey || event.altKey || target.closest('input, textarea, select')) return;
		if (event.key === '/') finding?.focus();
		else if (event.key === '?') keysShown = true;
		else return;
		event.preventDefault();
	}
</script>

<svelte:window onkeydown={key} />
<svelte:head><title>{page.data.title ? `${page.data.title} · Ventrel` : 'Ventrel'}</title></svelte:head>

<div class="flex min-h-screen flex-col wide:h-screen wide:min-h-[640px]">
	<header
		class="flex min-h-11 shrink-0 flex-wrap items-center gap-x-7 gap-y-1 border-b border-rule px-4 py-1.5"
	>
		<a href="/items" class="flex items-center gap-2 text-[19px] font-bold tracking-tight">
			<svg width="26" height="20" viewBox="0 0 26 20" aria-hidden="true">
				<path
					d="M2 16 L8 8 L13 13 L18 5"
					fill="none"
					stroke="var(--ink)"
					stroke-width="2"
					stroke-linejoin="round"
				/>
				<path d="M18 5 L24 2" fill="none" stroke="var(--accent)" stroke-width="2" stroke-dasharray="3 2" />
			</svg>
			Ventrel
		</a>
		<nav class="flex gap-6" aria-label="Main">
			{#each places as { name, href } (href)}
				{@const here = page.url.pathname.startsWith(href)}
				<a
					{href}
					aria-current={here ? 'page' : undefined}
					class={here ? 'font-semibold' : 'text-ink-2 hover:text-ink hover:underline'}>{name}</a
				>
			{/each}
		</nav>
		<span class="ml-auto truncate text-ink-2">{data.workspace}</span>
		<FindItem bind:this={finding} />
		<Button aria-label="Keys" onclick={() => (keysShown = true)}>
			<span class="keycap">?</span>
		</Button>
		<Button
			aria-label="Decimal mark: {reader.mark === '.' ? 'point' : 'comma'}"
			title="Figures are shown and typed with a decimal {reader.mark === '.'
				? 'point; press for a comma'
				: 'comma; press for a point'}"
			onclick={() => reader.toggle()}>1{reader.mark}5</Button
		>
		<Button onclick={() => theme.toggle()}>
			{theme.name === 'dark' ? 'Light' : 'Dark'}
		</Button>
	</header>
	<DemoLine demo={data.demo} />
	<main class="flex min-h-0 flex-1 flex-col">{@render children()}</main>
</div>

<Modal bind:open={keysShown} size="sm" outsideclose>
	{#snippet header()}<h3 class="text-base font-semibold text-ink">Keys</h3>{/snippet}
	<dl class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1.5 text-ink">
		{#each KEYS as { keys, does } (does)}
			<dt class="flex gap-1">
				{#each keys as name (name)}<kbd class="keycap">{name}</kbd>{/each}
			</dt>
			<dd>{does}</dd>
		{/each}
	</dl>
</Modal>
