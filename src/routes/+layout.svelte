<script lang="ts">
	import { takesLetters } from '$lib/ui/base/keys';
	import DemoLine from '$lib/ui/frame/DemoLine.svelte';
	import Proving from '$lib/ui/frame/Proving.svelte';
	import FindItem from '$lib/ui/frame/FindItem.svelte';
	import { FIRST_VISIT } from '$lib/ui/base/first-visit';
	import AccountMenu from '$lib/ui/frame/AccountMenu.svelte';
	import FirstVisit from '$lib/ui/frame/FirstVisit.svelte';
	import Button from '$lib/ui/kit/Button.svelte';
	import Key from '$lib/ui/kit/Key.svelte';
	import '../app.css';
	import { page } from '$app/state';
	import { onMount, type Snippet } from 'svelte';
	import type { LayoutData } from './$types';
	import { reader } from '$lib/reader.svelte';
	import { theme } from '$lib/ui/base/theme.svelte';

	let { data, children }: { data: LayoutData; children: Snippet } = $props();

	let finding: FindItem | undefined = $state();
	let helpShown = $state(false);
	/** Loaded when it is first asked for. */
	let help = $state.raw<typeof import('$lib/ui/frame/Help.svelte') | null>(null);
	async function showHelp() {
		help ??= await import('$lib/ui/frame/Help.svelte');
		helpShown = true;
	}

	const firstSaid = $derived(FIRST_VISIT[page.route.id ?? '']);

	const places = [
		{ name: 'Items', href: '/items' },
		{ name: 'Groups', href: '/groups' },
		{ name: 'Bring in', href: '/bring-in' },
		{ name: 'Sweeps', href: '/sweeps' },
		{ name: 'Hand over', href: '/hand-over' },
	];

	onMount(() => {
		theme.adoptPainted();
		reader.adopt();
		// For whoever drives the page by program: from here on it answers.
		document.documentElement.dataset.ready = 'yes';
	});

	function key(event: KeyboardEvent) {
		if (event.ctrlKey || event.metaKey || event.altKey || takesLetters(event.target)) return;
		if (event.key === '/') finding?.focus();
		else if (event.key === '?') void showHelp();
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
		{#if data.me}<nav class="flex gap-6" aria-label="Main">
				{#each places as { name, href } (href)}
					{@const here = page.url.pathname.startsWith(href)}
					<a
						{href}
						aria-current={here ? 'page' : undefined}
						class={here ? 'font-semibold' : 'text-ink-2 hover:text-ink hover:underline'}>{name}</a
					>
				{/each}
			</nav>{/if}
		<AccountMenu workspace="{data.workspace}{data.hasDemo ? ' (demo)' : ''}" />
		{#if data.me}<FindItem bind:this={finding} />{:else}<span class="ml-auto"></span>{/if}
		<Button title="Terms and keys" onclick={showHelp}>Help <Key>?</Key></Button>
		<Button
			aria-label="Decimal {reader.mark === '.' ? 'point; press for a comma' : 'comma; press for a point'}"
			title="Figures are shown and typed with a decimal {reader.mark === '.'
				? 'point; press for a comma'
				: 'comma; press for a point'}"
			onclick={() => reader.toggle()}>Decimal {reader.mark === '.' ? 'point' : 'comma'}</Button
		>
		<Button onclick={() => theme.toggle()}>
			{theme.name === 'dark' ? 'Light' : 'Dark'} colours
		</Button>
	</header>
	<DemoLine demo={data.demo} hasDemo={data.hasDemo} />
	{#if data.me && firstSaid}{#key page.route.id}<FirstVisit
				place={page.route.id!.slice(1)}
				says={firstSaid}
			/>{/key}{/if}
	<main class="flex min-h-0 flex-1 flex-col">{@render children()}</main>
</div>

<Proving />
{#if help}<help.default bind:open={helpShown} />{/if}
