<script lang="ts">
	import { percent } from '$core/words/chance';
	import Tick from '../../kit/Tick.svelte';
	import Choice from '../../kit/Choice.svelte';
	import Button from '../../kit/Button.svelte';
	import { withoutUnset } from '$core/methods/registry';
	import { compactScale, type Scale, scaleWords } from '$core/numbers/figure';
	import { neutralOf, type SeasonKind, wholeOf } from '$core/seasons/indices';
	import { INDEX_RULES, type IndexInput } from '$core/seasons/settings';
	import { cyclesOf } from '$core/seasons/cycles';
	import { pairOf, twoSeasons } from '$core/seasons/two-seasons';
	import type { Diagnosis } from '$core/diagnosis/diagnosis';
	import { seasonTable, type TablePlace } from '$core/working/season-table';
	import { seasonName } from '$core/series/season-name';
	import { describePeriod } from '$core/series/period';
	import { prepareSeries, type SeriesInput } from '$core/series/series';
	import { spelledSentence } from '$core/questions/working-table';
	import Backwards from './Backwards.svelte';
	import type { Rows } from '../../export/cells';
	import Export from '../../export/Export.svelte';
	import { inMark } from '../../../reader.svelte';
	import { scaled } from '../../base/format';
	import IndexBar from './IndexBar.svelte';
	import type { ItemState } from '../state/item-state.svelte';
	import FigureInput from '../../kit/FigureInput.svelte';
	import {
		cycleName,
		findsIndices,
		holdIndex,
		holdOf,
		type Indexed,
		letGo,
		type SeasonSettings,
		settingsOf,
		takesIndices,
		withHeld,
		withSeason,
	} from '../state/season-settings';

	let { itemState, seen }: { itemState: ItemState; seen: Diagnosis | null } = $props();

	const RULE_NAMES: Record<(typeof INDEX_RULES)[number], string> = {
		'ratio-to-moving-average': 'centred average',
		'ratio-to-cycle-mean': 'each cycle’s mean',
		'ratio-to-overall': 'overall mean',
		'ratio-to-trend': 'line through all',
		given: 'none: as typed',
	};

	const series = $derived(prepareSeries(itemState.series.request as SeriesInput, itemState.series.gapRule));
	const length = $derived(series.seasonLength);
	const cycles = $derived(cyclesOf(series));
	const candidate = $derived(itemState.lineUp.chosen);
	/** What is looked at where the chosen candidate takes no indices. */
	let draft = $state.raw<SeasonSettings | null>(null);
	const settings = $derived<SeasonSettings>(
		settingsOf(candidate, itemState.answers.chosen) ??
			draft ?? {
				kind: seen?.swings?.grow ? 'multiplicative' : 'additive',
				input: { rule: 'ratio-to-moving-average' },
				found: null,
			},
	);
	const indexed = $derived(takesIndices(candidate) ? candidate : null);
	const lined = $derived(findsIndices(candidate) ? candidate : null);
	const own = $derived(indexed ?? lined);
	const { kind, input } = $derived(settings);
	const held = $derived(lined ? holdOf(lined).indices : input.held);
	const table = $derived(seasonTable(series, kind, input, settings.found));
	const seasons = $derived(Array.from({ length }, (_, j) => seasonName(series.frequency, length, j + 1)));
	const wholeCycles = $derived(Math.floor((cycles.lead + series.values.length) / length));
	/** Three digits of the largest index; of ratios three places. */
	const scale = $derived<Scale>(
		kind === 'multiplicative' ? { power: 0, decimals: 3 } : compactScale(table.after),
	);
	/** Where many seasons stand side by side, the figures of cycles give way; the sentence has all of them. */
	const cellScale = $derived<Scale>(
		kind === 'multiplicative' && length > 8 ? { power: 0, decimals: 2 } : scale,
	);
	const pair = $derived(pairOf(series));
	const group = $derived(series.group ?? null);
	const PAIR_WORDS = { 'week-of-year': 'week of the year', weekday: 'weekday' };
	/** The longer of two seasons, slot by slot. */
	const second = $derived(input.seasons ? [...twoSeasons(series, kind, input).second] : null);
	const sum = $derived(table.sums.after);
	const offSum = $derived(sum !== null && Math.abs(sum - wholeOf(kind, length)) > 1e-6 * length);

	/** So many seasons and cycles are laid out at once; more are turned over like pages. */
	const SEASONS_AT_ONCE = 60;
	const CYCLES_AT_ONCE = 40;
	let seasonPage = $state(0);
	let cyclePage = $state(0);
	const columns = $derived(
		[...seasons.keys()].slice(seasonPage * SEASONS_AT_ONCE, (seasonPage + 1) * SEASONS_AT_ONCE),
	);
	/** The newest cycles are on the first page, in their order of time. */
	const rows = $derived(
		table.rows.slice(
			Math.max(0, table.rows.length - (cyclePage + 1) * CYCLES_AT_ONCE),
			Math.max(0, table.rows.length - cyclePage * CYCLES_AT_ONCE),
		),
	);
	const entry = $derived(columns.find((j) => rows[0]?.cells[j]) ?? -1);
	$effect(() => {
		if (columns.length === 0) seasonPage = 0;
		if (rows.length === 0) cyclePage = 0;
	});

	/** What the rows of cycles show. */
	let showing = $state<'value' | 'base' | 'ratio'>('ratio');
	const SHOWN = $derived({
		value: 'figures',
		base: 'compared with',
		ratio: kind === 'additive' ? 'differences' : 'ratios',
	});
	/** Twelve seasons fit side by side; more are scrolled to, and have room. */
	const room = $derived(length > 12 ? 'px-1' : 'px-px');
	let pointed = $state.raw<TablePlace | { of: 'value'; t: number } | null>(null);
	const sentence = $derived.by(() => {
		if (!pointed) return null;
		const name = 't' in pointed ? periodOf(pointed.t) : seasons[pointed.season]!;
		if (pointed.of === 'value') {
			const value = itemState.series.values[pointed.t - 1] ?? null;
			return value === null ? `${name}: no figure` : `${name}: as brought in`;
		}
		const place = pointed;
		const spelled = table.explain(place);
		if (!spelled) return `${name}: takes no part in the indices`;
		const value = valueAt(place)!;
		const { power, decimals } =
			place.of === 'base' ? itemState.scale : { ...scale, decimals: scale.decimals + 1 };
		const places = Math.max(0, decimals - power);
		return `${name}: ${spelledSentence(NAMES[place.of], spelled, value, places)}`;
	});
	const NAMES = $derived({
		base: 'compared with',
		ratio: kind === 'additive' ? 'difference' : 'ratio',
		average: 'average',
		before: 'index before',
		after: 'index',
	});
	const periodOf = (t: number) => describePeriod(series.frequency, series.first + t - 1);

	function valueAt(place: TablePlace): number | null {
		if (!('t' in place)) return table[place.of][place.season]!;
		for (const { cells } of table.rows) {
			const cell = cells.find((each) => each?.t === place.t);
			if (cell) return cell[place.of];
		}
		return null;
	}

	function change(next: Partial<IndexInput>) {
		const index = withoutUnset({ ...input, ...next });
		if (indexed) itemState.lineUp.set<Indexed>(indexed, { index });
		else draft = { kind, input: index, found: null };
	}

	function setSeason(season: SeasonKind) {
		if (own) itemState.lineUp.put(withSeason(own, season));
		else draft = { kind: season, input: withoutUnset({ ...input, held: undefined }), found: null };
	}

	function setRule(rule: IndexInput['rule']) {
		const typed = table.after.map((index) => index ?? wholeOf(kind, length) / length);
		change({ rule, indices: rule === 'given' ? typed : undefined });
	}

	/** Whose indices; the item's own go with what is decided about them. */
	function setLent(lent: 'own' | 'group' | 'both') {
		if (lent === 'own') return change({ lent: undefined });
		const { rule, average } = input;
		const index = withoutUnset({
			rule: rule === 'given' ? ('ratio-to-moving-average' as const) : rule,
			average,
			lent,
		});
		if (indexed) itemState.lineUp.set<Indexed>(indexed, { index });
		else draft = { kind, input: index, found: null };
	}

	function hold(season: number, value: number | null, stroke = false) {
		// One of them by hand, and all are as they are typed: a group cannot lend the others.
		if (input.lent) {
			const indices = table.after.map((index, j) => (j === season ? value : index) ?? neutralOf(kind));
			return change({ rule: 'given', indices, average: undefined, lent: undefined });
		}
		if (own) holdIndex(itemState, own, season, value, stroke ? `${own.id} index ${season}` : null);
		else change({ held: withHeld(input.held, length, season, value) });
	}

	function letAllGo() {
		if (lined) letGo(itemState, lined);
		else change({ held: undefined });
	}

	/** Indices for a candidate that is to take them: as they are looked at, where they are taken by a rule. */
	const taken = $derived<IndexInput>(lined ? { rule: 'ratio-to-moving-average' } : input);

	const reach = $derived.by(() => {
		const middle = kind === 'multiplicative' ? 1 : 0;
		const away = table.after.map((index) => Math.abs((index ?? middle) - middle));
		return Math.max(...away, kind === 'multiplicative' ? 0.1 : 1e-9) * 1.25;
	});

	/** The arrow keys go from figure to figure. */
	function walk(event: KeyboardEvent) {
		const moves: Record<string, [number, number]> = {
			ArrowUp: [-1, 0],
			ArrowDown: [1, 0],
			ArrowLeft: [0, -1],
			ArrowRight: [0, 1],
		};
		const move = moves[event.key];
		const cell = (event.target as HTMLElement).closest<HTMLElement>('[data-cell]');
		if (!move || !cell) return;
		const [row, column] = cell.dataset.cell!.split(' ').map(Number) as [number, number];
		const next = document.querySelector<HTMLElement>(`[data-cell="${row + move[0]} ${column + move[1]}"]`);
		if (!next) return;
		next.focus();
		event.preventDefault();
		event.stopPropagation();
	}

	function tableRows(): Rows {
		const line = (name: string, list: readonly (number | null)[], total: number | null) => [
			name,
			...list,
			total,
		];
		return [
			['', ...seasons, 'sum'],
			...table.rows.flatMap(({ cycle, cells }) =>
				(['value', 'base', 'ratio'] as const).map((of) =>
					line(
						`${cycleName(itemState, cycle, cycles.lead)} ${SHOWN[of]}`,
						cells.map((cell) => cell?.[of] ?? null),
						null,
					),
				),
			),
			line('average', table.average, null),
			line('index before', table.before, table.sums.before),
			line('index', table.after, table.sums.after),
		];
	}
