<script lang="ts">
	import { isSame } from '$core/numbers/same';
	import Tick from '../../kit/Tick.svelte';
	import Choice from '../../kit/Choice.svelte';
	import Button from '../../kit/Button.svelte';
	import Notice from '../../kit/Notice.svelte';
	import { inMark } from '../../../reader.svelte';
	import { frozenField, levelField, scenariosField, seasonField } from '$core/methods/season-fields';
	import { withoutUnset } from '$core/methods/registry';
	import { withoutIndex } from '$core/seasons/indices';
	import { levelWords, USUAL_ALPHA, USUAL_CYCLES } from '$core/seasons/levels';
	import { LEVEL_RULES, type LevelInput, type PlainLevel } from '$core/seasons/settings';
	import { describePeriod, formatPeriod, parsePeriod } from '$core/series/period';
	import { scaleWords } from '$core/numbers/figure';
	import { periodWord } from '$core/series/frequency';
	import { scaled } from '../../base/format';
	import type { ItemState } from '../state/item-state.svelte';
	import type { Rows } from '../../export/cells';
	import Export from '../../export/Export.svelte';
	import FigureInput from '../../kit/FigureInput.svelte';

	let { itemState }: { itemState: ItemState } = $props();

	const RULE_NAMES: Record<(typeof LEVEL_RULES)[number], string> = {
		'last-cycle': 'last cycle',
		'cycle-average': 'mean of the last',
		'cycle-smoothing': 'smoothed cycles',
		'cycle-trend': 'trend of cycles',
		line: 'line under the season',
		given: 'typed',
		blend: 'a blend',
	};
	const FRESH: Record<(typeof LEVEL_RULES)[number], () => LevelInput> = {
		'last-cycle': () => ({ rule: 'last-cycle', growth: 0 }),
		'cycle-average': () => ({ rule: 'cycle-average', cycles: USUAL_CYCLES }),
		'cycle-smoothing': () => ({ rule: 'cycle-smoothing', alpha: USUAL_ALPHA }),
		'cycle-trend': () => ({ rule: 'cycle-trend' }),
		line: () => ({ rule: 'line' }),
		given: () => ({ rule: 'given', value: Number((levels[0]?.level ?? 0).toPrecision(4)) }),
		blend: () => {
			const of = kept.filter((level): level is PlainLevel => level.rule !== 'blend').slice(0, 6);
			return { rule: 'blend', of, weights: of.map(() => 1) };
		},
	};

	const series = $derived(itemState.series);
	const length = $derived(series.seasonLength);
	const candidate = $derived(
		itemState.lineUp.chosen?.method === 'seasonal-index' ? itemState.lineUp.chosen : undefined,
	);
	const result = $derived(itemState.answers.chosen);
	const refusal = $derived.by(() => {
		const answer = itemState.answers.answerFor(itemState.lineUp.chosenId);
		return candidate && answer && !answer.ok ? answer.notes[0]!.text : null;
	});
	const kind = $derived(candidate ? seasonField.read(candidate) : 'multiplicative');
	const used = $derived(candidate ? levelField.read(candidate) : null);
	/** All levels that are kept, the one in use among them. */
	const kept = $derived.by((): readonly LevelInput[] => {
		if (!candidate || !used) return [];
		const list = scenariosField.read(candidate) ?? [];
		return list.some((level) => isSame(level, used)) ? list : [used, ...list];
	});
	const inUse = $derived(used ? kept.findIndex((level) => isSame(level, used)) : -1);

	/** What each of them gives: the level of the next period, and the sum over a cycle. */
	const levels = $derived.by(() => {
		const listed = scenariosField.read(candidate ?? { id: '', method: '' }) ?? [];
		const { perPeriod, ahead = [] } = result ?? {};
		return kept.map((level) => {
			const place = listed.findIndex((each) => isSame(each, level));
			const means =
				used && isSame(level, used) ? ahead.map(({ mean }) => mean) : (result?.scenarios?.[place] ?? []);
			const season = (itemState.firstSeason - 1 + series.values.length) % length;
			const index = perPeriod?.indices?.[season] ?? null;
			const next = means[0] ?? null;
			const cycle = means.slice(0, length);
			const whole = cycle.length === length && cycle.every((mean) => mean !== null);
			return {
				means,
				level: next === null || index === null ? null : withoutIndex(kind, next, index),
				sum: whole ? cycle.reduce<number>((total, mean) => total + mean!, 0) : null,
			};
		});
	});
	const shownAhead = $derived(Math.min(3, length, itemState.answers.horizon));
	const nextPeriods = $derived(
		(result?.ahead ?? [])
			.slice(0, shownAhead)
			.map(({ period }) => describePeriod(series.frequency, parsePeriod(series.frequency, period))),
	);

	function keep(list: readonly LevelInput[], use: LevelInput | null = used) {
		if (!candidate || !use) return;
		itemState.lineUp.set(candidate, { scenarios: [...list], level: use });
	}
	const change = (place: number, level: LevelInput) =>
		keep(kept.with(place, level), place === inUse ? level : used);
	function remove(place: number) {
		const list = kept.toSpliced(place, 1);
		keep(list, place === inUse ? list[0]! : used);
	}
	function join(level: LevelInput) {
		if (!candidate) return;
		itemState.lineUp.add({ ...withoutUnset({ ...candidate, scenarios: undefined }), level });
	}

	function setWeight(place: number, member: number, value: number): string | undefined {
		const level = kept[place]!;
		if (level.rule !== 'blend') return;
		const weights = (level.weights ?? level.of.map(() => 1)).with(member, value);
		if (!weights.some((weight) => weight > 0)) return 'At least one weight must be above 0.';
		change(place, { ...level, weights });
	}

	const rows = (): Rows => [
		['level by', 'level', ...nextPeriods, `sum of ${length}`],
		...kept.map((level, place) => {
			const own = levels[place]!;
			return [levelWords(level), own.level, ...nextPeriods.map((_, h) => own.means[h] ?? null), own.sum];
		}),
	];

	/** Kept as they stand, or redone with each cycle. */
	const frozen = $derived(candidate ? frozenField.read(candidate) : undefined);
	const frozenNote = $derived(result?.notes.find(({ code }) => code === 'kept-frozen')?.text ?? null);
	const lastEnd = $derived.by(() => {
		const lead = itemState.firstSeason - 1;
		return Math.floor((lead + series.values.length) / length) * length - lead;
	});
	const asData = (count: number) => formatPeriod(series.frequency, series.first + count - 1);
	const asWords = (count: number) => describePeriod(series.frequency, series.first + count - 1);
	const INPUT = 'typed w-9';
