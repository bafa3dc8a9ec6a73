<script lang="ts">
	import { percent } from '$core/words/chance';
	import { untrack } from 'svelte';
	import Button from '../kit/Button.svelte';
	import Head from '../kit/Head.svelte';
	import type { ECharts } from 'echarts/core';
	import { figureAt } from '$core/numbers/known';
	import { aPeriod } from '$core/series/frequency';
	import { describePeriod } from '$core/series/period';
	import Chart from '../../charts/Chart.svelte';
	import type { Palette } from '../../charts/palette';
	import { numberedScenarios, STRIP_MARGINS, stripOption } from '../../charts/strip';
	import CandidateMark from './CandidateMark.svelte';
	import type { AheadStep, Evaluated } from '$core/questions/answer';
	import type { Mark } from '$core/series/layers';
	import { MARK_WORDS } from '../../charts/marks';
	import type { Rows } from '../export/cells';
	import Export from '../export/Export.svelte';
	import HoldBack from './HoldBack.svelte';
	import HoldHandle from './HoldHandle.svelte';
	import LayerShape from './parts/LayerShape.svelte';
	import { scaled, scaledSigned } from '../base/format';
	import type { ItemState } from './state/item-state.svelte';
	import { steady } from './state/steady';
	import { theme } from '../base/theme.svelte';

	let { itemState }: { itemState: ItemState } = $props();

	const series = $derived(itemState.series);
	const n = $derived(series.values.length);
	const MARKS = Object.keys(MARK_WORDS) as Mark[];
	let axisFrom = $state<'lowest' | 'zero'>('lowest');
	let plot = $state.raw<ECharts | null>(null);
	let chart: Chart | undefined = $state();
	/** 0-based period that is read; null: the next period to come. */
	let pointed = $state<number | null>(null);
	/** How often the strip was drawn: its scale is another one each time. */
	let drawings = $state(0);

	const horizon = $derived(itemState.answers.shown?.request.horizon ?? itemState.answers.horizon);
	const count = $derived(n + horizon);
	const RECENT = $derived(Math.max(24, Math.min(60, 2 * series.seasonLength + 12)));
	let shownWindow = $state.raw<[number, number] | null>(null);
	const frame = $derived<[number, number]>(shownWindow ?? [n > 400 ? n - 200 : 0, count - 1]);

	const hold = steady<{ id: string; place: number; chosen: boolean; result: Evaluated }>();
	/** Candidates with figures that are not hidden: the same list until figures change, however far a dial is ahead of them. */
	const shownResults = $derived(
		hold(
			itemState.lineUp.rows.flatMap(({ id }, place) => {
				const result = itemState.answers.resultFor(id);
				if (!result || itemState.lineUp.hidden.includes(id)) return [];
				return [{ id, place, chosen: id === itemState.lineUp.chosenId, result }];
			}),
		),
	);
	const held = $derived(itemState.answers.shown?.request.holdout ?? 0);
	const lines = $derived(
		shownResults.map((line) => ({
			...line,
			fitted: [
				...(line.result.perPeriod?.fitted ?? []),
				...(line.result.heldBack ?? []).map(({ mean }) => mean ?? NaN),
			],
			ahead: line.result.ahead.map(({ mean }) => mean),
		})),
	);
	/** A record that is laid over what came, with its ranges from its origin on. */
	const laid = $derived.by(() => {
		const record = itemState.record.laid;
		if (!record) return null;
		const steps = record.steps.filter(({ period }) => period < series.first + count);
		return { record, steps, from: record.origin + 1 - series.first, finals: steps.map(({ final }) => final) };
	});
	/** What is handed over for the items of a sum, added up, where it reaches into what is on the strip. */
	const itsItems = $derived.by(() => {
		const ahead = itemState.record.itsItems.filter(({ period }) => period < series.first + count);
		return ahead.length === 0
			? null
			: { from: ahead[0]!.period - series.first, figures: ahead.map(({ figure }) => figure) };
	});
	/** What is handed over where that is another figure than the computed one. */
	const handedOver = $derived.by(() => {
		const ahead = itemState.answers.chosen?.ahead ?? [];
		return itemState.record.finals.map((final, i) => (final === ahead[i]?.mean ? null : final));
	});
	const fans = $derived.by(() => {
		if (laid) {
			const levels = [...new Set(laid.steps.flatMap(({ ranges }) => Object.keys(ranges)))];
			return levels
				.sort((a, b) => Number(b) - Number(a))
				.map((level, depth) => ({
					from: laid.from,
					depth,
					ranges: laid.steps.map(({ ranges }) => itemState.rangeShown(ranges[level])),
				}));
		}
		const chosen = lines.find((line) => line.chosen);
		if (!chosen) return [];
		const levels = [...(itemState.answers.shown?.request.levels ?? [])].sort((a, b) => b - a);
		const fan = (from: number, steps: readonly AheadStep[]) =>
			levels.map((level, depth) => ({
				from,
				depth,
				ranges: steps.map(({ ranges }) => itemState.rangeShown(ranges[String(level)])),
			}));
		return [...fan(n - held, chosen.result.heldBack ?? []), ...fan(n, chosen.result.ahead)];
	});

	/** Left-out periods have no point on the line: a cross stands in their place. */
	const actuals = $derived(
		series.values.map((value, i) => (series.marks.get(i)?.includes('left-out') ? null : value)),
	);
	const marks = $derived(
		[...series.marks].flatMap(([position, list]) =>
			list.map((mark) => ({ position, mark, value: heightOf(position, mark) })),
		),
	);
	/** Where a mark stands: on its figure, or between the neighbours of a gap. */
	function heightOf(position: number, mark: Mark): number | null {
		if (mark === 'filled') return series.worked[position]!;
		const own = series.values[position] ?? series.worked[position] ?? null;
		if (own !== null) return own;
		const before = series.values.findLast((value, i) => value !== null && i < position) ?? null;
		const after = series.values.find((value, i) => value !== null && i > position) ?? null;
		return before === null || after === null ? (before ?? after) : (before + after) / 2;
	}
	const legend = $derived(
		MARKS.flatMap((mark) => {
			const count = marks.filter((each) => each.mark === mark).length;
			return count > 0 ? [{ mark, count }] : [];
		}),
	);

	/** What is drawn of the chosen candidate beside its forecast, when asked. */
	let drawn = $state<('level' | 'trend')[]>([]);
	const states = $derived.by(() => {
		const result = itemState.answers.chosen;
		const { level, trend } = result?.perPeriod?.states ?? {};
		if (!level) return [];
		const phi = result!.constants.phi ?? 1;
		const stepped = trend && [NaN, ...level.map((value, i) => value + phi * trend[i]!)];
		return [
			{ key: 'level' as const, name: 'level', values: level, dashed: false },
			...(stepped
				? [{ key: 'trend' as const, name: 'level with trend', values: stepped, dashed: true }]
				: []),
		];
	});

	/** Levels that the chosen candidate keeps side by side: what each of them gives. */
	const scenarios = $derived.by(() => {
		const result = itemState.answers.chosen;
		if (!result?.scenarios || result.scenarios.length < 2 || itemState.lineUp.hidden.includes(result.id))
			return [];
		return numberedScenarios(result.scenarios, series.values);
	});

	const option = $derived.by(() => {
		const figures = {
			frequency: series.frequency,
			first: series.first,
			actuals,
			marks,
			lines,
			fans,
			states: states.filter(({ key }) => drawn.includes(key)),
			scenarios,
			finals: handedOver,
			record: laid && { from: laid.from, figures: laid.finals },
			itsItems,
			held,
			horizon,
			axisFrom,
			window: frame,
			scale: itemState.scale,
		};
		return (palette: Palette) => stripOption(figures, palette);
	});

	const at = $derived(pointed ?? Math.min(n, count - 1));
	const readings = $derived(
		lines.map((line) => {
			const value = figureAt(at < n ? line.fitted : line.ahead, at < n ? at : at - n);
			const actual = at < n ? (series.values[at] ?? null) : null;
			const label = itemState.answers.names.get(line.id);
			return { ...line, label, value, error: value === null || actual === null ? null : actual - value };
		}),
	);

	/** What the laid record said of the period that is read. */
	const laidAt = $derived(laid?.steps.find(({ period }) => period === series.first + at) ?? null);

	function ready(made: ECharts) {
		plot = made;
		made.on('datazoom', () => {
			const { startValue, endValue } = (
				made.getOption().dataZoom as { startValue: number; endValue: number }[]
			)[0]!;
			shownWindow = [startValue, endValue];
		});
		made.getZr().on('mousemove', ({ offsetX, offsetY }) => {
			if (offsetY > made.getHeight() - STRIP_MARGINS.bottom + 4) return;
			const [index] = made.convertFromPixel({ gridIndex: 0 }, [offsetX, offsetY]) as [number, number];
			if (stretch) stretch = [stretch[0], positionAt(offsetX, offsetY)];
			point(index);
		});
		made.getZr().on('globalout', () => point(null));
		made.getZr().on('mousedown', ({ offsetX, offsetY, event }) => {
			const shift = (event as unknown as MouseEvent).shiftKey;
			if (offsetY > made.getHeight() - STRIP_MARGINS.bottom + 4 || (!leaving && !shift)) return;
			const at = positionAt(offsetX, offsetY);
			stretch = [at, at];
		});
	}

	/** Whether dragging across the strip leaves periods out. */
	let leaving = $state(false);
	/** Where a 0-based position stands, in pixels, as the strip is drawn now; NaN before it is. */
	const xOf = $derived.by(() => {
		const made = drawings > 0 ? plot : null;
		return (position: number) =>
			made ? ((made.convertToPixel({ xAxisIndex: 0 }, position) as number | undefined) ?? NaN) : NaN;
	});
	/** First and last position that are dragged across, in any order. */
	let stretch = $state.raw<[number, number] | null>(null);
	const stretched = $derived.by(() => {
		if (!stretch) return null;
		const [from, to] = [Math.min(...stretch), Math.max(...stretch)];
		const half = (xOf(1) - xOf(0)) / 2;
		return { from, to, left: xOf(from) - half, width: xOf(to) - xOf(from) + 2 * half };
	});

	function positionAt(x: number, y: number): number {
		const [index] = plot!.convertFromPixel({ gridIndex: 0 }, [x, y]) as [number, number];
		return Math.max(0, Math.min(n - 1, Math.round(index)));
	}

	/** Where the chosen candidate's trial made its forecasts, while that is looked at. */
	const originMarks = $derived.by(() => {
		const origins = itemState.answers.trialOpen ? (itemState.answers.chosen?.trial?.origins ?? 0) : 0;
		const known = n - held;
		return Array.from({ length: origins }, (_, i) => known - 1 - i)
			.filter((position) => position - 1 >= frame[0] && position - 1 <= frame[1])
			.map((position) => xOf(position - 1))
			.filter(Number.isFinite);
	});

	/** Leaves a stretch of periods out, or puts it back where all of it is out already. */
	function leaveOut(from: number, to: number) {
		const periods = Array.from({ length: to - from + 1 }, (_, i) => series.first + from + i);
		const { leftOut } = itemState.lineUp.layers;
		const back = periods.every((period) => leftOut.includes(period));
		const others = leftOut.filter((period) => !periods.includes(period));
		itemState.lineUp.layOver({
			leftOut: back ? others : [...others, ...periods].sort((a, b) => a - b),
			off: itemState.lineUp.layers.off.filter((layer) => layer !== 'left-out'),
		});
	}

	function letGo() {
		if (!stretched) return;
		leaveOut(stretched.from, stretched.to);
		stretch = null;
		leaving = false;
	}

	function point(index: number | null) {
		if (index === null || !plot) {
			pointed = null;
			return;
		}
		pointed = Math.max(frame[0], Math.min(frame[1], Math.round(index)));
	}

	function key(event: KeyboardEvent) {
		const leap = event.shiftKey ? 10 : 1;
		const moves: Record<string, number> = {
			ArrowLeft: at - leap,
			ArrowRight: at + leap,
			Home: frame[0],
			End: frame[1],
		};
		if (event.key === 'Escape') {
			point(null);
			stretch = null;
			leaving = false;
		} else if (event.key === 'x' && at < n) leaveOut(at, at);
		else if (moves[event.key] !== undefined) point(moves[event.key]!);
		else return;
		event.preventDefault();
		event.stopPropagation();
	}

	const title = $derived(
		`Demand${itemState.measured ? `, ${itemState.measured}` : ''} ${aPeriod(series.frequency)}`,
	);
	const zooms = $derived([
		{ name: 'all', to: [0, count - 1] as [number, number] },
		...(n > RECENT ? [{ name: `last ${RECENT}`, to: [n - RECENT, count - 1] as [number, number] }] : []),
		{ name: 'end', to: [Math.max(0, n - Math.max(12, horizon)), count - 1] as [number, number] },
	]);
	const near = (a: readonly number[], b: readonly number[]) =>
		a.every((value, i) => Math.abs(value - b[i]!) < 1);

	/** The strip for a printed page, without what one can press: an SVG document; null while there is none. */
	export function picture(palette: Palette, width: number, height: number): string | null {
		if (!plot) return null;
		const [startValue, endValue] = frame;
		const put = {
			backgroundColor: 'transparent',
			grid: { ...STRIP_MARGINS, left: 52, right: 12, bottom: 24 },
			dataZoom: [{ type: 'inside', startValue, endValue }],
		};
		return chart?.svg({ width, height, palette, put }) ?? null;
	}

	const rows = (): Rows => [
		['period', 'actual', ...lines.map(({ id }) => itemState.answers.names.get(id)!)],
		...Array.from({ length: count }, (_, i) => [
			describePeriod(series.frequency, series.first + i),
			series.values[i] ?? null,
			...lines.map(({ fitted, ahead }) => figureAt(i < n ? fitted : ahead, i < n ? i : i - n)),
		]),
	];
