<script lang="ts">
	import Button from '../../kit/Button.svelte';
	import { figureAt } from '$core/numbers/known';
	import { seasonName } from '$core/series/season-name';
	import { cycleName } from '../state/season-settings';
	import { scaled } from '../../base/format';
	import type { Rows } from '../../export/cells';
	import Export from '../../export/Export.svelte';
	import InnerChoice from '../parts/InnerChoice.svelte';
	import Unready from './Unready.svelte';
	import type { ItemState } from '../state/item-state.svelte';

	let { itemState }: { itemState: ItemState } = $props();

	const series = $derived(itemState.series);
	const length = $derived(series.seasonLength);
	const lead = $derived(itemState.firstSeason - 1);
	const candidate = $derived(
		itemState.lineUp.chosen?.method === 'per-season' ? itemState.lineUp.chosen : undefined,
	);
	const result = $derived(candidate ? itemState.answers.resultFor(candidate.id) : undefined);
	const place = $derived(itemState.lineUp.rows.findIndex(({ id }) => id === itemState.lineUp.chosenId));
	const cycles = $derived(Math.ceil((lead + series.values.length) / length));
	/** Cycles to come that the forecast reaches. */
	const toCome = $derived(
		Math.ceil((lead + series.values.length + (result?.ahead.length ?? 0)) / length) - cycles,
	);
	const columns = $derived(length <= 4 ? 2 : length <= 12 ? 4 : 6);

	interface Own {
		name: string;
		actual: { x: number; y: number }[];
		fitted: { x: number; y: number }[];
		ahead: { x: number; y: number }[];
		next: number | null;
	}
	const owns = $derived(
		Array.from({ length }, (_, j): Own => {
			const own: Own = {
				name: seasonName(series.frequency, length, j + 1),
				actual: [],
				fitted: [],
				ahead: [],
				next: null,
			};
			for (let cycle = 0; cycle < cycles + toCome; cycle++) {
				const i = cycle * length + j - lead;
				if (i < 0) continue;
				const value = series.worked[i] ?? null;
				if (value !== null) own.actual.push({ x: cycle, y: value });
				const fitted = figureAt(result?.perPeriod?.fitted, i);
				if (fitted !== null) own.fitted.push({ x: cycle, y: fitted });
				const ahead = result?.ahead[i - series.values.length]?.mean ?? null;
				if (i >= series.values.length && ahead !== null) {
					own.ahead.push({ x: cycle, y: ahead });
					own.next ??= ahead;
				}
			}
			return own;
		}),
	);
	const range = $derived.by(() => {
		const all = owns.flatMap(({ actual, fitted, ahead }) =>
			[...actual, ...fitted, ...ahead].map(({ y }) => y),
		);
		const [low, high] = [Math.min(...all), Math.max(...all)];
		const room = (high - low || Math.abs(high) || 1) * 0.08;
		return [low - room, high + room] as const;
	});

	/** A row a season: its figures cycle by cycle, and the next one. */
	const rows = (): Rows => [
		['season', ...Array.from({ length: cycles }, (_, cycle) => cycleName(itemState, cycle, lead)), 'next'],
		...owns.map(({ name, actual, next }) => [
			name,
			...Array.from({ length: cycles }, (_, cycle) => actual.find(({ x }) => x === cycle)?.y ?? null),
			next,
		]),
	];

	const WIDTH = 120;
	const HEIGHT = 62;
	const x = (at: number) => 6 + (at / Math.max(1, cycles + toCome - 1)) * (WIDTH - 12);
	const y = (value: number) => HEIGHT - 4 - ((value - range[0]) / (range[1] - range[0])) * (HEIGHT - 8);
	const path = (points: readonly { x: number; y: number }[]) =>
		points
			.map((point, i) => `${i === 0 ? 'M' : 'L'}${x(point.x).toFixed(1)} ${y(point.y).toFixed(1)}`)
			.join('');
	const joined = ({ fitted, ahead }: Own) => [...fitted, ...ahead];
	const colour = $derived(`var(--candidate-${(Math.max(0, place) % 8) + 1})`);
	const firstYear = $derived(cycleName(itemState, 0, lead));
	const lastYear = $derived(cycleName(itemState, cycles - 1, lead));
</script>

<div class="flex h-full flex-col" data-season-each>
	<div class="flex flex-wrap items-center gap-x-3 gap-y-1 px-4 pb-1 text-ink-2">
		{#if candidate}
			<span>each season from its own past, by</span>
			<InnerChoice lineUp={itemState.lineUp} {candidate} />
			<span class="ml-auto text-[12px]"
				>{itemState.unit ? `${itemState.unit}, ` : ''}{firstYear} to {lastYear}, one scale for all</span
			>
		{:else}
			<span>Each season is forecast from its own past only.</span>
			<Button
				look="offer"
				onclick={() => itemState.lineUp.add({ method: 'per-season', inner: { method: 'average' } })}
				>+ forecast each from its own past</Button
			>
		{/if}
	</div>
	<div class="flex justify-end px-4 pb-1">
		<Export name="{itemState.item.code} seasons apart" of="Each season" {rows} sheet="Seasons" />
	</div>
	<!-- svelte-ignore a11y_no_noninteractive_tabindex (scrolled with the keyboard) -->
	<div
		class="min-h-0 flex-1 overflow-y-auto px-4 pb-2"
		tabindex="0"
		role="region"
		aria-label="Each season by itself"
	>
		<ul class="grid gap-x-4 gap-y-1.5" style:grid-template-columns="repeat({columns}, minmax(0, 1fr))">
			{#each owns as own (own.name)}
				<li data-own-season={own.name} data-own-next={own.next}>
					<p class="flex items-baseline justify-between text-[12px]">
						<span class="font-medium">{own.name}</span>
						{#if own.next !== null}<span class="figures text-ink-2"
								>next <b class="text-ink">{scaled(own.next, itemState.scale)}</b></span
							>{/if}
					</p>
					<svg
						viewBox="0 0 {WIDTH} {HEIGHT}"
						class="w-full border border-rule bg-panel"
						role="img"
						aria-label="{own.name}: {own.actual.length} figures{own.next === null
							? ''
							: `, next ${scaled(own.next, itemState.scale)}`}"
					>
						{#if toCome > 0}<rect
								x={x(cycles - 0.5)}
								y="0"
								width={WIDTH - x(cycles - 0.5)}
								height={HEIGHT}
								fill="var(--wash)"
							/>{/if}
						<path d={path(own.actual)} fill="none" stroke="var(--ink)" stroke-width="0.8" />
						{#each own.actual as point (point.x)}<circle
								cx={x(point.x)}
								cy={y(point.y)}
								r="1.6"
								fill="var(--ink)"
							/>{/each}
						{#if candidate}
							<path d={path(joined(own))} fill="none" stroke={colour} stroke-width="1.6" />
							{#each own.ahead as point (point.x)}<rect
									x={x(point.x) - 1.8}
									y={y(point.y) - 1.8}
									width="3.6"
									height="3.6"
									fill={colour}
								/>{/each}
						{/if}
					</svg>
				</li>
			{/each}
		</ul>
		{#if candidate && !result}<Unready {itemState} what="each season ahead" />{/if}
	</div>
</div>
