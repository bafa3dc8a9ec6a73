<script module lang="ts">
	import type { MeasureIn } from '$core/accuracy/measures';

	/** A measure as it stands in the line-up. */
	export interface Cell {
		key: MeasureIn<'lineUp'>;
		text: string;
		/** All its digits, for whoever wants them. */
		full: string | undefined;
		/** Whether it is the least of its column. */
		best: boolean;
		/** Length of the bar under it, 0 … 1; 0.5 is the naive forecast's size. */
		share: number;
	}
</script>

<script lang="ts">
	import Choice from '../kit/Choice.svelte';
	import Button from '../kit/Button.svelte';
	import type { CandidateRefusal, Evaluated } from '$core/questions/answer';
	import {
		type Candidate,
		constantsOfCandidate,
		methodOf,
		tunedSettings,
		withTuned,
	} from '$core/methods/registry';
	import { START_NAMES } from '$core/methods/smoothing/starts';
	import type { Note } from '$core/contract/note';
	import type { SeasonKind } from '$core/seasons/indices';
	import { periodsInWords } from '$core/series/frequency';
	import { describePeriod } from '$core/series/period';
	import { inMark } from '../../reader.svelte';
	import CandidateMark from './CandidateMark.svelte';
	import Dial from '../kit/Dial.svelte';
	import ConstantDial from './parts/ConstantDial.svelte';
	import { inWords } from '../base/format';
	import InnerChoice from './parts/InnerChoice.svelte';
	import type { ItemState } from './state/item-state.svelte';
	import FiguresInput from '../kit/FiguresInput.svelte';
	import Needle from '../kit/Needle.svelte';
	import NotLoaded from '../kit/NotLoaded.svelte';
	import { withSeason } from './state/season-settings';
	import StartChoice from './StartChoice.svelte';

	interface Props {
		itemState: ItemState;
		candidate: Candidate;
		/** 0-based place in the line-up. */
		place: number;
		/** The newest answer for it. */
		answer: Evaluated | CandidateRefusal | undefined;
		cells: readonly Cell[];
		/** What is to be said of it, where it is chosen. */
		notes: readonly Note[];
		showSignal: () => void;
		/** Goes to the candidate above or below. */
		walk: (event: KeyboardEvent) => void;
	}

	let { itemState, candidate, place, answer, cells, notes, showSignal, walk }: Props = $props();

	const series = $derived(itemState.series);
	const periods = $derived(series.values.length);
	const method = $derived(methodOf(candidate.method));
	const constants = $derived(constantsOfCandidate(candidate));
	/** What is turned stands in the inner method's settings, where there is one. */
	const tuned = $derived(tunedSettings(candidate));
	const tunedMethod = $derived(methodOf(tuned.method));
	const label = $derived(method.label(candidate));
	const result = $derived(answer?.ok ? answer : undefined);
	const refusal = $derived(answer && !answer.ok ? answer.notes[0]!.text : null);
	const chosen = $derived(candidate.id === itemState.lineUp.chosenId);
	const signal = $derived(
		result ? (itemState.answers.measuresOf(candidate.id)?.trackingSignal ?? null) : null,
	);

	const KIND_WORDS = { fit: 'computed with the period itself', cycle: 'made at the end of the cycle before' };

	function choose(key: string, value: string) {
		itemState.lineUp.put(
			key === 'season' ? withSeason(candidate, value as SeasonKind) : { ...candidate, [key]: value },
		);
	}

	function setWeights(weights: readonly number[]): string | undefined {
		if (weights.some((weight) => weight < 0) || !weights.some((weight) => weight > 0))
			return 'Weights must be 0 or more, and at least one above 0.';
		itemState.lineUp.put(withTuned(candidate, { weights }));
	}

	const scoredFrom = ({ scoreFrom, measures: { own } }: Evaluated) =>
		own.count === 0
			? 'no period can be scored yet'
			: `${periodsInWords(series.frequency, own.count)} scored, from ${describePeriod(series.frequency, series.first + scoreFrom - 1)}`;
</script>