</script>

<svelte:window onmouseup={letGo} />

{#snippet dashes(stroke: string, pattern: string)}
	<svg width="26" height="10" aria-hidden="true">
		<line x1="0" x2="26" y1="5" y2="5" {stroke} stroke-width="1.8" stroke-dasharray={pattern} />
	</svg>
{/snippet}

<div class="h-full wide:grid wide:grid-cols-[minmax(0,1fr)_296px]">
	<div class="flex h-[308px] min-w-0 flex-col wide:h-auto">
		<div class="flex shrink-0 flex-wrap items-baseline gap-x-4 px-4 pt-1.5 text-[13px]">
			<h2 class="font-semibold">{title}</h2>
			<HoldBack {itemState} />
			<span class="ml-auto flex gap-2 text-ink-2">
				axis from
				<Button aria-pressed={axisFrom === 'lowest'} onclick={() => (axisFrom = 'lowest')}>lowest</Button>
				<Button aria-pressed={axisFrom === 'zero'} onclick={() => (axisFrom = 'zero')}>zero</Button>
			</span>
			<Button
				aria-pressed={leaving}
				title="Drag across the strip; or hold Shift and drag"
				onclick={() => (leaving = !leaving)}>leave periods out</Button
			>
			<span class="flex gap-2 text-ink-2">
				show
				{#each zooms as { name, to } (name)}
					<Button aria-pressed={near(frame, to)} onclick={() => (shownWindow = to)}>{name}</Button>
				{/each}
			</span>
			<Export name="{itemState.item.code} strip" of="Strip" {rows} {chart} />
		</div>
		<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions (the reading line is moved with the arrow keys) -->
		<div
			class="relative min-h-0 flex-1 -outline-offset-2"
			role="group"
			tabindex="0"
			aria-label="Strip; the arrow keys move the reading line"
			onkeydown={key}
			onblur={() => point(null)}
		>
			<Chart
				bind:this={chart}
				{option}
				{ready}
				theme={theme.name}
				label="{title}: actuals, candidates and what lies ahead"
				drawn={(milliseconds) => {
					// Told from within the drawing, which must not wait for its own count.
					drawings = untrack(() => drawings) + 1;
					performance.mark('strip drawn', { detail: milliseconds });
				}}
			/>
			{#if stretched}
				<div
					class="pointer-events-none absolute border-x border-bad bg-[color-mix(in_srgb,var(--bad)_12%,transparent)]"
					style:left="{stretched.left}px"
					style:width="{stretched.width}px"
					style:top="{STRIP_MARGINS.top}px"
					style:bottom="{STRIP_MARGINS.bottom}px"
				></div>
			{/if}
			<HoldHandle {itemState} {plot} {frame} {xOf} />
			{#each originMarks as left (left)}
				<span
					class="pointer-events-none absolute h-[7px] w-px bg-accent"
					data-origin
					style:left="{left}px"
					style:bottom="{STRIP_MARGINS.bottom}px"
				></span>
			{/each}
			{#if pointed !== null}
				<div
					class="pointer-events-none absolute w-px bg-ink"
					style:left="{xOf(pointed)}px"
					style:top="{STRIP_MARGINS.top}px"
					style:bottom="{STRIP_MARGINS.bottom}px"
				></div>
			{/if}
		</div>
	</div>

	<div
		class="min-h-0 overflow-y-auto border-rule px-3 pt-1.5 text-[13px] wide:border-l"
		aria-label="Reading line"
		role="region"
	>
		<table class="w-full">
			<caption class="sr-only">Figures at the reading line</caption>
			<thead>
				<tr class="text-ink-2">
					<th class="pb-1 text-left font-semibold text-ink" colspan="2" data-reading="period">
						{describePeriod(series.frequency, series.first + at)}
					</th>
					<th class="figures pb-1 font-sans font-normal">figure</th>
					<th class="figures pb-1 pl-2 font-sans font-normal"><Head name="error" term="error" /></th>
				</tr>
			</thead>
			<tbody>
				<tr class="border-t border-rule">
					<td class="w-9 py-1">
						<svg width="26" height="10" aria-hidden="true">
							<line x1="0" x2="26" y1="5" y2="5" stroke="var(--ink)" />
							<circle cx="13" cy="5" r="2.5" fill="var(--ink)" />
						</svg>
					</td>
					<td>Actual</td>
					<td class="figures" data-reading="actual">
						{at < n ? scaled(series.values[at], itemState.actualScale) : 'to come'}
					</td>
					<td></td>
				</tr>
				{#if laidAt}
					<tr class="border-t border-rule text-accent" data-reading="record">
						<td class="py-1">
							{@render dashes('var(--accent)', '2 2')}
						</td>
						<td class="py-0.5 leading-4"
							>adopted after {describePeriod(series.frequency, laid!.record.origin)}</td
						>
						<td class="figures pl-2">{scaled(laidAt.final, itemState.scale)}</td>
						<td class="figures pl-2"
							>{at < n && series.values[at] !== null && series.values[at] !== undefined
								? scaledSigned(series.values[at]! - laidAt.final, itemState.scale)
								: ''}</td
						>
					</tr>
				{/if}
				{#if itsItems && itsItems.figures[at - itsItems.from] !== undefined}
					<tr class="border-t border-rule" data-reading="its-items">
						<td class="py-1">
							{@render dashes('var(--ink)', '1 3')}
						</td>
						<td class="py-0.5 leading-4">sum of its items’ forecasts</td>
						<td class="figures pl-2">{scaled(itsItems.figures[at - itsItems.from], itemState.scale)}</td>
						<td></td>
					</tr>
				{/if}
				{#each readings as { id, label, place, chosen, value, error } (id)}
					<tr class="border-t border-rule {chosen ? 'font-semibold' : ''}" data-reading={id}>
						<td class="py-1"><CandidateMark {place} bold={chosen} /></td>
						<td class="py-0.5 leading-4">{label}</td>
						<td class="figures pl-2">{scaled(value, itemState.scale)}</td>
						<td class="figures pl-2">{at < n ? scaledSigned(error, itemState.scale) : ''}</td>
					</tr>
				{/each}
			</tbody>
		</table>
		{#each states as { key, name, values, dashed } (key)}
			<p class="mt-1 flex items-center gap-2 border-t border-rule pt-1 text-ink-2">
				<svg width="26" height="10" aria-hidden="true">
					<line
						x1="0"
						x2="26"
						y1="5"
						y2="5"
						stroke={drawn.includes(key) ? 'var(--accent)' : 'var(--edge)'}
						stroke-width="1.6"
						stroke-dasharray={dashed ? '4 3' : undefined}
					/>
				</svg>
				<Button
					aria-pressed={drawn.includes(key)}
					title="Draw it on the strip"
					onclick={() =>
						(drawn = drawn.includes(key) ? drawn.filter((other) => other !== key) : [...drawn, key])}
					>{name}</Button
				>
				<span class="figures ml-auto" data-reading-state={key}
					>{scaled(figureAt(values, at === n && values.length === n ? n - 1 : at), itemState.scale)}</span
				>
			</p>
		{/each}
		{#each series.marks.get(at) ?? [] as mark (mark)}
			<p class="mt-1 flex items-center gap-2 border-t border-rule pt-1" data-mark={mark}>
				<LayerShape {mark} />
				{#if mark === 'corrected'}corrected from {scaled(series.raw[at], itemState.actualScale)}
				{:else if mark === 'filled'}filled: {scaled(series.worked[at], itemState.scale)}
				{:else if mark === 'event'}{itemState.lineUp.layers.events[series.first + at]}
				{:else}{MARK_WORDS[mark]}{/if}
			</p>
		{/each}
		{#if legend.length > 0}
			<p
				class="mt-1 flex flex-wrap gap-x-3 gap-y-0.5 border-t border-rule pt-1 text-ink-2"
				aria-label="Marks on the strip"
				data-legend
			>
				{#each legend as { mark, count } (mark)}
					<span class="flex items-center gap-1"><LayerShape {mark} /> {count} {MARK_WORDS[mark]}</span>
				{/each}
			</p>
		{/if}
		{#if at >= n && fans.length > 0}
			{@const chosen = lines.find((line) => line.chosen)}
			{#each [...(itemState.answers.shown?.request.levels ?? [])].sort((a, b) => b - a) as level (level)}
				{@const range = itemState.rangeShown(chosen?.result.ahead[at - n]?.ranges[String(level)])}
				{#if range}
					<p class="mt-1 flex justify-between border-t border-rule pt-1 text-ink-2">
						<span>{percent(level)} range</span>
						<span class="figures"
							>{scaled(range[0], itemState.answers.rangeScale)} to {scaled(
								range[1],
								itemState.answers.rangeScale,
							)}</span
						>
					</p>
				{/if}
			{/each}
		{/if}
	</div>
</div>