</script>

{#if !candidate}
	<p class="px-4 pt-3 leading-5 text-ink-2">
		Indices are applied to a level: last cycle’s mean, an average of several, grown by a rate, a trend, a
		figure of your own, or a blend. Levels are compared here for a candidate of seasonal indices.
	</p>
	<p class="px-4 pt-2">
		<Button
			look="offer"
			onclick={() =>
				itemState.lineUp.add({
					method: 'seasonal-index',
					season: 'multiplicative',
					index: { rule: 'ratio-to-moving-average' },
					level: { rule: 'last-cycle' },
				})}>+ Seasonal indices on a level</Button
		>
	</p>
{:else}
	<div class="flex h-full flex-col overflow-y-auto" data-season-levels>
		{#if refusal}<Notice class="mx-4">{inMark(refusal)}</Notice>{/if}
		<table class="w-full text-[12px]">
			<caption class="sr-only">Levels of the coming cycle side by side</caption>
			<thead>
				<tr class="text-ink-2">
					<th class="py-0.5 pl-4 text-left font-normal" colspan="2">level by</th>
					<th class="figures font-sans font-normal"
						>level{#if itemState.scale.power !== 0}, {scaleWords(itemState.scale)}{/if}</th
					>
					{#each nextPeriods as name (name)}<th class="figures pl-2 font-sans font-normal">{name}</th>{/each}
					<th
						class="figures pl-2 font-sans font-normal"
						title="sum of the next {length} {periodWord(series.frequency, length)}">sum of {length}</th
					>
					<th class="pr-4"></th>
				</tr>
			</thead>
			{#each kept as level, place (place)}
				<tbody
					class="border-t border-rule {place === inUse ? 'bg-wash' : ''}"
					data-scenario={place + 1}
					data-in-use={place === inUse}
				>
					<tr class="h-7">
						<td class="w-6 pl-4"
							><Tick
								name="level in use"
								label="Use {levelWords(level)}"
								checked={place === inUse}
								take={() => keep(kept, level)}
							/></td
						>
						<td class="pl-1 whitespace-nowrap">
							<span class="figures mr-1 text-[12px] text-ink-2">{place + 1}</span>
							<Choice
								label="Rule of level {place + 1}"
								value={level.rule}
								of={LEVEL_RULES}
								names={RULE_NAMES}
								take={(rule) => change(place, FRESH[rule]())}
							/>
							{#if level.rule === 'last-cycle'}
								<label class="text-ink-2"
									>+<FigureInput
										label="Growth of level {place + 1} in %"
										value={Number((100 * (level.growth ?? 0)).toPrecision(6))}
										take={(value) => {
											if (value! <= -100) return 'A fall of 100 % or more leaves no level.';
											change(place, { ...level, growth: Number((value! / 100).toPrecision(12)) });
										}}
										class={INPUT}
									/> %</label
								>
							{:else if level.rule === 'cycle-average'}
								<label class="text-ink-2"
									><FigureInput
										label="Cycles of level {place + 1}"
										value={level.cycles ?? USUAL_CYCLES}
										whole
										least={1}
										take={(value) => change(place, { ...level, cycles: value! })}
										class="{INPUT} !w-8"
									/> cycles</label
								>
							{:else if level.rule === 'cycle-smoothing'}
								<label class="text-ink-2"
									>α <FigureInput
										label="Alpha of level {place + 1}"
										value={level.alpha ?? USUAL_ALPHA}
										least={0}
										most={1}
										take={(value) => change(place, { ...level, alpha: value! })}
										class="{INPUT} !w-10"
									/></label
								>
							{:else if level.rule === 'given'}
								<FigureInput
									label="Level {place + 1} as typed"
									value={level.value}
									take={(value) => change(place, { ...level, value: value! })}
									class="{INPUT} !w-20"
								/>
							{/if}
						</td>
						<td class="figures font-semibold" data-scenario-level
							>{scaled(levels[place]?.level, itemState.scale)}</td
						>
						{#each nextPeriods as name, h (name)}
							<td class="figures pl-2">{scaled(levels[place]?.means[h], itemState.scale)}</td>
						{/each}
						<td class="figures pl-2">{scaled(levels[place]?.sum, itemState.scale)}</td>
						<td class="pr-4 pl-2 text-right whitespace-nowrap">
							{#if place !== inUse}
								<Button title="Join the line-up as a candidate" onclick={() => join(level)}>join</Button>
								<Button class="ml-1" aria-label="Remove level {place + 1}" onclick={() => remove(place)}
									>×</Button
								>
							{:else}<span class="text-[12px] text-accent">in use</span>{/if}
						</td>
					</tr>
					{#if level.rule === 'blend'}
						<tr>
							<td></td>
							<td class="pb-1 pl-6 text-ink-2" colspan={nextPeriods.length + 4}>
								<span class="flex flex-wrap gap-x-3">
									{#each level.of as member, i (i)}
										<label
											><FigureInput
												label="Weight of {levelWords(member)} in level {place + 1}"
												value={level.weights?.[i] ?? 1}
												least={0}
												take={(value) => setWeight(place, i, value!)}
												class="{INPUT} !w-8"
											/>
											× {levelWords(member)}</label
										>
									{/each}
								</span>
							</td>
						</tr>
					{/if}
				</tbody>
			{/each}
		</table>
		<div class="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-rule px-4 py-1.5">
			<Button
				look="offer"
				disabled={kept.length >= 12}
				onclick={() =>
					keep([
						...kept,
						kept.some(({ rule }) => rule === 'cycle-average')
							? { rule: 'last-cycle', growth: 0.03 }
							: FRESH['cycle-average'](),
					])}>+ Level</Button
			>
			{#if kept.filter(({ rule }) => rule !== 'blend').length > 1}
				<Button look="offer" onclick={() => keep([...kept, FRESH.blend()])}>+ Blend of these</Button>
			{/if}
			<span class="ml-auto"
				><Export name="{itemState.item.code} levels" of="Levels" {rows} sheet="Levels" /></span
			>
			{#if kept.length > 1}<span class="basis-full text-ink-2"
					>Each is drawn on the strip with its number; the one in use is the candidate.</span
				>{/if}
		</div>
		<fieldset
			class="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-rule px-4 py-1.5"
			data-frozen={frozen ?? ''}
		>
			<legend class="sr-only">When a cycle is complete</legend>
			<span class="text-ink-2">When a cycle is complete, indices and level are</span>
			<label class="flex items-center gap-1.5"
				><Tick
					name="frozen"
					checked={frozen === undefined}
					take={() => itemState.lineUp.set(candidate, { frozen: undefined })}
				/>redone{#if frozen === undefined && lastEnd > 0}<span class="text-ink-2">
						(last at the end of {asWords(lastEnd)})</span
					>{/if}</label
			>
			<label class="flex items-center gap-1.5"
				><Tick
					name="frozen"
					disabled={lastEnd <= 0}
					checked={frozen !== undefined}
					take={() => itemState.lineUp.set(candidate, { frozen: asData(lastEnd) })}
				/>frozen</label
			>
			{#if frozenNote}<span class="basis-full text-ink-2">{frozenNote}</span>{/if}
		</fieldset>
	</div>
{/if}