<tbody class="border-b border-rule {chosen ? 'bg-wash' : ''}" data-candidate={candidate.id}>
	<tr class="h-9">
		<td class="p-0">
			<button
				type="button"
				id="candidate-{candidate.id}"
				aria-pressed={chosen}
				class="flex h-9 w-full items-center gap-1.5 border-l-[3px] pl-[11px] text-left {chosen
					? 'border-accent font-semibold'
					: 'border-transparent'} {itemState.lineUp.hidden.includes(candidate.id)
					? 'text-ink-2 line-through'
					: ''}"
				onclick={() => itemState.lineUp.choose(candidate.id)}
				onkeydown={walk}
			>
				<span class="flex w-[26px] shrink-0 flex-col items-center">
					<CandidateMark {place} bold={chosen} />
					{#if result && result.kind !== 'forecast'}<span
							class="text-[11px] leading-3 font-normal {result.kind === 'fit' ? 'text-ink' : 'text-ink-2'}"
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
					<ConstantDial
						lineUp={itemState.lineUp}
						{candidate}
						{constant}
						label="{label}, {constant.name}"
						narrow={constants.length > 1}
					/>
				{/each}
				{#each tunedMethod.fields as field (field.key)}
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
								itemState.lineUp.put(
									withTuned(candidate, { [field.key]: value }),
									`${candidate.id} ${field.key}`,
								)}
							onlift={() => itemState.lineUp.lift()}
						/>
					{:else if field.control === 'weights'}
						<label class="inline-flex items-center gap-1.5 text-ink-2">
							{field.symbol}
							<FiguresInput
								label="{label}, {field.name}, oldest first"
								value={field.read(tuned) as number[]}
								take={(weights) => setWeights(weights!)}
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
			{#each cells as { key, text, full, best, share } (key)}
				<td class="relative p-0" data-measure={key} title={full}>
					<span class="figures block {best ? 'font-bold' : ''}">
						{#if best}<span class="mr-0.5 text-[10px] text-accent" title="the smallest"
								>◂<span class="sr-only">least</span></span
							>{/if}{text}
					</span>
					{#if share > 0}
						<span
							class="absolute right-0 bottom-[3px] h-[2px] {share <= 0.5 ? 'bg-ink-2' : 'bg-warn'}"
							style:width="{share * 88}%"
						></span>
					{/if}
				</td>
			{/each}
			<td class="pr-3 text-right" data-measure="signal"
				><Needle {signal} biased={!!result && result.alarm.since !== null} /></td
			>
		{/if}
	</tr>
	<tr>
		<td colspan="7" class="pr-4 pl-4 {chosen ? 'pb-1.5 text-[13px]' : 'pb-1 text-[12px]'}">
			{#if chosen}
				<div class="flex flex-wrap items-baseline gap-x-4 gap-y-0.5">
					{#each method.fields as field (field.key)}
						{#if field.control === 'choice'}
							<Choice
								label="{label}, {field.name}"
								value={field.read(candidate) as string}
								names={Object.fromEntries(field.options!.map(({ value, name }) => [value, name]))}
								take={(value) => choose(field.key, value)}
							/>
						{/if}
					{/each}
					{#if 'inner' in candidate}<InnerChoice lineUp={itemState.lineUp} {candidate} />{/if}
					{#if candidate.method === 'combination'}{#await import('./Members.svelte') then { default: Members }}<Members
								{itemState}
								{candidate}
							/>{:catch}<NotLoaded />{/await}{/if}
					{#if tunedMethod.starts.length > 0}<StartChoice {itemState} {candidate} method={tunedMethod} />{/if}
					{#if result}
						<span class="shrink-0 text-ink-2">{scoredFrom(result)}</span>
					{/if}
					<span class="ml-auto flex shrink-0 gap-3">
						{#if constants.length > 0}
							<Button onclick={() => itemState.lineUp.findBest([candidate.id])}>best constants</Button>
						{/if}
						<Button onclick={() => itemState.lineUp.copy(candidate.id)}>duplicate</Button>
						<Button
							aria-pressed={itemState.lineUp.hidden.includes(candidate.id)}
							onclick={() => itemState.lineUp.toggleHidden(candidate.id)}
							>{itemState.lineUp.hidden.includes(candidate.id) ? 'show on strip' : 'hide'}</Button
						>
						<Button onclick={() => itemState.lineUp.remove(candidate.id)}>remove</Button>
					</span>
				</div>
				{#each notes as note (note.code)}
					<p class="mt-0.5 flex gap-2 leading-5 text-ink-2" data-note={note.code}>
						<span aria-hidden="true" class="text-warn">–</span>
						<span
							>{inMark(note.text)}
							{#if note.code === 'alarm'}
								<Button look="link" onclick={showSignal}>Look at Signal</Button>
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
