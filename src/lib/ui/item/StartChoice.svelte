<script lang="ts">
	import Choice from '../kit/Choice.svelte';
	import type { StartInput, StartRule } from '$core/contract/candidate';
	import type { Method } from '$core/contract/method';
	import { type Candidate, tunedSettings, withTuned } from '$core/methods/registry';
	import { defaultStartCycles, defaultStartSpan, START_NAMES } from '$core/methods/smoothing/starts';
	import { seasonName } from '$core/series/season-name';
	import { inWords } from '../base/format';
	import type { ItemState } from './state/item-state.svelte';
	import FigureInput from '../kit/FigureInput.svelte';
	import FiguresInput from '../kit/FiguresInput.svelte';

	interface Props {
		itemState: ItemState;
		candidate: Candidate;
		method: Method;
	}

	let { itemState, candidate, method }: Props = $props();

	/** Where the start stands: in the inner method's settings, or the candidate's own. */
	const tuned = $derived(tunedSettings(candidate));
	const rule = $derived(tuned.start?.rule ?? method.starts[0]!);
	const start = $derived(itemState.answers.resultFor(candidate.id)?.start ?? null);

	const parts = $derived(method.startParts?.(tuned) ?? []);
	const length = $derived(itemState.series.seasonLength);
	/** Usual first periods of a line, or cycles that are taken apart. */
	const usualSpan = (next: StartRule) =>
		(next === 'decomposed' ? defaultStartCycles : defaultStartSpan)(itemState.series.values.length, length);
	const counted = (next: StartRule) => next === 'mean' || next === 'line' || next === 'decomposed';

	const begin = (start: StartInput) => itemState.lineUp.put(withTuned(candidate, { start }));

	function choose(next: StartRule) {
		const level = start?.level ?? itemState.series.values.find((value) => value !== null) ?? 0;
		const given = {
			rule: next,
			at: start?.at ?? 0,
			level,
			...(parts.includes('trend') && { trend: start?.trend ?? 0 }),
			...(parts.includes('season') && {
				season:
					start?.season ??
					Array.from({ length }, () => ('season' in tuned && tuned.season === 'multiplicative' ? 1 : 0)),
			}),
		};
		begin(next === 'given' ? given : counted(next) ? { rule: next, k: usualSpan(next) } : { rule: next });
	}

	const set = (key: 'k' | 'at' | 'level' | 'trend', value: number) =>
		begin({ ...tuned.start, rule, [key]: value });

	function setSeason(season: readonly number[]): string | undefined {
		if (season.length !== length)
			return `${length} figures belong here, season 1 first; these are ${season.length}.`;
		begin({ ...tuned.start, rule, season: [...season] });
	}

	const seasons = $derived(tuned.start?.season ?? []);
</script>

<span class="flex shrink-0 items-baseline gap-1.5 whitespace-nowrap">
	<label class="flex items-baseline gap-1 text-ink-2">
		starts from
		<Choice value={rule} of={method.starts} names={START_NAMES} take={choose} />
	</label>
	{#if counted(rule)}
		<FigureInput
			label={rule === 'decomposed' ? 'How many first cycles' : 'How many first periods'}
			title={rule === 'decomposed' ? 'cycles' : 'periods'}
			value={tuned.start?.k ?? usualSpan(rule)}
			whole
			least={1}
			take={(value) => set('k', value!)}
			class="typed w-12"
		/>
	{/if}
	{#if rule === 'given'}
		<label class="text-ink-2"
			>level
			<FigureInput
				label="Starting forecast"
				value={tuned.start?.level ?? null}
				take={(value) => set('level', value!)}
				class="typed w-20 text-ink"
			/></label
		>
		{#if parts.includes('trend')}
			<label class="text-ink-2"
				>trend
				<FigureInput
					label="Starting trend"
					value={tuned.start?.trend ?? null}
					take={(value) => set('trend', value!)}
					class="typed w-16 text-ink"
				/></label
			>
		{/if}
		<label class="text-ink-2"
			>after period
			<FigureInput
				label="Period at whose end the start stands"
				value={tuned.start?.at ?? 0}
				whole
				least={0}
				take={(value) => set('at', value!)}
				class="typed w-10 text-ink"
			/></label
		>
	{:else if start}
		<span class="figures text-[13px]"
			>level {inWords(start.level)}{#if start.trend !== undefined}, trend {inWords(start.trend)}{/if}</span
		>
	{/if}
</span>
{#if rule === 'given' && parts.includes('season')}
	<label class="flex w-full items-baseline gap-1 text-ink-2">
		seasons, {seasonName(itemState.series.frequency, length, 1)} first
		<FiguresInput
			label="Starting season values"
			value={seasons.map((value) => Number(value.toPrecision(5)))}
			take={(season) => setSeason(season!)}
			class="typed min-w-40 flex-1 text-left text-ink"
		/>
	</label>
{/if}
