<script lang="ts">
	import type { Measures } from '$core/accuracy/measures';
	import type { CandidateResult } from '$core/answer';
	import type { CandidateInput } from '$core/methods/method';
	import { constantsOfCandidate, methodOf, tunedSettings } from '$core/methods/registry';
	import { START_NAMES } from '$core/methods/smoothing/starts';
	import type { SeasonKind } from '$core/seasons/indices';
	import { periodsInWords } from '$core/series/frequency';
	import { describePeriod } from '$core/series/period';
	import CandidateMark from './CandidateMark.svelte';
	import CriterionChoice from './CriterionChoice.svelte';
	import Dial from './Dial.svelte';
	import InnerChoice from './InnerChoice.svelte';
	import Members from './Members.svelte';
	import { scaleWords } from '$core/numbers/figure';
	import { inMark } from '../reader.svelte';
	import { inWords, scaled, scaledSigned, typedFigure } from './format';
	import type { ItemState } from './item-state.svelte';
	import Needle from './Needle.svelte';
	import type { Rows } from './export/cells';
	import Export from './export/Export.svelte';
	import FiguresInput from './kit/FiguresInput.svelte';
	import Offers from './Offers.svelte';
	import ScoredFrom from './ScoredFrom.svelte';
	import { withSeason } from './season-settings';
	import StartChoice from './StartChoice.svelte';
	import { comparisonSentence } from './sentences';

	let { desk, showSignal }: { desk: ItemState; showSignal: () => void } = $props();

	const series = $derived(desk.series);
	const periods = $derived(series.values.length);
	let adding = $state(false);
	/** Notes that the sentence above them or the view Ahead says. */
	const SAID_ELSEWHERE = ['closer-than-naive', 'range-basis'];

	const KIND_WORDS = { fit: 'computed with the period itself', cycle: 'made at the end of the cycle before' };

	type Key = 'mad' | 'mse' | 'mape' | 'bias';
	const COLUMNS: { key: Key; name: string; long: string }[] = [
		{ key: 'mad', name: 'MAD', long: 'mean absolute deviation' },
		{ key: 'mse', name: 'MSE', long: 'mean squared error' },
		{ key: 'mape', name: 'MAPE', long: 'mean absolute percentage error' },
		{ key: 'bias', name: 'bias', long: 'mean error' },
	];
	const rows = $derived(
		desk.candidates.map((candidate, place) => {
			const method = methodOf(candidate.method);
			const answer = desk.answerFor(candidate.id);
			const result = answer?.ok ? answer : undefined;
			const refusal = answer && !answer.ok ? answer.notes[0]!.text : null;
			const constants = constantsOfCandidate(candidate);
			// What is turned stands in the inner method's settings, where there is one.
			const tuned = tunedSettings(candidate);
			const label = method.label(candidate);
			return {
				candidate,
				place,
				method,
				tuned,
				tunes: methodOf(tuned.method),
				constants,
				label,
				result,
				refusal,
			};
		}),
	);

	const said = (key: Key, id: string): string => {
		if (!desk.answerFor(id)) return '…';
		const value = desk.measuresOf(id)?.[key];
		const scale = desk.measureScales[key];
		return key === 'bias' ? scaledSigned(value, scale) : scaled(value, scale);
	};
	const comparable = $derived(desk.judged === 'common');

	/** Least in size of each column, as it is shown; ties share it. */
	const least = $derived.by(() => {
		const ranked = (key: Key) =>
			rows
				.flatMap(({ candidate: { id } }) => {
					const value = desk.measuresOf(id)?.[key];
					return value == null ? [] : [{ size: Math.abs(value), text: said(key, id) }];
				})
				.sort((a, b) => a.size - b.size)[0]?.text;
		return Object.fromEntries(COLUMNS.map(({ key }) => [key, ranked(key)])) as Record<
			Key,
			string | undefined
		>;
	});
	const isLeast = (key: Key, id: string) =>
		comparable && rows.length > 1 && bare(said(key, id)) === bare(least[key] ?? '');
	const bare = (text: string) => text.replace(/^[+−]/, '');
	/** Room for the longest figure of a column, with the sign of the least. */
	const roomFor = (key: Key) => {
		const longest = Math.max(4, ...rows.map(({ candidate }) => said(key, candidate.id).length));
		return 14 + Math.ceil(7.6 * longest);
	};
	const naive = $derived(
		comparable ? rows.find(({ method }) => method.id === 'naive')?.result?.measures.common : undefined,
	);

	/** Length of the bar behind a figure: its size against the naive forecast's, cut at twice. */
	function against(key: Key, measures: Measures | undefined): number {
		const [value, base] = [measures?.[key], naive?.[key]];
		if (value == null || base == null || base === 0) return 0;
		return Math.min(2, Math.abs(value / base)) / 2;
	}

	const common = $derived(desk.shown?.answer.window ?? null);
	const windowText = $derived.by(() => {
		if (!desk.shown) return 'Working the figures out…';
		if (rows.length === 0) return '';
		if (!comparable)
			return desk.window === 'own'
				? 'Each over its own periods: not to be compared'
				: 'No period is shared by all of them: each over its own, not to be compared';
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
	const sentence = $derived(comparisonSentence(desk));
	const chosenNotes = $derived(
		(desk.resultFor(desk.chosenId)?.notes ?? []).filter(
			({ code }) =>
				!SAID_ELSEWHERE.includes(code) &&
				!code.startsWith('lead-') &&
				!(code === 'no-better-than-naive' && sentence?.best === desk.chosenId),
		),
	);
	const searchable = $derived(rows.some(({ constants }) => constants.length > 0));

	function choose(candidate: CandidateInput, key: string, value: string) {
		desk.set(candidate.id, key === 'season' ? withSeason(candidate, value as SeasonKind) : { [key]: value });
	}

	/** Sets a field of a candidate, or of the method inside it. */
	function setField(candidate: CandidateInput, key: string, value: unknown, stroke: string | null = null) {
		const { inner } = candidate as { inner?: object };
		desk.set(candidate.id, inner ? { inner: { ...inner, [key]: value } } : { [key]: value }, stroke);
	}

	function setWeights(candidate: CandidateInput, weights: readonly number[]): string | undefined {
		if (weights.some((weight) => weight < 0) || !weights.some((weight) => weight > 0))
			return 'Weights are 0 or more, and one at least is above 0.';
		setField(candidate, 'weights', weights);
	}

	const rowsToExport = (): Rows => [
		['candidate', 'constants', ...COLUMNS.map(({ name }) => name), 'tracking signal', 'periods'],
		...rows.map(({ candidate, constants }) => {
			const measures = desk.measuresOf(candidate.id);
			return [
				desk.names.get(candidate.id)!,
				constants
					.map((constant) => `${constant.symbol} ${typedFigure(desk.constantOf(candidate, constant))}`)
					.join(', '),
				...COLUMNS.map(({ key }) => measures?.[key] ?? null),
				measures?.trackingSignal ?? null,
				measures?.count ?? null,
			];
		}),
	];

	/** All digits of a figure, for whoever wants them. */
	const fullFigure = (value: number | null | undefined) => (value == null ? undefined : typedFigure(value));

	const scoredFrom = ({ scoreFrom, measures: { own } }: CandidateResult) =>
		own.count === 0
			? 'no period can be scored yet'
			: `${periodsInWords(series.frequency, own.count)} scored, from ${describePeriod(series.frequency, series.first + scoreFrom - 1)}`;

	// A candidate that was added or chosen elsewhere comes into sight.
	$effect(() => {
		document
			.getElementById(`candidate-${desk.chosenId}`)
			?.closest('tbody')
			?.scrollIntoView({ block: 'nearest' });
	});

	function walk(event: KeyboardEvent, index: number) {
		const move = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
		if (move === 0) return;
		event.preventDefault();
		const next = rows[index + move];
		if (!next) return;
		desk.choose(next.candidate.id);
		document.getElementById(`candidate-${next.candidate.id}`)?.focus();
	}
</script>

<div class="min-h-0 flex-1 wide:overflow-y-auto">
	<div class="flex items-baseline justify-between gap-3 px-4 pt-2 pb-1 text-[13px] text-ink-2">
		<span data-line-up="window">{windowText}</span>
		<span class="ml-auto flex shrink-0 gap-2">
			{#each SPANS as span (span)}
				<button
					type="button"
					class="quiet"
					aria-pressed={desk.window === 'common' && desk.scoreFrom === firstOf(span)}
					onclick={() => desk.compareFrom(firstOf(span))}
				>
					{span === null ? 'all' : `last ${span}`}
				</button>
			{/each}
			<button
				type="button"
				class="quiet"
				aria-pressed={desk.window === 'own'}
				title="Each candidate over every period that it can be scored on, as a textbook has it: figures over unlike periods are not to be compared"
				onclick={() => desk.judgeEachAlone()}>own</button
			>
			<ScoredFrom {desk} />
		</span>
	</div>

	<table class="w-full table-fixed border-collapse">
		<caption class="sr-only"
			>Line-up of candidates; the bar under a figure is its size against the last actual’s</caption
		>
		<colgroup>
			<col class="w-[162px]" />
			<col />
			{#each COLUMNS as { key } (key)}<col style:width="{roomFor(key)}px" />{/each}
			<col class="w-[130px]" />
		</colgroup>
		<thead>
			<tr class="border-b border-rule text-[13px] text-ink-2">
				<th class="py-1 pl-4 text-left align-bottom font-normal">candidate</th>
				<th class="py-1 pl-1.5 text-left align-bottom font-normal">constants</th>
				{#each COLUMNS as { key, name, long } (key)}
					<th class="py-1 text-right align-bottom font-normal"
						><abbr
							title="{long}; the bar under a figure is its size against the last actual’s"
							class="no-underline">{name}</abbr
						>{#if desk.measureScales[key].power !== 0}<span class="block text-[11px] leading-3"
								>{scaleWords(desk.measureScales[key])}</span
							>{/if}</th
					>
				{/each}
				<th class="py-1 pr-4 text-right align-bottom font-normal">tracking signal</th>
			</tr>
		</thead>
		{#each rows as { candidate, place, method, tuned, tunes, constants, label, result, refusal }, index (candidate.id)}
			{@const chosen = candidate.id === desk.chosenId}
			{@const measures = desk.measuresOf(candidate.id)}
			<tbody class="border-b border-rule {chosen ? 'bg-wash' : ''}" data-candidate={candidate.id}>
				<tr class="h-9">
					<td class="p-0">
						<button
							type="button"
							id="candidate-{candidate.id}"
							aria-pressed={chosen}
							class="flex h-9 w-full items-center gap-1.5 border-l-[3px] pl-[11px] text-left {chosen
								? 'border-accent font-semibold'
								: 'border-transparent'} {desk.hidden.includes(candidate.id) ? 'text-ink-2 line-through' : ''}"
							onclick={() => desk.choose(candidate.id)}
							onkeydown={(event) => walk(event, index)}
						>
							<span class="flex w-[26px] shrink-0 flex-col items-center">
								<CandidateMark {place} bold={chosen} />
								{#if result && result.kind !== 'forecast'}<span
										class="text-[11px] leading-3 font-normal {result.kind === 'fit'
											? 'text-ink'
											: 'text-ink-2'}"
										title={KIND_WORDS[result.kind]}>{result.kind}</span
									>{/if}
							</span>
							<span class="line-clamp-2 leading-[1.25] {label.length > 18 ? 'text-[13px]' : ''}" title={label}
								>{label}</span
							>
						</button>
					</td>
					<td class="py-0.5 pl-1.5 leading-none">
						<div class="flex flex-wrap items-center gap-x-2">
							{#each constants as constant (constant.key)}
								<Dial
									label="{label}, {constant.name}"
									symbol={constant.symbol}
									value={desk.constantOf(candidate, constant)}
									min={constant.bounds[0]}
									max={constant.bounds[1]}
									step={0.01}
									decimals={2}
									narrow={constants.length > 1}
									found={tuned.optimise !== undefined && tuned.optimise.hold?.[constant.key] === undefined}
									onchange={(value) => desk.turn(candidate, { [constant.key]: value })}
									onlift={() => desk.lift()}
								/>
							{/each}
							{#each tunes.fields as field (field.key)}
								{#if field.control === 'integer'}
									<Dial
										label="{label}, {field.name}"
										symbol={field.symbol}
										value={Number(field.read(tuned))}
										min={1}
										max={Math.max(Number(field.read(tuned)), Math.min(52, Math.floor(periods / 2)))}
										step={1}
										decimals={0}
										onchange={(value) =>
											setField(candidate, field.key, value, `${candidate.id} ${field.key}`)}
										onlift={() => desk.lift()}
									/>
								{:else if field.control === 'weights'}
									<label class="inline-flex items-center gap-1.5 text-ink-2">
										{field.symbol}
										<FiguresInput
											label="{label}, {field.name}, oldest first"
											value={field.read(tuned) as number[]}
											take={(weights) => setWeights(candidate, weights!)}
											class="h-6 w-28 border-0 border-b border-edge bg-transparent p-0 text-left text-[13px] text-ink"
										/>
									</label>
								{/if}
							{/each}
						</div>
					</td>
					{#if refusal}
						<td colspan="5" class="py-1 pr-4 text-[13px] text-bad">{inMark(refusal)}</td>
					{:else}
						{#each COLUMNS as { key } (key)}
							{@const best = isLeast(key, candidate.id)}
							<td class="relative p-0" data-measure={key} title={fullFigure(measures?.[key])}>
								<span class="figures block {best ? 'font-bold' : ''}">
									{#if best}<span class="mr-0.5 text-[10px] text-accent" title="the least"
											>◂<span class="sr-only">least</span></span
										>{/if}{said(key, candidate.id)}
								</span>
								{#if naive && against(key, measures) > 0}
									<span
										class="absolute right-0 bottom-[3px] h-[2px] {against(key, measures) <= 0.5
											? 'bg-ink-2'
											: 'bg-warn'}"
										style:width="{against(key, measures) * 88}%"
									></span>
								{/if}
							</td>
						{/each}
						<td class="pr-3 text-right" data-measure="signal"
							><Needle signal={measures?.trackingSignal ?? null} /></td
						>
					{/if}
				</tr>
				<tr>
					<td colspan="7" class="pr-4 pl-4 {chosen ? 'pb-1.5 text-[13px]' : 'pb-1 text-[12px]'}">
						{#if chosen}
							<div class="flex flex-wrap items-baseline gap-x-4 gap-y-0.5">
								{#each method.fields as field (field.key)}
									{#if field.control === 'choice'}
										<select
											class="choice"
											aria-label="{label}, {field.name}"
											value={field.read(candidate)}
											onchange={(event) => choose(candidate, field.key, event.currentTarget.value)}
										>
											{#each field.options! as { value, name } (value)}<option {value}>{name}</option>{/each}
										</select>
									{/if}
								{/each}
								{#if tuned !== candidate}<InnerChoice {desk} {candidate} />{/if}
								{#if method.restsOn}<Members {desk} {candidate} />{/if}
								{#if tunes.starts.length > 0}<StartChoice {desk} {candidate} method={tunes} />{/if}
								{#if result}
									<span class="shrink-0 text-ink-2">{scoredFrom(result)}</span>
								{/if}
								<span class="ml-auto flex shrink-0 gap-3">
									{#if constants.length > 0}
										<button type="button" class="quiet" onclick={() => desk.findBest([candidate.id])}
											>best constants</button
										>
									{/if}
									<button type="button" class="quiet" onclick={() => desk.copy(candidate.id)}
										>duplicate</button
									>
									<button
										type="button"
										class="quiet"
										aria-pressed={desk.hidden.includes(candidate.id)}
										onclick={() => desk.toggleHidden(candidate.id)}
										>{desk.hidden.includes(candidate.id) ? 'show on strip' : 'hide'}</button
									>
									<button type="button" class="quiet" onclick={() => desk.remove(candidate.id)}>remove</button
									>
								</span>
							</div>
							{#each chosenNotes as note (note.code)}
								<p class="mt-0.5 flex gap-2 leading-5 text-ink-2" data-note={note.code}>
									<span aria-hidden="true" class="text-warn">–</span>
									<span
										>{inMark(note.text)}
										{#if note.code === 'tracking-signal-out'}
											<button type="button" class="text-accent underline" onclick={showSignal}
												>Look at Signal</button
											>
										{/if}</span
									>
								</p>
							{/each}
						{:else if result}
							<p class="flex gap-3 pl-[18px] text-ink-2" data-start={candidate.id}>
								{#if result.start}
									<span
										>starts from {START_NAMES[result.start.rule]}: {inWords(
											result.start.level,
										)}{#if result.start.trend !== undefined}, {inWords(result.start.trend)} a period{/if}</span
									>
								{/if}
								<span>{scoredFrom(result)}</span>
							</p>
						{/if}
					</td>
				</tr>
			</tbody>
		{/each}
	</table>

	{#if rows.length === 0}
		<p class="px-4 py-5">No candidate yet. Add one to see what it would have forecast.</p>
	{/if}
	{#if adding}<Offers {desk} added={() => (adding = false)} />{/if}
</div>
<div class="shrink-0 border-t border-rule">
	<div class="flex flex-wrap items-center gap-x-4 px-4 py-1.5">
		<button
			type="button"
			class="font-semibold text-accent hover:underline"
			aria-expanded={adding}
			onclick={() => (adding = !adding)}>+ Candidate</button
		>
		{#if searchable}
			<span class="flex items-center gap-1.5">
				<button type="button" class="quiet" onclick={() => desk.findBest(desk.candidates.map(({ id }) => id))}
					>Best constants for all</button
				><span class="keycap">b</span>
				<label class="text-ink-2">
					by
					<CriterionChoice {desk} label="Criterion of the search" />
				</label>
			</span>
		{/if}
		<span class="ml-auto"
			><Export name="{desk.item.code} line-up" of="Line-up" rows={rowsToExport} sheet="Line-up" /></span
		>
		<span class="flex items-center gap-1.5">
			<button type="button" class="quiet" disabled={!desk.canUndo} onclick={() => desk.undo()}>Undo</button>
			<span class="keycap">z</span>
			<button type="button" class="quiet ml-2" disabled={!desk.canRedo} onclick={() => desk.redo()}
				>Redo</button
			>
		</span>
		<span class="w-16 text-right text-[12px] text-ink-2" aria-live="polite" data-saving={desk.saving.state}>
			{desk.saving.state === 'saved' ? 'saved' : desk.saving.state === 'saving' ? 'saving…' : 'not saved'}
		</span>
	</div>

	{#if sentence}
		<p class="px-4 pb-2 leading-[1.35]" data-line-up="says">
			<span class="font-semibold">{sentence.lead}</span>
			{sentence.rest}
		</p>
	{/if}
</div>
