<script lang="ts">
	import LongList from '../kit/LongList.svelte';
	import TextInput from '../kit/TextInput.svelte';
	import { goto } from '$app/navigation';
	import { describePeriod } from '$core/series/period';
	import { periodsInWords } from '$core/series/frequency';
	import { finerScale, percentScale, type Scale, scaleOf, usualScale } from '$core/numbers/figure';
	import Button from '../kit/Button.svelte';
	import type { ItemRow } from '../../shapes';
	import { inWordsOn, scaled } from '../format';
	import type { Rows } from '../export/cells';
	import Needle from '../kit/Needle.svelte';
	import Sparkline from '../kit/Sparkline.svelte';

	let { items, sought }: { items: readonly ItemRow[]; sought: string } = $props();

	const ROW = 44;
	type Column = 'attention' | 'name' | 'next' | 'mad' | 'mape' | 'bias' | 'signal';
	const HEADS: { key: Column; name: string; right: boolean }[] = [
		{ key: 'name', name: 'item', right: false },
		{ key: 'attention', name: 'adopted, and why to look', right: false },
		{ key: 'next', name: 'next period', right: true },
		{ key: 'mad', name: 'MAD', right: true },
		{ key: 'mape', name: 'MAPE', right: true },
		{ key: 'bias', name: 'bias', right: true },
		{ key: 'signal', name: 'tracking signal', right: true },
	];

	// Begins with what the address asks for, and is typed over.
	let filter = $derived(sought);
	let only = $state<'all' | 'attention' | 'retired'>('all');
	let sorted = $state<{ key: Column; down: boolean }>({ key: 'attention', down: false });
	let height = $state(600);
	let active = $state(0);
	let list: LongList | undefined = $state();

	const worth: Record<Exclude<Column, 'name' | 'attention'>, (row: ItemRow) => number | null> = {
		next: (row) => row.adopted?.means[0] ?? null,
		mad: (row) => row.adopted?.mad ?? null,
		mape: (row) => row.adopted?.mape ?? null,
		bias: (row) => row.adopted?.bias ?? null,
		signal: (row) => (row.adopted?.trackingSignal == null ? null : Math.abs(row.adopted.trackingSignal)),
	};

	const shown = $derived.by(() => {
		const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
		const found = items.filter((row) => {
			const text = `${row.code} ${row.name} ${row.adopted?.label ?? ''}`.toLowerCase();
			if (row.retired !== (only === 'retired') || (only === 'attention' && !row.attention)) return false;
			return words.every((word) => text.includes(word));
		});
		const { key, down } = sorted;
		// As they come: those that need attention first, then by code.
		if (key === 'attention') return down ? found.toReversed() : found;
		const direction = down ? -1 : 1;
		if (key === 'name') return found.toSorted((a, b) => direction * a.code.localeCompare(b.code));
		// What has no figure stays at the end, whichever way the others run.
		return found.toSorted((a, b) => {
			const [x, y] = [worth[key](a), worth[key](b)];
			return x === null || y === null ? Number(x === null) - Number(y === null) : direction * (x - y);
		});
	});
	const needing = $derived(items.filter((row) => row.attention).length);
	const retired = $derived(items.filter((row) => row.retired).length);

	/** A figure of an item by itself, on the scale that its demand has or, where it is much smaller, on its own. */
	function figureOf(usual: Scale, value: number | null | undefined): string {
		if (value == null) return '–';
		const own = usual.power === 0 ? finerScale(usual, value) : scaleOf([value]);
		return inWordsOn(value, own);
	}

	const rows = (): Rows => [
		[
			'code',
			'name',
			'unit',
			'adopted',
			'why to look',
			'next period',
			'forecast',
			'MAD',
			'MAPE',
			'bias',
			'tracking signal',
		],
		...shown.map(({ code, name, unit, adopted, attention, frequency }) => [
			code,
			name,
			unit,
			adopted?.label ?? '',
			attention?.text ?? '',
			adopted ? describePeriod(frequency, adopted.nextPeriod) : '',
			adopted?.means[0] ?? null,
			adopted?.mad ?? null,
			adopted?.mape ?? null,
			adopted?.bias ?? null,
			adopted?.trackingSignal ?? null,
		]),
	];

	const address = (row: ItemRow) => `/items/${encodeURIComponent(row.code)}`;

	function sortBy(key: Column) {
		sorted =
			sorted.key === key ? { key, down: !sorted.down } : { key, down: key !== 'name' && key !== 'attention' };
	}

	function walk(event: KeyboardEvent) {
		const page = Math.floor(height / ROW) - 1;
		const moves: Record<string, number> = {
			ArrowDown: 1,
			ArrowUp: -1,
			PageDown: page,
			PageUp: -page,
			Home: -Infinity,
			End: Infinity,
		};
		const move = moves[event.key];
		if (move !== undefined) {
			active = Math.max(0, Math.min(shown.length - 1, active + move));
			list?.show(active);
		} else if (event.key === 'Enter' && shown[active]) {
			void goto(address(shown[active]!));
		} else return;
		event.preventDefault();
	}
</script>

