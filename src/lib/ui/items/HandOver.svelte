<script lang="ts">
	import { onMount } from 'svelte';
	import { BOUNDS } from '$core/bounds';
	import { usualScale } from '$core/numbers/figure';
	import { percent } from '$core/words/chance';
	import type { Frequency } from '$core/series/frequency';
	import { periodWord } from '$core/series/frequency';
	import { type Asked, paramsOf } from '../../wire/asked';
	import type { Forecast } from '../../wire/records';
	import type { Overview } from '../../wire/list';
	import { call, messageOf } from '../base/call';
	import { watchOverview } from '../base/overview';
	import Export from '../export/Export.svelte';
	import { saveFile } from '../export/download';
	import { figure } from '../base/format';
	import Button from '../kit/Button.svelte';
	import type { TermKey } from '$core/words/terms';
	import Head from '../kit/Head.svelte';
	import Notice from '../kit/Notice.svelte';
	import Choice from '../kit/Choice.svelte';
	import LongList from '../kit/LongList.svelte';
	import Tick from '../kit/Tick.svelte';
	import { acrossRows, longRows } from './hand-over-rows';
	import ListFilters from './ListFilters.svelte';

	interface Props {
		asked: Asked;
		/** The first of the items that are asked for. */
		first: readonly Forecast[];
		/** Of how many items something is handed over, and of how many nothing. */
		counts: { items: number; without: number };
		ask: (change: Partial<Asked>) => void;
	}
	let { asked, first, counts, ask }: Props = $props();

	const ROW = 26;
	/** Rows before the end of those that are there at which more are asked for. */
	const SOON = 60;
	let layout = $state<'long' | 'across'>('long');
	let computed = $state(true);
	let ranged = $state(true);
	let overview = $state.raw<Overview | null>(null);
	let refusal = $state<string | null>(null);
	const fail = (error: unknown) => (refusal = messageOf(error));
	onMount(() => watchOverview((said) => (overview = said), fail));

	// As far as they were asked for; another question begins anew.
	let chosen = $derived<readonly Forecast[]>(first);
	let more = $derived(first.length >= BOUNDS.forecasts);
	let asking = false;

	async function askOn(): Promise<void> {
		if (!more || asking) return;
		asking = true;
		const before = chosen;
		try {
			const query = paramsOf(asked);
			query.set('after', before.at(-1)!.code);
			const next = await call('GET /forecasts', {}, undefined, { query });
			if (chosen === before) {
				chosen = [...before, ...next];
				more = next.length >= BOUNDS.forecasts;
			}
		} catch (error) {
			more = false;
			fail(error);
		} finally {
			asking = false;
		}
	}

	/** All that are asked for, for what leaves. */
	async function all(): Promise<readonly Forecast[]> {
		while (more) await askOn();
		return chosen;
	}
	const rowsOf = (forecasts: readonly Forecast[]) =>
		layout === 'long'
			? longRows(forecasts, { computed, level })
			: acrossRows(forecasts, frequency, { computed, level });

	const levels = $derived(
		[...new Set(chosen.flatMap(({ steps }) => Object.keys(steps[0]?.ranges ?? {})))].sort(
			(a, b) => Number(b) - Number(a),
		),
	);
	let picked = $state<string | null>(null);
	const level = $derived(ranged ? (levels.find((each) => each === picked) ?? levels[0] ?? null) : null);
	/** The frequency that is laid across: the one of most items, unless another was chosen. */
	const countOf = (frequency: Frequency) => chosen.filter((each) => each.frequency === frequency).length;
	const frequencies = $derived(
		[...new Set(chosen.map(({ frequency }) => frequency))].sort((a, b) => countOf(b) - countOf(a)),
	);
	let across = $state<Frequency | null>(null);
	const frequency = $derived(frequencies.find((each) => each === across) ?? frequencies[0] ?? 'month');
	const rows = $derived(rowsOf(chosen));
	const head = $derived(rows[0] ?? []);
	const isFigure = $derived(
		head.map((_, column) => rows.slice(1).some((row) => typeof row[column] === 'number')),
	);
	/** Decimals of an item's figures, as its page shows them. */
	const decimals = $derived(
		new Map(
			chosen.map(({ code, steps }) => {
				const scale = usualScale(steps.map(({ computed: mean }) => mean));
				return [code, Math.max(0, scale.decimals - scale.power)];
			}),
		),
	);
	const widths = $derived(
		head
			.map((name, column) =>
				column === 1
					? 'minmax(150px, 1.4fr)'
					: isFigure[column]
						? '92px'
						: name === 'code' || name === 'unit'
							? '76px'
							: 'minmax(96px, 1fr)',
			)
			.join(' '),
	);
	const least = $derived(
		head.reduce<number>((sum, _, column) => sum + (column === 1 ? 162 : isFigure[column] ? 104 : 108), 32),
	);

	/** What heads that begin so are terms of. */
	const TERM_OF: Readonly<Record<string, TermKey>> = {
		final: 'final',
		computed: 'computed',
		low: 'range',
		high: 'range',
	};