</script>

<div class="flex h-full flex-col" data-season-indices>
	<div class="flex flex-wrap items-center gap-x-2.5 gap-y-0.5 px-4 text-ink-2">
		<Choice
			label="Additive or multiplicative season"
			value={kind}
			names={{ multiplicative: 'multiplicative', additive: 'additive' }}
			take={setSeason}
		/>
		{#if lined}
			<span>found together with the line</span>
		{:else}
			<label
				>{kind === 'additive' ? '−' : '÷'}
				<Choice
					label="What figures are compared with"
					value={input.rule}
					of={INDEX_RULES}
					names={RULE_NAMES}
					take={setRule}
				/></label
			>
			{#if group}
				<Choice
					label="Whose season"
					value={input.lent ?? 'own'}
					names={{
						own: 'its own season',
						group: `the season of ${group.name}`,
						both: `its own and ${group.name}’s`,
					}}
					take={setLent}
				/>
			{/if}
			{#if input.rule !== 'given'}
				<Choice
					label="How a season’s figures are averaged"
					value={input.average ?? 'mean'}
					names={{ mean: 'mean', median: 'median' }}
					take={(average) => change({ average })}
				/>
				{#if !input.seasons && !input.lent}
					<Choice
						label="Cycles used"
						value={input.cycles ?? 0}
						of={Array.from({ length: Math.min(12, wholeCycles) + 1 }, (_, i) => i)}
						names={(count) =>
							count === 0 ? 'all periods' : `last ${count} ${count === 1 ? 'cycle' : 'cycles'}`}
						take={(count) => change({ cycles: count || undefined })}
					/>
				{/if}
			{/if}
			{#if !input.seasons && !input.lent}
				<label class="flex items-center gap-1"
					><Tick
						checked={input.normalise !== false}
						take={(normalise) => change({ normalise: normalise ? undefined : false })}
					/>sum stays {wholeOf(kind, length)}</label
				>
			{/if}
			{#if pair && !input.lent && indexed?.method === 'deseasonalised' && input.rule === 'ratio-to-moving-average'}
				<label
					class="flex items-center gap-1"
					title="{pair[1]} indices from what the {pair[0]}s leave; a figure's index is made of both"
					><Tick
						checked={input.seasons !== undefined}
						take={(both) =>
							change(
								both
									? {
											seasons: pair,
											cycles: undefined,
											held: undefined,
											shrink: undefined,
											normalise: undefined,
										}
									: { seasons: undefined },
							)}
					/>{PAIR_WORDS[pair[1]]} too</label
				>
			{/if}
			{#if length > 3 && input.rule !== 'given' && !input.seasons && !input.lent}
				<label
					class="flex items-center gap-1"
					title="Indices that vary much from cycle to cycle are moved towards no season"
					><Tick
						checked={input.shrink === true}
						take={(shrink) => change({ shrink: shrink || undefined })}
					/>shrink uncertain indices{#if input.shrink}: {percent(table.weight)}{/if}</label
				>
			{/if}
		{/if}
	</div>

	<!-- svelte-ignore a11y_no_static_element_interactions (the figures inside take the focus) -->
	<div class="min-h-0 flex-1 overflow-auto" onkeydown={walk}>
		{#if second && pair}
			<div class="px-4 pb-2 text-[12px]" data-second-season>
				<p class="text-ink-2">{PAIR_WORDS[pair[1]]}, on what the table below leaves</p>
				<ol class="figures mt-0.5 grid grid-cols-[repeat(auto-fill,minmax(62px,1fr))] gap-x-2 text-left">
					{#each second as index, j (j)}
						<li>
							<span class="text-ink-2">{pair[1] === 'weekday' ? seasonName('day', 7, j + 1) : j + 1}</span>
							{scaled(Number.isFinite(index) ? index : null, scale)}
						</li>
					{/each}
				</ol>
			</div>
		{/if}
		<table class="w-full border-separate border-spacing-0 text-[11px]" data-index-table>
			<caption class="sr-only">Cycles by seasons, and the indices made from them</caption>
			<thead>
				<tr class="text-ink-2">
					<th class="sticky top-0 left-0 z-10 min-w-[74px] bg-paper py-0.5 pl-4 text-left font-normal">
						<Choice
							look="bare"
							class="h-5 [field-sizing:content] max-w-[86px] border-0 bg-transparent py-0 pr-4 pl-0 text-[11px] text-ink-2 [background-position:right_0_center] [background-size:9px]"
							label="What the rows of cycles show"
							value={showing}
							names={SHOWN}
							take={(of) => (showing = of)}
						/>
					</th>
					{#each columns as j (j)}<th class="figures sticky top-0 bg-paper {room} font-sans font-normal"
							>{seasons[j]}</th
						>{/each}
					<th class="figures sticky top-0 bg-paper pr-2 pl-1 font-sans font-normal"
						>{showing === 'value' ? 'mean' : 'sum'}</th
					>
				</tr>
			</thead>
			<tbody>
				{#each rows as { cycle, cells }, row (cycle)}
					<tr>
						<th class="sticky left-0 bg-paper pl-4 text-left whitespace-nowrap font-normal text-ink-2"
							>{cycleName(itemState, cycle, cycles.lead)}</th
						>
						{#each columns as j (j)}
							{@const cell = cells[j]}
							<td class="p-0">
								{#if cell}
									<button
										type="button"
										tabindex={row === 0 && j === entry ? 0 : -1}
										data-cell="{row} {j}"
										class="figures w-full {room} leading-[18px] hover:bg-wash {cell.ratio === null
											? 'text-ink-2'
											: ''}"
										onfocus={() => (pointed = { of: showing, t: cell.t })}
										onpointerenter={() => (pointed = { of: showing, t: cell.t })}
										>{scaled(cell[showing], showing === 'ratio' ? cellScale : itemState.scale)}</button
									>
								{/if}
							</td>
						{/each}
						<td class="figures pr-2 pl-1 text-ink-2">
							{#if showing === 'value' && cells.every((cell) => cell?.value != null)}
								{scaled(cells.reduce((total, cell) => total + cell!.value!, 0) / length, itemState.scale)}
							{/if}
						</td>
					</tr>
				{/each}
			</tbody>
			<tfoot class="sticky bottom-0 bg-paper">
				{#each [{ of: 'average', name: 'average' }, { of: 'before', name: 'before' }] as const as { of, name }, i (of)}
					<tr class={i === 0 ? '[&>*]:border-t [&>*]:border-rule' : ''}>
						<th class="sticky left-0 bg-paper pl-4 text-left whitespace-nowrap font-normal">{name}</th>
						{#each columns as j (j)}
							{@const value = table[of][j] ?? null}
							<td class="p-0"
								><button
									type="button"
									tabindex="-1"
									data-cell="{rows.length + i} {j}"
									class="figures w-full {room} leading-[18px] hover:bg-wash"
									onfocus={() => (pointed = { of, season: j })}
									onpointerenter={() => (pointed = { of, season: j })}>{scaled(value, scale)}</button
								></td
							>
						{/each}
						<td class="figures pr-2 pl-1 text-ink-2"
							>{of === 'before' ? scaled(table.sums.before, scale) : ''}</td
						>
					</tr>
				{/each}
				<tr class="[&>*]:border-t [&>*]:border-ink">
					<th class="sticky left-0 bg-paper pl-4 text-left whitespace-nowrap"
						>index{#if scale.power !== 0}<span class="block text-[10px] font-normal text-ink-2"
								>{scaleWords(scale)}</span
							>{/if}</th
					>
					{#each columns as j (j)}
						{@const value = table.after[j] ?? null}
						<td class="p-0"
							><FigureInput
								class="h-[22px] w-full min-w-8 border-0 bg-transparent {room} py-0 text-[11px] font-semibold {(held?.[
									j
								] ?? null) !== null
									? 'text-accent'
									: ''}"
								data-index={j + 1}
								data-cell="{rows.length + 2} {j}"
								label="Index of {seasons[j]}{(held?.[j] ?? null) !== null ? ', fixed' : ''}"
								title="Type over to fix it; empty frees it"
								{value}
								{scale}
								least={kind === 'multiplicative' ? 0 : -Infinity}
								empties
								take={(typed) => hold(j, typed)}
								onfocus={() => (pointed = { of: 'after', season: j })}
								onpointerenter={() => (pointed = { of: 'after', season: j })}
							/></td
						>
					{/each}
					<td
						class="figures pr-2 pl-1 font-semibold {offSum ? 'text-bad' : ''}"
						data-index-sum={sum}
						title="The indices sum to {wholeOf(kind, length)}"
						>{scaled(sum, scale)}{#if offSum}<span class="sr-only">, not {wholeOf(kind, length)}</span
							>{/if}</td
					>
				</tr>
				<tr>
					<th class="sticky left-0 bg-paper pl-4 align-top text-left font-normal text-ink-2">
						<span class="block leading-[1.3]">drag to<br />fix</span>
						{#if held}<Button class="text-accent" onclick={letAllGo}>free</Button>{/if}
					</th>
					{#each columns as j (j)}
						{@const value = table.after[j] ?? null}
						<td class="p-0">
							<IndexBar
								{value}
								{reach}
								middle={kind === 'multiplicative' ? 1 : 0}
								step={kind === 'multiplicative' ? 0.01 : 10 ** (scale.power - scale.decimals)}
								label="Index of {seasons[j]}"
								held={(held?.[j] ?? null) !== null}
								onchange={(next) => hold(j, next, true)}
								onlift={() => itemState.lineUp.lift()}
								letGo={() => hold(j, null)}
							/>
						</td>
					{/each}
					<td></td>
				</tr>
			</tfoot>
		</table>
	</div>

	<p
		class="min-h-[22px] border-t border-rule px-4 pt-0.5 leading-[1.35]"
		aria-live="polite"
		data-index-sentence
	>
		{#if sentence}{inMark(sentence)}
		{:else if sum === null}<span class="text-bad"
				>An index is missing: no figure there says what its season is. Take another rule, or more cycles.</span
			>
		{:else}<span class="text-ink-2">Point at a figure to see how it is calculated.</span>
			{#if table.rows.length > CYCLES_AT_ONCE}
				<Button
					class="ml-3"
					disabled={(cyclePage + 1) * CYCLES_AT_ONCE >= table.rows.length}
					onclick={() => cyclePage++}>earlier cycles</Button
				>
				<Button class="ml-1" disabled={cyclePage === 0} onclick={() => cyclePage--}>later</Button>
			{/if}
			{#if length > SEASONS_AT_ONCE}
				<Button class="ml-3" disabled={seasonPage === 0} onclick={() => seasonPage--}>seasons before</Button>
				<Button
					class="ml-1"
					disabled={(seasonPage + 1) * SEASONS_AT_ONCE >= length}
					onclick={() => seasonPage++}>after</Button
				>
			{/if}
			<span class="float-right"
				><Export name="{itemState.item.code} indices" of="Indices" rows={tableRows} sheet="Indices" /></span
			>{/if}
	</p>
	{#if own}
		<Backwards {itemState} {kind} {hold} />
	{:else}
		<p class="flex flex-wrap gap-x-4 border-t border-rule px-4 py-1">
			<span class="text-ink-2">The chosen candidate takes no indices. With these:</span>
			<Button
				look="offer"
				onclick={() =>
					itemState.lineUp.add({
						method: 'seasonal-index',
						season: kind,
						index: taken,
						level: { rule: 'last-cycle' },
					})}>put them on a level</Button
			>
			<Button
				look="offer"
				onclick={() =>
					itemState.lineUp.add({
						method: 'deseasonalised',
						season: kind,
						index: taken,
						inner: { method: 'ses', constants: { alpha: 0.2 } },
					})}>take the season out</Button
			>
		</p>
	{/if}
</div>
