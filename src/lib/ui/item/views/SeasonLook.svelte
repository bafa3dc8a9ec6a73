<script lang="ts">
	import Button from '../../kit/Button.svelte';
	import Busy from '../../kit/Busy.svelte';
	import { describePeriod } from '$core/series/period';
	import type { Diagnosis } from '$core/diagnosis/diagnosis';
	import { diagnosisWords } from '$core/words/diagnosis';
	import { seasonName } from '$core/series/season-name';
	import { aPeriod, CALENDAR_SEASON_LENGTH, periodWord } from '$core/series/frequency';
	import Chart from '../../../charts/Chart.svelte';
	import type { Palette } from '../../../charts/palette';
	import { type Cycles, cyclesOption, seasonsOption } from '../../../charts/season';
	import type { Rows } from '../../export/cells';
	import Export from '../../export/Export.svelte';
	import { inMark } from '../../../reader.svelte';
	import type { ItemState } from '../state/item-state.svelte';
	import { setSeasonLength } from '../state/season-settings';
	import { theme } from '../../base/theme.svelte';

	let { itemState, seen }: { itemState: ItemState; seen: Diagnosis | null } = $props();

	const series = $derived(itemState.series);
	const length = $derived(series.seasonLength);
	let showing = $state<'cycles' | 'seasons'>('cycles');
	let chart: Chart | undefined = $state();

	const cycles = $derived.by((): Cycles | null => {
		if (length < 2 || series.worked.length < length + 1) return null;
		const lead = itemState.firstSeason - 1;
		const count = Math.ceil((lead + series.worked.length) / length);
		const rows = Array.from({ length: count }, (_, c) => {
			const values = Array.from({ length }, (_, j) => series.worked[c * length + j - lead] ?? null);
			const last = Math.min(series.worked.length - 1, c * length + length - 1 - lead);
			const name = describePeriod(series.frequency, series.first + last);
			return {
				name: series.frequency === 'step' ? `cycle ${c + 1}` : (/\d{4}/.exec(name)?.[0] ?? name),
				values,
			};
		});
		return {
			seasons: Array.from({ length }, (_, j) => seasonName(series.frequency, length, j + 1)),
			rows,
			power: itemState.scale.power,
		};
	});
	const present = $derived(series.worked.filter((value) => value !== null));
	const level = $derived(present.reduce((sum, value) => sum + value, 0) / Math.max(1, present.length));
	const statements = $derived(
		seen
			? diagnosisWords(seen, {
					frequency: series.frequency,
					first: series.first,
					level,
					firstSeason: seen.season && seen.season.length !== length ? 1 : itemState.firstSeason,
					seasonLength: length,
				})
			: [],
	);
	const SIGN = { yes: '●', no: '○', unknown: '?' };
	const option = $derived.by(() => {
		const shown = cycles ?? { seasons: [], rows: [], power: 0 };
		return (palette: Palette) =>
			showing === 'cycles' ? cyclesOption(shown, palette) : seasonsOption(shown, palette);
	});
	const title = $derived(
		showing === 'cycles'
			? 'Cycles over each other, the newest bold'
			: 'Each season across the cycles, with its mean',
	);

	const setLength = (length: number) => setSeasonLength(itemState, length);

	const rows = (): Rows => [
		['cycle', ...(cycles?.seasons ?? [])],
		...(cycles?.rows ?? []).map(({ name, values }) => [name, ...values]),
	];
</script>

<div class="flex h-full flex-col text-[13px]">
	<div class="flex flex-wrap items-center gap-x-4 gap-y-1 px-4">
		<span class="flex gap-2">
			<Button aria-pressed={showing === 'cycles'} onclick={() => (showing = 'cycles')}>cycles</Button>
			<Button aria-pressed={showing === 'seasons'} onclick={() => (showing = 'seasons')}>seasons</Button>
		</span>
		<span class="ml-auto"><Export name="{itemState.item.code} seasons" of="Seasons" {rows} {chart} /></span>
	</div>
	<div class="min-h-36 flex-1 px-2">
		{#if cycles}
			<h3 class="px-2 pt-1 text-[12px] text-ink-2">
				{title}{itemState.measured ? ` (${itemState.measured} ${aPeriod(series.frequency)})` : ''}
			</h3>
			<div class="h-[calc(100%-1.4rem)]">
				<Chart bind:this={chart} {option} theme={theme.name} label={title} />
			</div>
		{:else}
			<p class="px-2 pt-6 text-ink-2">
				{length < 2
					? `By the ${periodWord(series.frequency, 1)} there is no season in the calendar. Set a length above to draw cycles over each other.`
					: `There is less than one cycle of ${length} here; cycles are drawn over each other from the second on.`}
			</p>
		{/if}
	</div>
	<ul
		class="max-h-[46%] shrink-0 overflow-y-auto border-t border-rule px-4 py-1.5"
		aria-label="What the figures say"
		data-look
	>
		{#if !seen}<li><Busy words="Testing for a season…" /></li>{/if}
		{#each statements as { code, says, text } (code)}
			<li
				class="flex gap-2 py-0.5 {says === 'yes' ? '' : 'text-ink-2'}"
				data-statement={code}
				data-says={says}
			>
				<span aria-hidden="true" class={says === 'yes' ? 'text-accent' : ''}>{SIGN[says]}</span><span
					>{inMark(text)}</span
				>
			</li>
		{/each}
		{#if seen && seen.tested.length > 1}
			<li class="flex flex-wrap items-center gap-x-3 py-0.5 text-[12px] text-ink-2">
				tested, the strongest first:
				{#each seen.tested.slice(0, 5) as test (test.length)}
					<Button
						class="figures"
						aria-pressed={length === test.length}
						title="explains {Math.round(100 * test.strength)} %{test.found ? '' : ', as chance may show'}"
						onclick={() => setLength(test.length)}
						>{test.length}{test.length === CALENDAR_SEASON_LENGTH[series.frequency] ? ' (calendar)' : ''}: {Math.round(
							100 * test.strength,
						)} %{test.found ? ' ✓' : ''}</Button
					>
				{/each}
			</li>
		{/if}
	</ul>
</div>
