<script lang="ts">
	import Choice from '../../kit/Choice.svelte';
	import Button from '../../kit/Button.svelte';
	import { impliedIndex, type SeasonKind, withoutIndex } from '$core/seasons/indices';
	import { describePeriod, parsePeriod } from '$core/series/period';
	import { inWords, scaled, scaledSigned } from '../../base/format';
	import type { ItemState } from '../state/item-state.svelte';
	import FigureInput from '../../kit/FigureInput.svelte';

	interface Props {
		itemState: ItemState;
		kind: SeasonKind;
		/** Holds the index of a season (0-based) at a value. */
		hold: (season: number, value: number) => void;
	}

	let { itemState, kind, hold }: Props = $props();

	const result = $derived(itemState.answers.chosen);
	const length = $derived(itemState.series.seasonLength);
	let step = $state(1);
	let wanted = $state<number | null>(null);
	const ahead = $derived(result?.ahead ?? []);
	const mean = $derived(ahead[step - 1]?.mean ?? null);
	/** 0-based season of the period that is looked at. */
	const season = $derived((itemState.firstSeason - 1 + itemState.series.values.length + step - 1) % length);
	const inUse = $derived(result?.perPeriod?.indices?.[season] ?? null);
	const level = $derived(mean === null || inUse === null ? null : withoutIndex(kind, mean, inUse));
	const implied = $derived(level === null || wanted === null ? NaN : impliedIndex(kind, wanted, level));
	const scale = $derived(kind === 'multiplicative' ? { power: 0, decimals: 4 } : itemState.scale);
	const nameOf = (period: string | number) =>
		describePeriod(itemState.series.frequency, parsePeriod(itemState.series.frequency, period));
</script>

<p
	class="flex flex-wrap items-baseline gap-x-2 gap-y-0.5 border-t border-rule px-4 py-0.5 text-ink-2"
	data-backwards
>
	<span class="font-medium text-ink">Backwards</span>
	<label>
		<Choice
			label="Period to read backwards"
			value={step}
			of={ahead.slice(0, length).map((each) => each.step)}
			names={(each) => nameOf(ahead[each - 1]!.period)}
			take={(each) => (step = each)}
		/></label
	>
	<label
		>of <FigureInput
			label="Forecast to read backwards"
			value={wanted}
			placeholder={mean === null ? '' : inWords(mean)}
			live
			empties
			take={(value) => {
				wanted = value;
			}}
			class="typed w-20"
		/></label
	>
	{#if level === null || Number.isNaN(level)}
		<span>has no level to compare with</span>
	{:else if Number.isFinite(implied)}
		<span class="text-ink" data-implied={implied}
			>implies {scaled(wanted, itemState.scale)}
			{kind === 'additive' ? '−' : '÷'}
			{scaled(level, itemState.scale)} = <b class="figures">{scaled(implied, scale)}</b></span
		>
		<span>in use {scaled(inUse, scale)}, {scaledSigned(implied - inUse!, scale)}</span>
		<Button class="text-accent" onclick={() => hold(season, Number(implied.toFixed(6)))}>fix it</Button>
	{:else}<span>implies which index? In use {scaled(inUse, scale)}</span>
	{/if}
</p>
