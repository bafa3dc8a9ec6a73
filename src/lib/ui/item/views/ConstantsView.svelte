<script lang="ts">
	import Choice from '../../kit/Choice.svelte';
	import Button from '../../kit/Button.svelte';
	import type { ECharts } from 'echarts/core';
	import type { Constant } from '$core/contract/candidate';
	import { constantsOfCandidate, methodOf, tunedSettings, withTuned } from '$core/methods/registry';
	import { boundWords } from '$core/words/bound';
	import { scaleOf } from '$core/numbers/figure';
	import { MEASURES } from '$core/accuracy/measures';
	import type { Terrain } from '$core/questions/terrain';
	import { BANDS, bandOpacity, curveOption, mapOption, TERRAIN_MARGINS } from '../../../charts/terrain';
	import Chart from '../../../charts/Chart.svelte';
	import type { Palette } from '../../../charts/palette';
	import { arithmeticAside } from '../../../browser-worker/arithmetic';
	import type { ConstantsQuestion } from '../../../browser-worker/evaluate.worker';
	import { Latest } from '../../../browser-worker/latest';
	import type { Rows } from '../../export/cells';
	import Export from '../../export/Export.svelte';
	import CriterionChoice from '../parts/CriterionChoice.svelte';
	import { questionOf } from './constants-question';
	import SearchLimits from './SearchLimits.svelte';
	import Steadiness from './Steadiness.svelte';
	import ConstantDial from '../parts/ConstantDial.svelte';
	import { inMark } from '../../../reader.svelte';
	import { figure, inWordsOn } from '../../base/format';
	import type { ItemState } from '../state/item-state.svelte';
	import { theme } from '../../base/theme.svelte';

	let { itemState }: { itemState: ItemState } = $props();

	const candidate = $derived(itemState.lineUp.chosen);
	const constants = $derived(candidate ? constantsOfCandidate(candidate) : []);
	const label = $derived(candidate ? methodOf(candidate.method).label(candidate) : '');
	const result = $derived(itemState.answers.chosen);
	const place = $derived(itemState.lineUp.rows.findIndex(({ id }) => id === itemState.lineUp.chosenId));
	const criterion = $derived(MEASURES[itemState.lineUp.criterion].name);

	/** The axes asked for by hand; the first two constants where none were. */
	let asked = $state<Constant['key'][]>([]);
	const axes = $derived.by(() => {
		const own = constants.map(({ key }) => key);
		const wanted = asked.filter((key) => own.includes(key));
		return [...new Set([...wanted, ...own])].slice(0, Math.min(2, own.length));
	});
	const constantFor = (key: string) => constants.find((constant) => constant.key === key)!;
	const others = $derived(constants.filter(({ key }) => !axes.includes(key)));

	const terrainQuestion = $derived.by((): string | null => {
		if (!candidate || constants.length === 0) return null;
		const held = Object.fromEntries(
			others.map((constant) => [constant.key, itemState.lineUp.constantOf(candidate, constant)]),
		);
		// A start that is searched stands as it was found.
		const { start } = tunedSettings(candidate);
		const stands =
			start?.rule === 'optimised' && result?.start ? { ...result.start, rule: 'given' as const } : start;
		const asks = questionOf(
			itemState,
			withTuned(candidate, { start: stands, constants: held, optimise: undefined }),
		);
		return JSON.stringify([asks, axes]);
	});
	let land = $state.raw<Terrain | string | null>(null);
	const terrains = new Latest<string, Terrain | string>(
		(text) => arithmeticAside().terrainOf(...(JSON.parse(text) as [ConstantsQuestion, Constant['key'][]])),
		(answer) => (land = answer),
		(error) => (land = error instanceof Error ? error.message : String(error)),
	);
	$effect(() => {
		if (terrainQuestion === null) land = null;
		else terrains.put(terrainQuestion);
	});
	/** The terrain of the axes that are shown; that of others is on its way out. */
	const shown = $derived(
		land && typeof land === 'object' && land.axes.map(({ key }) => key).join() === axes.join() ? land : null,
	);
	/** How the valleys' errors are shown. */
	const scale = $derived(scaleOf(shown?.valleys.slice(0, 4).map(({ value }) => value) ?? []));
	const said = (value: number) => inWordsOn(value, scale);
	const here = $derived(
		candidate ? axes.map((key) => itemState.lineUp.constantOf(candidate, constantFor(key))) : [],
	);

	const option = $derived.by(() => {
		const now = shown;
		if (!now) return null;
		const best = now.valleys[0]!.value;
		const figures = {
			axes: now.axes.map(({ key, values }) => ({ symbol: constantFor(key).symbol, values })),
			values: now.values,
			best,
			valleys: now.valleys.slice(0, 4).map((valley) => ({
				at: axes.map((key) => valley.constants[key]!),
				label: said(valley.value),
			})),
			here,
			flat: now.flat[axes[0]!] ?? null,
			criterion,
			place,
		};
		return (palette: Palette) =>
			axes.length === 1 ? curveOption(figures, palette) : mapOption(figures, palette);
	});

	let plot = $state.raw<ECharts | null>(null);
	let chart: Chart | undefined = $state();
	let surface: HTMLDivElement | undefined = $state();

	const spot = (
		at: Readonly<Record<string, number>>,
		keys: readonly string[] = constants.map(({ key }) => key),
	) => keys.map((key) => `${constantFor(key).symbol} ${figure(at[key]!, 2)}`).join(', ');

	function set(change: Record<string, number>) {
		if (!candidate) return;
		const bounded = Object.fromEntries(
			Object.entries(change).map(([key, value]) => {
				const [low, high] = constantFor(key).searched;
				return [key, Math.min(high, Math.max(low, Math.round(value * 1000) / 1000))];
			}),
		);
		itemState.lineUp.turn(candidate, bounded);
	}

	function drag(event: PointerEvent) {
		if (!plot || !surface) return;
		const { left, top } = surface.getBoundingClientRect();
		const [x, y] = plot.convertFromPixel({ gridIndex: 0 }, [
			event.clientX - left + TERRAIN_MARGINS.left,
			event.clientY - top + TERRAIN_MARGINS.top,
		]) as [number, number];
		set(axes.length === 1 ? { [axes[0]!]: x } : { [axes[0]!]: x, [axes[1]!]: y });
	}

	function key(event: KeyboardEvent) {
		const leap = event.shiftKey ? 0.1 : 0.01;
		const moves: Record<string, [number, number]> = {
			ArrowLeft: [0, -leap],
			ArrowRight: [0, leap],
			ArrowDown: [axes.length - 1, -leap],
			ArrowUp: [axes.length - 1, leap],
		};
		const move = moves[event.key];
		if (!move) return;
		event.preventDefault();
		event.stopPropagation();
		set({ [axes[move[0]]!]: here[move[0]]! + move[1] });
	}

	const onBound = $derived(
		candidate
			? constants.flatMap((constant) => {
					const words = boundWords(constant, itemState.lineUp.constantOf(candidate, constant));
					return words ? [`${constant.symbol}: ${words}`] : [];
				})
			: [],
	);
	const within = $derived(
		shown
			? axes
					.map(
						(key) =>
							`${constantFor(key).symbol} ${shown.flat[key]!.map((value) => figure(value, 2)).join(' to ')}`,
					)
					.join(', ')
			: '',
	);

	function terrainRows(): Rows {
		if (!shown) return [];
		const width = shown.axes[0]!.values.length;
		return [
			[...axes.map((key) => constantFor(key).name), criterion],
			...shown.values.map((value, i) => [
				shown.axes[0]!.values[i % width]!,
				...(axes.length > 1 ? [shown.axes[1]!.values[Math.floor(i / width)]!] : []),
				value,
			]),
		];
	}
