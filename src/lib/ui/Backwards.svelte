<script lang="ts">
	import { impliedIndex, type SeasonKind, withoutIndex } from '$core/seasons/indices';
	import { describePeriod, parsePeriod } from '$core/series/period';
	import { figure, signed } from './format';
	import type { ItemState } from './item-state.svelte';

	interface Props {
		desk: ItemState;
		kind: SeasonKind;
		/** Holds the index of a season (0-based) at a value. */
		hold: (season: number, value: number) => void;
	}

	let { desk, kind, hold }: Props = $props();

	const result = $derived(desk.resultFor(desk.chosenId));
	const length = $derived(desk.series.seasonLength);
	let step = $state(1);
	let typed = $state('');
	const ahead = $derived(result?.ahead ?? []);
	const mean = $derived(ahead[step - 1]?.mean ?? null);
	/** 0-based season of the period that is looked at. */
	const season = $derived((desk.firstSeason - 1 + desk.series.values.length + step - 1) % length);
	const inUse = $derived(result?.states?.indices?.[season] ?? null);
	const level = $derived(mean === null || inUse === null ? null : withoutIndex(kind, mean, inUse));
	const wanted = $derived(typed.trim() === '' ? NaN : Number(typed.replace(',', '.')));
	const implied = $derived(level === null ? NaN : impliedIndex(kind, wanted, level));
	const decimals = $derived(kind === 'multiplicative' ? 4 : desk.decimals);
	const nameOf = (period: string | number) =>
		describePeriod(desk.series.frequency, parsePeriod(desk.series.frequency, period));
</script>

<p
	class="flex flex-wrap items-baseline gap-x-2 gap-y-0.5 border-t border-rule px-4 py-0.5 text-ink-2"
	data-backwards
>
	<span class="font-medium text-ink">Backwards</span>
	<label>
		<select class="choice" aria-label="Period to read backwards" bind:value={step}>
			{#each ahead.slice(0, length) as { step, period } (step)}<option value={step}>{nameOf(period)}</option
				>{/each}
		</select></label
	>
	<label
		>of <input
			class="figures h-6 w-20 border-0 border-b border-edge bg-transparent p-0 text-[13px] text-ink"
			aria-label="Forecast to read backwards"
			placeholder={figure(mean, desk.decimals)}
			bind:value={typed}
		/></label
	>
	{#if level === null || Number.isNaN(level)}
		<span>has no level to be held against</span>
	{:else if Number.isFinite(implied)}
		<span class="text-ink" data-implied={implied}
			>implies {figure(wanted, desk.decimals)}
			{kind === 'additive' ? '−' : '÷'}
			{figure(level, desk.decimals)} = <b class="figures">{figure(implied, decimals)}</b></span
		>
		<span>in use {figure(inUse, decimals)}, {signed(implied - inUse!, decimals)}</span>
		<button type="button" class="quiet text-accent" onclick={() => hold(season, Number(implied.toFixed(6)))}
			>hold it</button
		>
	{:else}<span>implies which index? In use {figure(inUse, decimals)}</span>
	{/if}
</p>