<div class="flex min-h-0 flex-1 flex-col overflow-x-auto">
	<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1 px-4 pt-4 pb-2">
		<h1 class="text-lg font-semibold">Items</h1>
		<span class="text-ink-2">{items.length - retired} in all, {needing} to look at</span>
		<div class="ml-auto flex flex-wrap items-center gap-4">
			<!-- The list is there before what takes it along. -->
			{#if items.length > 0}
				{#await import('../export/Export.svelte') then { default: Export }}
					<Export name="items" of="Items" {rows} sheet="Items" />
				{/await}
			{/if}
			<Button aria-pressed={only === 'all'} onclick={() => (only = 'all')}>all</Button>
			<Button aria-pressed={only === 'attention'} onclick={() => (only = 'attention')}>to look at</Button>
			{#if retired > 0}
				<Button aria-pressed={only === 'retired'} onclick={() => ((only = 'retired'), (active = 0))}>
					retired ({retired})
				</Button>
			{/if}
			<TextInput
				bind:value={filter}
				type="search"
				label="Filter the items"
				placeholder="Filter by code, name, method"
				class="h-7 w-60"
				oninput={() => (active = 0)}
			/>
		</div>
	</div>

	{#if items.length === 0}
		<div class="mx-auto mt-20 max-w-md text-center">
			<p class="text-lg">No items yet.</p>
			<p class="mt-1 text-ink-2">Bring in a column of demand to see it plotted and forecast.</p>
			<Button look="main" href="/bring-in" class="mt-4">Bring in a table</Button>
		</div>
	{:else}
		<div class="grid-row min-w-[1060px] border-b border-rule px-4 text-[13px] text-ink-2" role="presentation">
			{#each HEADS as { key, name, right } (key)}
				<Button
					class="{key === 'name' ? 'col-span-2' : ''} {right ? 'text-right' : 'text-left'}"
					aria-pressed={sorted.key === key}
					onclick={() => sortBy(key)}>{name}{sorted.key === key ? (sorted.down ? ' ↓' : ' ↑') : ''}</Button
				>
			{/each}
		</div>
		<LongList
			bind:this={list}
			bind:height
			count={shown.length}
			row={ROW}
			key={(index) => shown[index]!.code}
			class="h-[calc(100vh-9rem)] min-h-72 min-w-[1060px] wide:h-auto wide:min-h-0 wide:flex-1"
			role="listbox"
			aria-label="Items"
			aria-activedescendant={shown[active] ? `row-${shown[active]!.code}` : undefined}
			onkeydown={walk}
		>
			{#snippet before()}{#if shown.length === 0}
					<p class="px-4 py-8 text-ink-2">
						No item fits.
						<Button look="link" onclick={() => ((filter = ''), (only = 'all'))}>
							Show all {items.length - retired}
						</Button>
					</p>
				{/if}{/snippet}
			{#snippet children(index, where)}
				{@const row = shown[index]!}
				{@const usual = usualScale(row.recent)}
				<!-- svelte-ignore a11y_click_events_have_key_events (the list itself takes the keys) -->
				<div
					id="row-{row.code}"
					role="option"
					tabindex="-1"
					aria-selected={index === active}
					class="grid-row absolute right-0 left-0 cursor-pointer items-center border-b border-rule px-4 hover:bg-wash"
					class:active={index === active}
					style={where}
					onclick={() => goto(address(row))}
				>
					<span
						class="min-w-0"
						title="{row.code} {row.name}, {periodsInWords(row.frequency, row.periods)}{row.unit
							? `, ${row.unit}`
							: ''}"
					>
						<span class="block truncate font-medium">
							<span class="figures mr-1.5 font-normal text-ink-2">{row.code}</span>{row.name}
						</span>
						<span class="block truncate text-[12px] text-ink-2">
							{periodsInWords(row.frequency, row.periods)} to {describePeriod(
								row.frequency,
								row.last,
							)}{row.unit ? `, ${row.unit}` : ''}
						</span>
					</span>
					<Sparkline values={row.recent} ahead={row.adopted?.means ?? []} />
					<span class="min-w-0" title={[row.adopted?.label, row.attention?.text].filter(Boolean).join(': ')}>
						<span class="block truncate">{row.adopted?.label ?? '–'}</span>
						{#if row.retired}
							<span class="block truncate text-[12px] text-ink-2">– retired</span>
						{:else if row.attention}
							<span
								class="block truncate text-[12px] {row.attention.code === 'drifting'
									? 'text-bad'
									: 'text-ink-2'}">{row.attention.code === 'drifting' ? '◆' : '○'} {row.attention.text}</span
							>
						{/if}
					</span>
					<span class="min-w-0 text-right">
						<span class="figures block truncate font-semibold">{figureOf(usual, row.adopted?.means[0])}</span>
						{#if row.adopted}
							<span class="block truncate text-[12px] text-ink-2">
								{describePeriod(row.frequency, row.adopted.nextPeriod)}
							</span>
						{/if}
					</span>
					<span class="figures truncate">{figureOf(usual, row.adopted?.mad)}</span>
					<span class="figures truncate"
						>{row.adopted?.mape == null
							? '–'
							: `${scaled(row.adopted.mape, percentScale([row.adopted.mape]))} %`}</span
					>
					<span class="figures truncate"
						>{(row.adopted?.bias ?? 0) > 0 ? '+' : ''}{figureOf(usual, row.adopted?.bias)}</span
					>
					<span class="text-right">
						{#if row.adopted}<Needle
								signal={row.adopted.trackingSignal}
								accused={row.adopted.runs !== null}
							/>{:else}–{/if}
					</span>
				</div>
			{/snippet}
		</LongList>
	{/if}
</div>

<style>
	.grid-row {
		display: grid;
		grid-template-columns: minmax(230px, 1.6fr) 176px minmax(170px, 1.2fr) 118px 74px 74px 80px 124px;
		column-gap: 14px;
	}
	.active {
		background: var(--wash);
		box-shadow: inset 3px 0 0 var(--accent);
	}
</style>