</script>

{#if !candidate || constants.length === 0}
	<p class="px-4 py-4 text-ink-2">
		{candidate
			? `${label} has no constants to set. Choose a candidate that smooths, or add one.`
			: 'Add a candidate that smooths to see how its error depends on its constants.'}
	</p>
{:else}
	<div class="flex h-full flex-col text-[13px]">
		<div class="flex shrink-0 flex-wrap items-center gap-x-3 gap-y-0.5 px-4 pt-1.5">
			<label class="text-ink-2">
				<CriterionChoice lineUp={itemState.lineUp} label="Criterion" />
				over
			</label>
			{#if constants.length > 2}
				{#each axes as axis, i (i)}
					<Choice
						label={i === 0 ? 'Constant across' : 'Constant upwards'}
						value={axis}
						of={constants.map(({ key }) => key)}
						names={(key) => `${constantFor(key).symbol} ${constantFor(key).name.replace(' constant', '')}`}
						take={(next) => {
							const other = axes[1 - i]!;
							asked = i === 0 ? [next, other === next ? axis : other] : [other === next ? axis : other, next];
						}}
					/>
					{#if i === 0}<span class="text-ink-2">and</span>{/if}
				{/each}
			{:else}
				<span class="text-ink-2"
					>{axes.map((key) => `${constantFor(key).symbol} ${constantFor(key).name}`).join(' and ')}</span
				>
			{/if}
			{#each others as constant (constant.key)}
				<ConstantDial
					lineUp={itemState.lineUp}
					{candidate}
					{constant}
					label="{label}, {constant.name}, beside the map"
					narrow
				/>
			{/each}
			<Button class="ml-auto" onclick={() => itemState.lineUp.findBest([candidate.id])}>best constants</Button
			>
		</div>
		<div class="grid min-h-0 flex-1 grid-cols-[minmax(0,57fr)_minmax(0,43fr)]">
			<div class="flex min-h-0 flex-col border-r border-rule">
				<div class="relative min-h-32 flex-1">
					{#if option}
						<Chart
							parts={() => import('../../../charts/engine-shapes')}
							bind:this={chart}
							{option}
							ready={(made) => (plot = made)}
							theme={theme.name}
							label="{criterion} over {axes.map((key) => constantFor(key).name).join(' and ')}"
						/>
						<div
							bind:this={surface}
							class="absolute cursor-crosshair touch-none"
							style:left="{TERRAIN_MARGINS.left}px"
							style:right="{TERRAIN_MARGINS.right}px"
							style:top="{TERRAIN_MARGINS.top}px"
							style:bottom="{TERRAIN_MARGINS.bottom}px"
							role="slider"
							tabindex="0"
							aria-label="{label} on the terrain; arrow keys move {axes
								.map((key) => constantFor(key).name)
								.join(' and ')}"
							aria-valuemin={constantFor(axes[0]!).searched[0]}
							aria-valuemax={constantFor(axes[0]!).searched[1]}
							aria-valuenow={here[0]}
							aria-valuetext={axes
								.map((key, i) => `${constantFor(key).name} ${figure(here[i]!, 2)}`)
								.join(', ')}
							data-terrain={axes.join(' ')}
							onpointerdown={(event) => {
								surface!.setPointerCapture(event.pointerId);
								drag(event);
							}}
							onpointermove={(event) => surface!.hasPointerCapture(event.pointerId) && drag(event)}
							onpointerup={() => itemState.lineUp.lift()}
							onkeydown={key}
							onkeyup={() => itemState.lineUp.lift()}
						></div>
					{:else}
						<p class="px-4 py-4 {typeof land === 'string' ? 'text-bad' : 'text-ink-2'}">
							{typeof land === 'string' ? inMark(land) : 'Calculating…'}
						</p>
					{/if}
				</div>
				{#if shown}
					<p class="flex flex-wrap items-center gap-x-2 px-4 pb-1 text-[12px] text-ink-2">
						{#if axes.length > 1}
							% above the smallest
							{#each BANDS as limit, band (limit)}
								<span class="flex items-center gap-1"
									><span
										class="inline-block size-3"
										style:background="var(--candidate-{(place % 8) + 1})"
										style:opacity={bandOpacity(band)}
									></span>{100 * limit}</span
								>
							{/each}
						{:else}
							tinted: within 1 % of the smallest
						{/if}
						<span class="ml-auto"
							><Export
								name="{itemState.item.code} {label} constants"
								of="The error over the constants"
								rows={terrainRows}
								{chart}
							/></span
						>
					</p>
				{/if}
			</div>
			<div class="min-h-0 overflow-y-auto px-4 pt-1.5 pb-2" data-constants="says">
				{#if shown}
					<ul aria-label="Minima">
						{#each shown.valleys.slice(0, 4) as valley, i (i)}
							<li>
								<button
									type="button"
									class="text-left hover:underline"
									title="Set the constants there"
									data-valley={i}
									onclick={() => set(Object.fromEntries(axes.map((key) => [key, valley.constants[key]!])))}
									><span class={i === 0 ? 'font-semibold' : ''}>{spot(valley.constants, axes)}</span>
									<span class="figures">{said(valley.value)}</span>
									<span class="text-ink-2"
										>{i === 0
											? 'the least'
											: shown.valleys[0]!.value > 0
												? `+${figure(100 * (valley.value / shown.valleys[0]!.value - 1), 1)} %`
												: ''}</span
									></button
								>
							</li>
						{/each}
					</ul>
					<p class="mt-0.5 text-ink-2">
						Within 1 % of it: {within}, one at a time. Over its own {result?.measures.own.count ?? 0} scored periods.
					</p>
				{/if}
				{#each onBound as words (words)}<p class="mt-1 text-warn" data-bound>{inMark(words)}</p>{/each}
				<SearchLimits lineUp={itemState.lineUp} {candidate} {constants} />
				<Steadiness {itemState} {candidate} {constants} {label} {criterion} />
			</div>
		</div>
	</div>
{/if}
