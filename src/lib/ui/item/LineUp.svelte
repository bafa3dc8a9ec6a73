<script lang="ts">
	import Button from '../kit/Button.svelte';
	import Key from '../kit/Key.svelte';
	import Busy from '../kit/Busy.svelte';
	import { constantsOfCandidate } from '$core/methods/registry';
	import { periodsInWords, periodWord } from '$core/series/frequency';
	import { describePeriod } from '$core/series/period';
	import { type MeasureIn, MEASURES, measuresIn } from '$core/accuracy/measures';
	import { measureWords } from '$core/accuracy/scales';
	import CandidateRow, { type Cell } from './CandidateRow.svelte';
	import CriterionChoice from './parts/CriterionChoice.svelte';
	import { scaleWords } from '$core/numbers/figure';
	import { typedFigure } from '../base/format';
	import type { ItemState } from './state/item-state.svelte';
	import type { Rows } from '../export/cells';
	import Export from '../export/Export.svelte';
	import Head from '../kit/Head.svelte';
	import NotLoaded from '../kit/NotLoaded.svelte';
	import PeriodField from '../kit/PeriodField.svelte';
	import { lineUpWords } from '$core/words/line-up';
	import { RARE_MEASURE } from '$core/words/sweep';
	import { inMark } from '../../reader.svelte';
	import { steady } from './state/steady';

	let { itemState, showSignal }: { itemState: ItemState; showSignal: () => void } = $props();

	type Measured = MeasureIn<'lineUp'>;
	const series = $derived(itemState.series);
	const periods = $derived(series.values.length);
	/** What is open below the rows. */
	let open = $state<'tried' | 'offers' | null>(null);
	/** They come when they are first opened. */
	const PANELS = { tried: () => import('./Tried.svelte'), offers: () => import('./Offers.svelte') };
	const toggle = (which: 'tried' | 'offers') => (open = open === which ? null : which);
	/** Notes that the sentence above them or the view Ahead says. */
	const SAID_ELSEWHERE = ['closer-than-naive', 'range-basis'];

	/** What candidates can be compared by beside what was fitted. */
	const READINGS = [
		{ reading: 'ahead', name: 'ahead', title: 'The periods of the holdout, all forecast at the cut' },
		{
			reading: 'step-by-step',
			name: 'step by step',
			title:
				'The periods of the holdout, each forecast one period before, with constants as they were at the cut',
		},
		{
			reading: 'trial',
			name: 'trial',
			title: 'Forecasts from many past origins, each made from what was known then',
		},
	] as const;

	/** The signal has a needle of its own, after the others. */
	const COLUMNS = measuresIn('lineUp').filter((id) => MEASURES[id].unit !== 'signal');
	const entries = $derived(
		itemState.lineUp.rows.map((candidate, place) => ({
			candidate,
			place,
			answer: itemState.answers.answerFor(candidate.id),
		})),
	);
	/** What is to be known where demand is rare. */
	const rare = $derived(
		itemState.answers.shown?.answer.notes.find(({ code }) => code === 'rare-demand')?.text ?? null,
	);
	/** Whether a measure misleads there. */
	const misleads = (key: Measured) => rare !== null && MEASURES[key].misleadsRare === true;
	const comparable = $derived(itemState.answers.comparable);
	const naive = $derived(
		comparable
			? itemState.answers.measuresOf(itemState.lineUp.rows.find(({ method }) => method === 'naive')?.id ?? '')
			: undefined,
	);

	/** A measure of a candidate as it is shown. */
	function said(key: Measured, { candidate: { id }, answer }: (typeof entries)[number]): string {
		if (!answer) return '…';
		return inMark(
			measureWords(key, itemState.answers.measuresOf(id)?.[key], itemState.answers.measureScales[key]),
		);
	}

	const bare = (text: string) => text.replace(/^[+−]/, '');
	/** Least in size of each column, as it is shown; ties share it. */
	const least = $derived(
		COLUMNS.map((key): string | null => {
			if (!comparable || entries.length < 2 || misleads(key)) return null;
			const [first] = entries
				.flatMap((entry) => {
					const value = itemState.answers.measuresOf(entry.candidate.id)?.[key];
					return value == null ? [] : [{ size: Math.abs(value), entry }];
				})
				.sort((a, b) => a.size - b.size);
			return first ? bare(said(key, first.entry)) : null;
		}),
	);
	/** The size of a figure against the naive forecast's, cut at twice. */
	function against(key: Measured, value: number | null | undefined): number {
		const base = naive?.[key];
		return value == null || base == null || base === 0 ? 0 : Math.min(2, Math.abs(value / base)) / 2;
	}
	const hold = steady<Cell>();
	/** Column by column for the first candidate, then for the next. */
	const cells = $derived(
		hold(
			entries.flatMap((entry) =>
				COLUMNS.map((key, column): Cell => {
					const value = itemState.answers.measuresOf(entry.candidate.id)?.[key];
					const text = said(key, entry);
					const full = value == null ? undefined : typedFigure(value);
					return { key, text, full, best: bare(text) === least[column], share: against(key, value) };
				}),
			),
		),
	);
	/** Room for the longest figure of a column, with the sign of the least. */
	const rooms = $derived(
		COLUMNS.map((_, column) => {
			const ofColumn = cells.filter((_, i) => i % COLUMNS.length === column);
			return 14 + Math.ceil(7.6 * Math.max(4, ...ofColumn.map(({ text }) => text.length)));
		}),
	);

	const common = $derived(itemState.answers.shown?.answer.window ?? null);
	const windowText = $derived.by(() => {
		if (!itemState.answers.shown) return 'Calculating…';
		if (entries.length === 0) return '';
		const { reading, shown } = itemState.answers;
		const { holdout } = shown.request;
		if (holdout !== itemState.answers.holdout) return 'Calculating…';
		const held = periodsInWords(series.frequency, holdout);
		const one = periodWord(series.frequency, 1);
		if (reading === 'ahead')
			return `Over the ${held} in the holdout, all forecast at the end of ${describePeriod(series.frequency, series.first + periods - holdout - 1)}`;
		if (reading === 'step-by-step') return `Over the ${held} in the holdout, each forecast one ${one} before`;
		if (reading === 'trial') {
			const most = Math.max(0, ...entries.map(({ answer }) => (answer?.ok && answer.trial?.origins) || 0));
			const steps = shown.request.trial?.horizon ?? 1;
			return `Trial on ${most} past ${periodWord(series.frequency, most)}, 1 to ${steps} ahead, each from what was known then`;
		}
		if (!comparable)
			return itemState.answers.window === 'own'
				? 'Each over its own periods: not comparable'
				: 'They share no period: each over its own, not comparable';
		const from = describePeriod(series.frequency, series.first + common!.from - 1);
		const to = describePeriod(series.frequency, series.first + common!.to - 1);
		return `Compared over the same ${periodsInWords(series.frequency, common!.count)}, ${from} – ${to}`;
	});
	/** Narrower comparisons that leave enough to compare on. */
	const SPANS = $derived([
		null,
		...[series.seasonLength, 2 * series.seasonLength].filter((span) => span >= 4 && 2 * span <= periods),
	]);
	/** 1-based first of so many last periods; null: each candidate's own. */
	const firstOf = (span: number | null) => (span === null ? null : Math.max(1, periods - span + 1));
	const sentence = $derived.by(() => {
		if (entries.length === 0) return null;
		const misses = entries.flatMap(({ candidate: { id }, answer }) => {
			const measures = answer?.ok ? itemState.answers.measuresOf(id) : undefined;
			const size = (rare ? measures?.rmse : measures?.mad) ?? null;
			return size === null
				? []
				: [{ id, name: itemState.answers.names.get(id)!, size, notes: itemState.answers.notesOf(id) }];
		});
		const { judged, window, measureScales, reading } = itemState.answers;
		const { item } = itemState;
		return lineUpWords(
			reading === 'common' ? judged : 'common',
			window,
			misses,
			measureScales.mad,
			item.unit,
			series.frequency,
			rare ? 'square' : 'size',
		);
	});
	/** What was proposed, while it is what the item opened with. */
	const proposed = $derived(
		!itemState.lineUp.canUndo && itemState.item.lineUp.version === 0 && itemState.answers.proposed
			? itemState.answers.proposed.notes.map(({ text }) => text).join(' ')
			: '',
	);
	const unsaved = $derived(proposed !== '' && !itemState.saved.wasSaved);
	const chosenNotes = $derived(
		itemState.answers
			.notesOf(itemState.lineUp.chosenId)
			.filter(
				({ code }) =>
					!SAID_ELSEWHERE.includes(code) &&
					!code.startsWith('lead-') &&
					!(code === 'no-better-than-naive' && sentence?.best === itemState.lineUp.chosenId),
			),
	);
	const searchable = $derived(
		itemState.lineUp.rows.some((candidate) => constantsOfCandidate(candidate).length > 0),
	);

	const rowsToExport = (): Rows => [
		['candidate', 'constants', ...measuresIn('lineUp').map((id) => MEASURES[id].name), 'periods'],
		...itemState.lineUp.rows.map((candidate) => {
			const measures = itemState.answers.measuresOf(candidate.id);
			return [
				itemState.answers.names.get(candidate.id)!,
				constantsOfCandidate(candidate)
					.map(
						(constant) =>
							`${constant.symbol} ${typedFigure(itemState.lineUp.constantOf(candidate, constant))}`,
					)
					.join(', '),
				...measuresIn('lineUp').map((id) => measures?.[id] ?? null),
				measures?.count ?? null,
			];
		}),
	];

	// A candidate that was added or chosen elsewhere comes into sight.
	$effect(() => {
		document
			.getElementById(`candidate-${itemState.lineUp.chosenId}`)
			?.closest('tbody')
			?.scrollIntoView({ block: 'nearest' });
	});

	function walk(event: KeyboardEvent, index: number) {
		const move = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
		if (move === 0) return;
		event.preventDefault();
		const next = itemState.lineUp.rows[index + move];
		if (!next) return;
		itemState.lineUp.choose(next.id);
		document.getElementById(`candidate-${next.id}`)?.focus();
	}
