<script lang="ts">
	import Tick from '../../kit/Tick.svelte';
	import Choice from '../../kit/Choice.svelte';
	import Button from '../../kit/Button.svelte';
	import Notice from '../../kit/Notice.svelte';
	import { MEASURES, type Measures } from '$core/accuracy/measures';
	import { measureScale } from '$core/accuracy/scales';
	import { inMark } from '../../../reader.svelte';
	import { type Scale, scaleWords } from '$core/numbers/figure';
	import { cyclesOf } from '$core/seasons/cycles';
	import { leastSquaresLine } from '$core/numbers/line';
	import { prepareSeries, type SeriesInput } from '$core/series/series';
	import { seasonField } from '$core/methods/season-fields';
	import { methodOf } from '$core/methods/registry';
	import { seasonIndices, type SeasonKind, wholeOf, withoutSeason } from '$core/seasons/indices';
	import { seasonName } from '$core/series/season-name';
	import { CRITERIA, type Criterion } from '$core/contract/criteria';
	import { arithmeticAside } from '../../../browser-worker/arithmetic';
	import CriterionChoice from '../parts/CriterionChoice.svelte';
	import { inWords, scaled, scaledSigned } from '../../base/format';
	import type { ItemState } from '../state/item-state.svelte';
	import type { Rows } from '../../export/cells';
	import Export from '../../export/Export.svelte';
	import FigureInput from '../../kit/FigureInput.svelte';
	import { findsIndices, holdIndex, holdLine, holdOf, letGo, withSeason } from '../state/season-settings';

	let { itemState }: { itemState: ItemState } = $props();

	/** A line with indices as it stands at one moment. */
	interface Stand {
		name: string;
		kind: SeasonKind;
		line: { intercept: number; slope: number } | null;
		indices: readonly number[];
		own: Measures;
	}

	const series = $derived(itemState.series);
	const length = $derived(series.seasonLength);
	const seasons = $derived(Array.from({ length }, (_, j) => seasonName(series.frequency, length, j + 1)));
	const candidate = $derived(itemState.lineUp.chosen);
	const lined = $derived(findsIndices(candidate) ? candidate : null);
	const result = $derived(itemState.answers.chosen);
	const refusal = $derived.by(() => {
		const answer = itemState.answers.answerFor(itemState.lineUp.chosenId);
		return lined && answer && !answer.ok ? answer.notes[0]!.text : null;
	});
	const now = $derived.by((): Stand | null => {
		const { line, indices } = result?.perPeriod ?? {};
		if (!candidate || !result || !indices) return null;
		return {
			name: methodOf(candidate.method).label(candidate),
			kind: seasonField.read(candidate),
			line: line ?? null,
			indices: indices as number[],
			own: result.measures.own,
		};
	});
	/** What stood before the last search, by the candidate that it was made for. */
	let befores = $state.raw<Record<string, Stand>>({});
	const before = $derived(befores[itemState.lineUp.chosenId] ?? null);
	const kind = $derived(now?.kind ?? 'multiplicative');
	const hold = $derived(lined ? holdOf(lined) : {});
	const ofIndices = $derived<Scale>(kind === 'multiplicative' ? { power: 0, decimals: 4 } : itemState.scale);
	const sum = $derived(now ? now.indices.reduce((a, b) => a + b, 0) : null);
	const searchedBy = $derived(result?.search?.criterion ?? null);

	/**
	 * What would be guessed by rules, one after the other: indices against the centred average, then the line through what is
	 * left without them.
	 */
	async function guessed(season: SeasonKind): Promise<Stand | null> {
		const whole = prepareSeries(itemState.series.request as SeriesInput, itemState.series.gapRule);
		const cycles = cyclesOf(whole);
		const { after } = seasonIndices(whole.values, cycles, season, { rule: 'ratio-to-moving-average' });
		const bare = withoutSeason(whole.values, cycles, season, after);
		const { intercept, slope } = leastSquaresLine(bare);
		const hold = { intercept, slope, indices: [...after] };
		if (![intercept, slope, ...after].every(Number.isFinite)) return null;
		const { candidates } = await arithmeticAside().evaluate({
			...itemState.answers.request,
			candidates: [{ id: 'guess', method: 'trend-seasonal', season, optimise: { hold } } as never],
		});
		const [found] = candidates;
		if (!found?.ok) return null;
		return {
			name: 'indices against the centred average, then a line',
			kind: season,
			line: { intercept, slope },
			indices: [...after],
			own: found.measures.own,
		};
	}

	/** Finds everything that is not held, by the criterion chosen; what stood before stays in sight. */
	async function find() {
		const stood = now;
		if (lined) {
			if (stood) befores = { ...befores, [lined.id]: stood };
			itemState.lineUp.set(lined, { optimise: { ...lined.optimise, criterion: itemState.lineUp.criterion } });
			return;
		}
		const grows = itemState.series.worked.every((value) => value === null || value > 0);
		const usual = grows ? 'multiplicative' : 'additive';
		const season = candidate && 'season' in candidate ? seasonField.read(candidate) : usual;
		itemState.lineUp.add({
			method: 'trend-seasonal',
			season,
			optimise: { criterion: itemState.lineUp.criterion },
		});
		const { chosenId } = itemState.lineUp;
		const before = stood ?? (await guessed(season));
		if (before) befores = { ...befores, [chosenId]: before };
	}

	interface Row {
		key: string;
		name: string;
		before: number | null;
		now: number;
		scale: Scale;
		held: boolean;
		set(value: number | null): void;
	}
	const rows = $derived.by((): Row[] => {
		if (!now) return [];
		const line = (key: 'intercept' | 'slope', name: string, more: number): Row[] =>
			now.line
				? [
						{
							key,
							name,
							before: before?.line?.[key] ?? null,
							now: now.line[key],
							scale: { ...itemState.scale, decimals: itemState.scale.decimals + more },
							held: hold[key] !== undefined,
							set: (value) => lined && holdLine(itemState, lined, { [key]: value }),
						},
					]
				: [];
		return [
			...line('intercept', 'intercept a', 0),
			...line('slope', 'slope b a period', 2),
			...now.indices.map((index, j): Row => ({
				key: `index ${j + 1}`,
				name: `index ${seasons[j]}`,
				before: before?.indices[j] ?? null,
				now: index,
				scale: ofIndices,
				held: (hold.indices?.[j] ?? null) !== null,
				set: (value) => lined && holdIndex(itemState, lined, j, value),
			})),
		];
	});

	const rowsToExport = (): Rows => [
		['', 'before', 'now', 'change', 'fixed'],
		...rows.map(({ name, before, now, held }) => [
			name,
			before,
			now,
			before === null ? null : now - before,
			held ? 'fixed' : '',
		]),
	];

	const passes = $derived(result?.search?.evaluations ?? 0);
	const heldCount = $derived(rows.filter(({ held }) => held).length);
	const by = (criterion: Criterion) => MEASURES[criterion].name;
