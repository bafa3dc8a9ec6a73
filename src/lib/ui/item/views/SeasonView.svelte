<script lang="ts">
	import Button from '../../kit/Button.svelte';
	import { BOUNDS } from '$core/bounds';
	import type { Diagnosis } from '$core/diagnosis/diagnosis';
	import { periodWord } from '$core/series/frequency';
	import { arithmetic } from '../../../browser-worker/arithmetic';
	import { Latest } from '../../../browser-worker/latest';
	import type { ItemState } from '../state/item-state.svelte';
	import FigureInput from '../../kit/FigureInput.svelte';
	import SeasonEach from './SeasonEach.svelte';
	import SeasonIndices from './SeasonIndices.svelte';
	import SeasonLevels from './SeasonLevels.svelte';
	import SeasonLine from './SeasonLine.svelte';
	import SeasonLook from './SeasonLook.svelte';
	import { findsIndices, setSeasonLength, takesIndices } from '../state/season-settings';

	let { itemState }: { itemState: ItemState } = $props();

	const PARTS = [
		{ id: 'look', name: 'Look' },
		{ id: 'indices', name: 'Indices' },
		{ id: 'line', name: 'Line' },
		{ id: 'levels', name: 'Levels' },
		{ id: 'each', name: 'Each season' },
	] as const;
	type Part = (typeof PARTS)[number]['id'];

	/** Where the chosen candidate is worked on, until another part is asked for. */
	const usual = $derived.by((): Part => {
		if (takesIndices(itemState.lineUp.chosen)) return 'indices';
		if (findsIndices(itemState.lineUp.chosen)) return 'line';
		return itemState.lineUp.chosen?.method === 'per-season' ? 'each' : 'look';
	});
	let asked = $state<Part | null>(null);
	const part = $derived(asked ?? usual);

	const series = $derived(itemState.series);
	const length = $derived(series.seasonLength);
	let seen = $state.raw<Diagnosis | null>(null);
	const looks = new Latest<Parameters<ReturnType<typeof arithmetic>['diagnose']>, Diagnosis>(
		(question) => arithmetic().diagnose(...question),
		(answer) => (seen = answer),
		() => (seen = null),
	);
	$effect(() => {
		looks.put([
			series.worked,
			{
				frequency: series.frequency,
				expected: series.seasonLength,
				only: itemState.lineUp.layers.seasonLength !== null,
			},
		]);
	});
</script>

<div class="flex h-full flex-col text-[13px]">
	<div class="flex flex-wrap items-center gap-x-4 gap-y-1 px-4 py-1">
		<span class="flex gap-3" role="group" aria-label="Parts of Season">
			{#each PARTS as { id, name } (id)}
				<Button
					class={part === id ? 'font-semibold' : ''}
					aria-pressed={part === id}
					data-season-part={id}
					onclick={() => (asked = id)}>{name}</Button
				>
			{/each}
		</span>
		<label class="ml-auto flex items-center gap-1.5 text-ink-2">
			season of
			<FigureInput
				label="Season length"
				value={length}
				whole
				least={1}
				most={BOUNDS.seasonLength}
				take={(value) => setSeasonLength(itemState, value!)}
				class="h-6 w-14 rounded-md border border-edge bg-panel px-1.5 py-0 text-[13px] text-ink"
			/>
			{periodWord(series.frequency, length)}
		</label>
		{#if itemState.lineUp.layers.seasonLength !== null}
			<Button onclick={() => itemState.lineUp.layOver({ seasonLength: null })}
				>the item’s own again ({itemState.item.series.seasonLength})</Button
			>
		{:else if seen?.season && seen.season.length !== length}
			<Button class="text-accent" onclick={() => setSeasonLength(itemState, seen!.season!.length)}
				>use {seen.season.length}, as found</Button
			>
		{/if}
	</div>
	<div class="min-h-0 flex-1">
		{#if part === 'look'}
			<SeasonLook {itemState} {seen} />
		{:else if length < 2}
			<p class="px-4 pt-6 text-ink-2">
				By the {periodWord(series.frequency, 1)} there is no season in the calendar. Set a length above to take
				seasons apart.
			</p>
		{:else if part === 'indices'}<SeasonIndices {itemState} {seen} />
		{:else if part === 'line'}<SeasonLine {itemState} />
		{:else if part === 'levels'}<SeasonLevels {itemState} />
		{:else}<SeasonEach {itemState} />{/if}
	</div>
</div>