</script>

<div class="min-h-0 flex-1 overflow-x-auto wide:overflow-y-auto">
	<div
		class="flex items-baseline max-sm:flex-wrap justify-between gap-3 px-4 pt-2 pb-1 text-[13px] text-ink-2"
	>
		<span data-line-up="window">{windowText}</span>
		<span class="ml-auto flex shrink-0 gap-2">
			{#each SPANS as span (span)}
				<Button
					aria-pressed={itemState.answers.reading === 'common' &&
						itemState.answers.window === 'common' &&
						itemState.answers.scoreFrom === firstOf(span)}
					onclick={() => itemState.answers.compareFrom(firstOf(span))}
				>
					{span === null ? 'all' : `last ${span}`}
				</Button>
			{/each}
			<Button
				aria-pressed={itemState.answers.reading === 'common' && itemState.answers.window === 'own'}
				title="Each candidate over all of its own periods, as in a textbook: figures over different periods are not comparable"
				onclick={() => itemState.answers.judgeEachAlone()}>own</Button
			>
			<PeriodField
				series={itemState.series}
				count={itemState.series.values.length}
				at={itemState.answers.scoreFrom}
				label="First scored period"
				title="First period that every candidate is scored from"
				take={(place) => itemState.answers.compareFrom(place)}>from</PeriodField
			>
			{#each READINGS as { reading, name, title } (reading)}
				{#if reading === 'trial' || itemState.answers.holdout > 0}
					<Button
						aria-pressed={itemState.answers.reading === reading}
						{title}
						onclick={() => itemState.answers.compareBy(reading)}>{name}</Button
					>
				{/if}
			{/each}
		</span>
	</div>

	<table class="w-full min-w-[600px] table-fixed border-collapse">
		<caption class="sr-only"
			>Line-up of candidates; the bar under a figure is its size against naive’s</caption
		>
		<colgroup>
			<col class="w-[162px]" />
			<col />
			{#each COLUMNS as key, column (key)}<col style:width="{rooms[column]}px" />{/each}
			<col class="w-[130px]" />
		</colgroup>
		<thead>
			<tr class="border-b border-rule text-[13px] text-ink-2">
				<th class="py-1 pl-4 text-left align-bottom font-normal">candidate</th>
				<th class="py-1 pl-1.5 text-left align-bottom font-normal">constants</th>
				{#each COLUMNS as key (key)}
					<th class="py-1 text-right align-bottom font-normal"
						><Head
							name={MEASURES[key].name}
							term={key}
							more={misleads(key)
								? `${RARE_MEASURE}.`
								: 'The bar under a figure is its size against naive’s.'}
							class={misleads(key) ? 'line-through' : ''}
						/>{#if itemState.answers.measureScales[key].power !== 0}<span class="block text-[11px] leading-3"
								>{scaleWords(itemState.answers.measureScales[key])}</span
							>{/if}</th
					>
				{/each}
				<th class="py-1 pr-4 text-right align-bottom font-normal"
					><Head name="tracking signal" term="trackingSignal" /></th
				>
			</tr>
		</thead>
		{#each entries as { candidate, place, answer }, index (candidate.id)}
			<CandidateRow
				{itemState}
				{candidate}
				{place}
				{answer}
				cells={cells.slice(index * COLUMNS.length, (index + 1) * COLUMNS.length)}
				notes={candidate.id === itemState.lineUp.chosenId ? chosenNotes : []}
				{showSignal}
				walk={(event) => walk(event, index)}
			/>
		{/each}
	</table>

	{#if entries.length === 0}
		<p class="px-4 py-5">
			{#if itemState.answers.proposing}<Busy words="Trying methods on past periods…" />{:else}No candidate
				yet. Add one, or propose a forecast.{/if}
		</p>
	{/if}
	{#if open}
		{#await PANELS[open]() then { default: Panel }}
			<Panel {itemState} close={() => (open = null)} />
		{:catch}<NotLoaded />{/await}
	{/if}
</div>
<div class="shrink-0 border-t border-rule">
	<div class="flex flex-wrap items-center gap-x-4 px-4 py-1.5">
		<Button look="offer" aria-expanded={open === 'tried'} onclick={() => toggle('tried')}>Propose</Button>
		<Button look="offer" aria-expanded={open === 'offers'} onclick={() => toggle('offers')}
			>+ Candidate</Button
		>
		{#if searchable}
			<span class="flex items-center gap-1.5">
				<Button onclick={() => itemState.lineUp.findBest(itemState.lineUp.rows.map(({ id }) => id))}
					>Best constants for all</Button
				><Key>b</Key>
				<label class="text-ink-2">
					by
					<CriterionChoice lineUp={itemState.lineUp} label="Criterion of the search" />
				</label>
			</span>
		{/if}
		<span class="ml-auto"
			><Export name="{itemState.item.code} line-up" of="Line-up" rows={rowsToExport} sheet="Line-up" /></span
		>
		<span class="flex items-center gap-1.5">
			<Button disabled={!itemState.lineUp.canUndo} onclick={() => itemState.lineUp.undo()}>Undo</Button>
			<Key>z</Key>
			<Button class="ml-2" disabled={!itemState.lineUp.canRedo} onclick={() => itemState.lineUp.redo()}
				>Redo</Button
			>
		</span>
		<span
			class="w-16 text-right text-[12px] text-ink-2"
			title={unsaved ? 'Saved once you change or adopt it' : undefined}
			aria-live="polite"
			data-saving={itemState.saved.saving.state}
		>
			{!itemState.saved.saves
				? 'not saved'
				: unsaved
					? 'proposed'
					: itemState.saved.saving.state === 'saved'
						? 'saved'
						: itemState.saved.saving.state === 'saving'
							? 'saving…'
							: 'not saved'}
		</span>
	</div>

	{#if rare && !proposed}
		<p class="px-4 pb-1 leading-[1.35] text-ink-2" data-line-up="rare">{inMark(rare)}</p>
	{/if}
	{#if proposed && open === null}
		<p class="px-4 pb-1 leading-[1.35] text-ink-2" data-line-up="proposed">{inMark(proposed)}</p>
	{/if}
	{#if sentence}
		<p class="px-4 pb-2 leading-[1.35]" data-line-up="says">
			<span class="font-semibold">{inMark(sentence.lead)}</span>
			{inMark(sentence.rest)}
		</p>
	{/if}
</div>