</script>

<div class="flex h-full flex-col" data-season-line>
	<div class="flex flex-wrap items-center gap-x-3 gap-y-1 px-4 pb-1">
		<button
			type="button"
			class="rounded-md border border-accent px-2 py-0.5 font-semibold text-accent hover:bg-wash"
			onclick={find}>Find line and indices together</button
		>
		<label class="text-ink-2"
			>by <CriterionChoice
				lineUp={itemState.lineUp}
				label="Criterion that line and indices are found by"
			/></label
		>
		{#if lined}
			<Choice
				label="Additive or multiplicative indices"
				value={kind}
				names={{ multiplicative: '(a + b·t) · index', additive: 'a + b·t + index' }}
				take={(season) => itemState.lineUp.put(withSeason(lined, season))}
			/>
		{/if}
		{#if now}<span class="ml-auto"
				><Export
					name="{itemState.item.code} line"
					of="Line and indices"
					rows={rowsToExport}
					sheet="Line"
				/></span
			>{/if}
		{#if heldCount > 0 && lined}
			<Button class="text-accent" onclick={() => letGo(itemState, lined)}
				>free {heldCount === 1 ? 'it' : `all ${heldCount}`}</Button
			>
		{/if}
	</div>
	{#if refusal}
		<Notice class="mx-4">{inMark(refusal)}</Notice>
	{:else if !now}
		<p class="px-4 pt-3 leading-5 text-ink-2">
			A line with seasonal indices: intercept, slope and all {length} indices are fitted together. Any of them may
			be fixed; the sum of the indices stays. This adds a candidate to the line-up.
		</p>
	{:else}
		<div class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_190px]">
			<div class="overflow-y-auto pl-4">
				<table class="w-full text-[13px]" data-line-table>
					<caption class="sr-only">Line and indices, before and after they were found together</caption>
					<thead>
						<tr class="text-ink-2">
							<th class="sticky top-0 bg-paper py-0.5 text-left font-normal"
								>{itemState.scale.power === 0 ? '' : `in ${scaleWords(itemState.scale)}`}</th
							>
							<th class="figures sticky top-0 bg-paper font-sans font-normal">before</th>
							<th class="figures sticky top-0 bg-paper font-sans font-normal text-ink">now</th>
							<th class="figures sticky top-0 bg-paper pl-2 font-sans font-normal">change</th>
							<th class="sticky top-0 bg-paper pr-3 pl-2 text-right font-normal">fixed</th>
						</tr>
					</thead>
					<tbody>
						{#each rows as row (row.key)}
							<tr class="border-t border-rule" data-line-row={row.key}>
								<td class="whitespace-nowrap">{row.name}</td>
								<td class="figures text-ink-2">{scaled(row.before, row.scale)}</td>
								<td class="py-0 pl-2 text-right">
									{#if lined}
										<FigureInput
											label="{row.name}{row.held ? ', fixed' : ''}"
											title="Type over to fix it; empty frees it"
											value={row.now}
											scale={row.scale}
											empties
											take={(value) => row.set(value)}
											class="h-[22px] w-24 border-0 bg-transparent p-0 text-[13px] font-semibold {row.held
												? 'text-accent'
												: ''}"
										/>
									{:else}<span class="figures font-semibold">{scaled(row.now, row.scale)}</span>{/if}
								</td>
								<td class="figures pl-2 text-ink-2"
									>{row.before === null ? '' : scaledSigned(row.now - row.before, row.scale)}</td
								>
								<td class="pr-3 text-right">
									{#if lined}<Tick
											label="Fix {row.name}"
											checked={row.held}
											take={(held) => row.set(held ? row.now : null)}
										/>{/if}
								</td>
							</tr>
						{/each}
						<tr class="border-t border-ink">
							<td>sum of indices</td>
							<td class="figures text-ink-2"
								>{before
									? scaled(
											before.indices.reduce((a, b) => a + b, 0),
											ofIndices,
										)
									: '–'}</td
							>
							<td class="figures font-semibold" data-line-sum={sum}>{scaled(sum, ofIndices)}</td>
							<td class="pl-2 text-[12px] text-ink-2" colspan="2"
								>{sum !== null && Math.abs(sum - wholeOf(kind, length)) < 1e-9 * length
									? `= ${wholeOf(kind, length)}, whatever is fixed`
									: `not ${wholeOf(kind, length)}`}</td
							>
						</tr>
					</tbody>
				</table>
			</div>
			<div class="border-l border-rule px-3">
				<table class="w-full text-[13px]" data-line-measures>
					<caption class="pb-1 text-left text-[12px] text-ink-2">over its own scored periods</caption>
					<thead>
						<tr class="text-ink-2">
							<th></th>
							<th class="figures font-sans font-normal">before</th>
							<th class="figures pl-2 font-sans font-normal text-ink">now</th>
						</tr>
					</thead>
					<tbody>
						{#each CRITERIA as key (key)}
							{@const scale = measureScale(key, [before?.own, now?.own])}
							<tr class="border-t border-rule" data-line-measure={key}>
								<td class={searchedBy === key ? 'font-semibold' : ''}
									>{by(key)}{#if scale.power !== 0}<span class="block text-[11px] text-ink-2"
											>{scaleWords(scale)}</span
										>{/if}</td
								>
								<td class="figures text-ink-2">{scaled(before?.own[key], scale)}</td>
								<td class="figures pl-2 {searchedBy === key ? 'font-semibold' : ''}"
									>{scaled(now.own[key], scale)}</td
								>
							</tr>
						{/each}
					</tbody>
				</table>
				<p class="mt-2 text-[12px] leading-[1.4] text-ink-2">
					{#if searchedBy}Least by {by(searchedBy)}{heldCount > 0 ? ' beside what is fixed' : ''}, in {passes}
						{passes === 1 ? 'pass' : 'passes'}.
						{#if result!.search!.flat.slope}The slope may lie between {inWords(result!.search!.flat.slope[0])} and
							{inWords(result!.search!.flat.slope[1])} for 1 % more.{/if}
					{:else}By rules, one after the other: {now.name}.{/if}
					{#if before}Before: {before.name}. Undo (z) goes back.{/if}
				</p>
			</div>
		</div>
	{/if}
</div>
