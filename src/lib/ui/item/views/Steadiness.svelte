<script lang="ts">
	import type { Constant } from '$core/contract/candidate';
	import { type Candidate, withTuned } from '$core/methods/registry';
	import { steadinessOrigins } from '$core/questions/steadiness';
	import { describePeriod } from '$core/series/period';
	import { type SteadinessPoint, steadinessWords } from '$core/words/steadiness';
	import Chart from '../../../charts/Chart.svelte';
	import type { Palette } from '../../../charts/palette';
	import { steadinessOption } from '../../../charts/terrain';
	import { inMark } from '../../../reader.svelte';
	import { arithmeticAside } from '../../../browser-worker/arithmetic';
	import type { ConstantsQuestion } from '../../../browser-worker/evaluate.worker';
	import type { Rows } from '../../export/cells';
	import Export from '../../export/Export.svelte';
	import Button from '../../kit/Button.svelte';
	import { theme } from '../../base/theme.svelte';
	import type { ItemState } from '../state/item-state.svelte';
	import { questionOf } from './constants-question';

	interface Props {
		itemState: ItemState;
		candidate: Candidate;
		constants: readonly Constant[];
		label: string;
		criterion: string;
	}

	let { itemState, candidate, constants, label, criterion }: Props = $props();

	// One origin after the other, apart from the page, until something that it rests on changes.
	const steadinessKey = $derived.by((): string => {
		// Searched as its limits say, whatever it stands at.
		const optimise = itemState.lineUp.searchOf(candidate);
		return JSON.stringify(questionOf(itemState, withTuned(candidate, { optimise, constants: undefined })));
	});
	let points = $state.raw<readonly SteadinessPoint[]>([]);
	let looked = $state({ done: 0, of: 0 });
	let stopped = $state(false);
	$effect(() => {
		const text = steadinessKey;
		stopped = false;
		points = [];
		looked = { done: 0, of: 0 };
		const asks = JSON.parse(text) as ConstantsQuestion;
		const origins = steadinessOrigins(asks.series.values.length);
		let current = true;
		void (async () => {
			const found: SteadinessPoint[] = [];
			for (const [i, origin] of origins.entries()) {
				const point = await arithmeticAside().steadiness(asks, origin, found.at(-1)?.constants ?? null);
				if (!current || stopped) return;
				if (point) found.push(point);
				looked = { done: i + 1, of: origins.length };
				if (i % 8 === 7 || i === origins.length - 1) points = [...found];
			}
		})();
		return () => (current = false);
	});
	const finished = $derived(looked.of > 0 && looked.done === looked.of);
	const nameOf = (origin: number) =>
		describePeriod(itemState.series.frequency, itemState.series.first + origin - 1);
	const steadyWords = $derived(
		finished
			? points.length > 0
				? steadinessWords(points, candidate, nameOf)
				: 'Too few periods to look for the best constants at more than one origin.'
			: null,
	);
	const steadyOption = $derived.by(() => {
		const figures = {
			periods: points.map(({ origin }) => nameOf(origin)),
			lines: constants.map(({ key, symbol }) => ({
				symbol,
				values: points.map((point) => point.constants[key]!),
			})),
		};
		return (palette: Palette) => steadinessOption(figures, palette);
	});

	const steadinessRows = (): Rows => [
		['period', ...constants.map(({ name }) => name), criterion],
		...points.map(({ origin, constants: best, value }) => [
			nameOf(origin),
			...constants.map(({ key }) => best[key]!),
			value,
		]),
	];
</script>

<!-- The best constants at each origin, and whether they stay. -->
<h3 class="mt-2 flex items-baseline gap-2 font-semibold">
	Best constants through time
	{#if finished && points.length > 0}<span class="ml-auto font-normal"
			><Export
				name="{itemState.item.code} {label} steadiness"
				of="Best constants through time"
				rows={steadinessRows}
			/></span
		>{/if}
</h3>
{#if points.length > 1}
	<div class="h-28">
		<Chart option={steadyOption} theme={theme.name} label="Best constants at each origin" />
	</div>
{/if}
{#if steadyWords}
	<p data-steadiness>{inMark(steadyWords)}</p>
{:else if stopped}
	<p class="text-ink-2">Stopped at {looked.done} of {looked.of} origins.</p>
{:else if looked.of > 0}
	<p class="text-ink-2">
		{looked.done} of {looked.of} origins
		<Button class="ml-2" onclick={() => (stopped = true)}>stop</Button>
	</p>
{/if}