</script>

<div class="flex min-h-0 flex-1 flex-col overflow-x-auto">
	<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1 px-4 pt-3 pb-2">
		<h1 class="text-lg font-semibold">Forecasts to hand over</h1>
		<span class="text-ink-2" data-hand-over="count"
			>{figure(counts.items, 0)}
			{counts.items === 1 ? 'item' : 'items'}{counts.without > 0
				? `; ${figure(counts.without, 0)} have no forecast for a period to come`
				: ''}</span
		>
		<span class="ml-auto flex items-baseline gap-2">
			<Export
				name="forecasts"
				of="Forecasts to hand over"
				rows={async () => rowsOf(await all())}
				sheet="Forecasts"
			/>
			<Button
				aria-label="Forecasts to hand over as JSON"
				title="Download as JSON"
				onclick={async () =>
					saveFile('forecasts.json', JSON.stringify(await all(), null, '\t'), 'application/json')}
				>JSON</Button
			>
			<a href="/api" class="ml-2 text-accent underline">for programs</a>
		</span>
		<ListFilters {asked} bind:overview {ask} {fail} />
		{#if refusal}<Notice class="w-full">{refusal}</Notice>{/if}
		<div class="flex w-full flex-wrap items-baseline gap-x-5 gap-y-1 text-[13px]">
			<span class="flex gap-2" role="group" aria-label="Layout">
				<Button aria-pressed={layout === 'long'} onclick={() => (layout = 'long')}>a row a period</Button>
				<Button aria-pressed={layout === 'across'} onclick={() => (layout = 'across')}>periods across</Button>
			</span>
			{#if layout === 'across' && frequencies.length > 1}
				<label class="flex items-baseline gap-1.5 text-ink-2">
					of
					<Choice
						label="Frequency"
						value={frequency}
						of={frequencies}
						names={(each) => periodWord(each, 2)}
						take={(each) => (across = each)}
					/>
				</label>
			{/if}
			<label class="flex items-center gap-1.5"
				><Tick checked={computed} take={(checked) => (computed = checked)} /> computed figures</label
			>
			<label class="flex items-center gap-1.5"
				><Tick checked={ranged} take={(checked) => (ranged = checked)} /> ranges</label
			>
			{#if ranged && levels.length > 1 && level !== null}
				<Choice
					label="Level of the ranges"
					value={level}
					of={levels}
					names={(each) => percent(Number(each))}
					take={(each) => (picked = each)}
				/>
			{/if}
		</div>
	</div>
	{#if chosen.length === 0}
		<p class="border-t border-rule px-4 py-6 text-ink-2">
			None of these items has an adopted forecast for a period to come. Adopt or update forecasts first.
		</p>
	{:else}
		<div class="flex min-h-0 flex-1 flex-col text-[13px]" style:min-width="{least}px">
			<div
				class="grid shrink-0 gap-x-3 border-y border-rule px-4 py-1 text-ink-2"
				style:grid-template-columns={widths}
			>
				{#each head as name, column (column)}<span class="truncate {isFigure[column] ? 'text-right' : ''}"
						><Head name={String(name)} term={TERM_OF[String(name).split(' ')[0]!]} /></span
					>{/each}
			</div>
			<LongList
				count={rows.length - 1}
				row={ROW}
				seen={(_, to) => to + SOON >= rows.length && void askOn()}
				class="h-[calc(100vh-11rem)] min-h-72 wide:h-auto wide:min-h-0 wide:flex-1"
				aria-label="Figures to hand over"
			>
				{#snippet children(index, where)}
					{@const row = rows[index + 1]!}
					{@const isSum = String(row[3]).startsWith('sum of')}
					<div
						class="absolute right-0 left-0 grid items-center gap-x-3 border-b border-rule px-4 {isSum
							? 'bg-wash font-semibold'
							: ''}"
						style="{where}; grid-template-columns: {widths}"
					>
						{#each row as cell, column (column)}
							<span class="truncate {isFigure[column] ? 'figures' : ''}" title={String(cell ?? '')}
								>{typeof cell === 'number' ? figure(cell, decimals.get(String(row[0])) ?? 0) : cell}</span
							>
						{/each}
					</div>
				{/snippet}
			</LongList>
		</div>
	{/if}
</div>
