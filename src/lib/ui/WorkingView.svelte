<script lang="ts">
	import { untrack } from 'svelte';
	import { describePeriod } from '$core/series/period';
	import { sentence } from '$core/working/table';
	import { methodOf } from '$core/methods/registry';
	import { csv } from './csv';
	import { figure, saveFile } from './format';
	import type { ItemState } from './item-state.svelte';

	let { desk }: { desk: ItemState } = $props();

	const ROW = 24;
	const SPARE = 6;
	const series = $derived(desk.series);
	let scrolled = $state(0);
	let room = $state(300);
	const height = $derived(Math.max(4, Math.floor(room / ROW)) * ROW);
	let viewport: HTMLDivElement | undefined = $state();
	/** The cell that is spelled out: 1-based period and column. */
	let spot = $state({ t: Infinity, column: 1 });

	const shown = $derived(
		desk.working && desk.chosen
			? { label: methodOf(desk.chosen.method).label(desk.chosen), table: desk.working }
			: null,
	);
	const columns = $derived(shown?.table.columns ?? []);
	const periods = $derived(columns[0]?.values.length ?? 0);
	const from = $derived(Math.max(0, Math.floor(scrolled / ROW) - SPARE));
	const rows = $derived(
		Array.from(
			{ length: Math.max(0, Math.min(periods, Math.ceil((scrolled + height) / ROW) + SPARE) - from) },
			(_, i) => from + i + 1,
		),
	);
	const at = $derived({ t: Math.min(spot.t, periods), column: Math.min(spot.column, columns.length - 1) });
	const spelled = $derived.by(() => {
		const column = columns[at.column];
		if (!column) return null;
		const text = sentence(column, at.t);
		if (text) return text;
		if (column.values[at.t - 1] != null)
			return `${column.name} = ${figure(column.values[at.t - 1], column.decimals)} (brought in)`;
		return column.key === 'actual'
			? 'No actual in this period.'
			: `No ${column.name.toLowerCase()} in this period.`;
	});

	const period = (t: number) => describePeriod(series.frequency, series.first + t - 1);

	// A new look begins at the end, where the next forecast is made; a table drawn anew stands where the last one
	// stood, since the rows that are drawn are chosen by it.
	let placed = false;
	$effect(() => {
		if (!viewport || periods === 0) return;
		viewport.scrollTop = placed ? untrack(() => scrolled) : periods * ROW;
		placed = true;
		scrolled = viewport.scrollTop;
	});

	function go(t: number, column: number) {
		spot = {
			t: Math.max(1, Math.min(periods, t)),
			column: Math.max(0, Math.min(columns.length - 1, column)),
		};
		if (!viewport) return;
		const top = (spot.t - 1) * ROW;
		const room = height - 2 * ROW;
		if (top < viewport.scrollTop) viewport.scrollTop = top;
		if (top > viewport.scrollTop + room - ROW) viewport.scrollTop = top - room + ROW;
		requestAnimationFrame(() =>
			document.getElementById(`cell-${spot.t}-${spot.column}`)?.focus({ preventScroll: false }),
		);
	}

	function key(event: KeyboardEvent) {
		const page = Math.max(1, Math.floor(height / ROW) - 3);
		const moves: Record<string, [number, number]> = {
			ArrowDown: [at.t + 1, at.column],
			ArrowUp: [at.t - 1, at.column],
			ArrowLeft: [at.t, at.column - 1],
			ArrowRight: [at.t, at.column + 1],
			PageDown: [at.t + page, at.column],
			PageUp: [at.t - page, at.column],
			Home: [1, at.column],
			End: [periods, at.column],
		};
		const move = moves[event.key];
		if (!move) return;
		event.preventDefault();
		event.stopPropagation();
		go(...move);
	}

	function takeAway() {
		if (!shown) return;
		const head = ['period', ...columns.map(({ name }) => name)];
		const equations = ['', ...columns.map(({ equation }) => equation)];
		const body = Array.from({ length: periods }, (_, i) => [
			period(i + 1),
			...columns.map(({ values }) => values[i] ?? null),
		]);
		saveFile(`${desk.item.code} ${shown.label} working.csv`, csv([head, equations, ...body]), 'text/csv');
	}
</script>

<div class="flex h-full flex-col">
	{#if !shown}
		<p class="px-4 py-4 text-ink-2">
			{desk.candidates.length === 0
				? 'Add a candidate to see its arithmetic.'
				: 'There is no arithmetic to show: this candidate does not run.'}
		</p>
	{:else}
		<div class="flex shrink-0 items-baseline gap-4 px-4 pt-2 pb-1 text-[13px]">
			<h2 class="font-semibold">{shown.label}, period by period</h2>
			<button type="button" class="quiet ml-auto" onclick={() => go(1, at.column)}>first</button>
			<button type="button" class="quiet" onclick={() => go(periods, at.column)}>last</button>
			<button type="button" class="quiet" onclick={takeAway}>take away as CSV</button>
		</div>
		<div bind:clientHeight={room} class="min-h-0 flex-1">
			<!-- As high as whole rows, so that none is cut through under the head. -->
			<div
				bind:this={viewport}
				class="overflow-auto"
				style:height="{height}px"
				onscroll={() => (scrolled = viewport?.scrollTop ?? 0)}
			>
				<div
					role="grid"
					tabindex="-1"
					aria-label="{shown.label}, working"
					aria-rowcount={periods + 1}
					aria-colcount={columns.length + 1}
					class="relative w-max min-w-full text-[13px]"
					style:height="{(periods + 1) * ROW}px"
					onkeydown={key}
				>
					<div
						role="row"
						aria-rowindex="1"
						class="sticky top-0 z-10 flex border-b border-rule bg-paper text-ink-2"
						style:height="{ROW}px"
					>
						<span role="columnheader" class="sticky left-0 w-[104px] shrink-0 bg-paper pl-4">period</span>
						{#each columns as { key: name, name: head, equation } (name)}
							<span role="columnheader" class="w-[78px] shrink-0 pr-3 text-right" title={equation}
								>{head}</span
							>
						{/each}
					</div>
					{#each rows as t (t)}
						<div
							role="row"
							aria-rowindex={t + 1}
							class="absolute flex border-b border-rule"
							style:top="{t * ROW}px"
							style:height="{ROW}px"
						>
							<span
								role="rowheader"
								class="sticky left-0 w-[104px] shrink-0 truncate bg-paper pl-4 leading-[23px] text-ink-2"
							>
								{period(t)}
							</span>
							{#each columns as column, c (column.key)}
								<span
									id="cell-{t}-{c}"
									role="gridcell"
									tabindex={t === at.t && c === at.column ? 0 : -1}
									data-working="{column.key} {t}"
									class="figures w-[78px] shrink-0 cursor-default pr-3 leading-[23px] {t === at.t &&
									c === at.column
										? 'bg-wash font-semibold shadow-[inset_0_-2px_0_var(--accent)]'
										: 'hover:bg-wash'}"
									onmouseenter={() => (spot = { t, column: c })}
									onfocus={() => (spot = { t, column: c })}
									>{figure(column.values[t - 1], column.decimals)}</span
								>
							{/each}
						</div>
					{/each}
				</div>
			</div>
		</div>
		<div class="shrink-0 border-t border-rule bg-panel px-4 py-2" aria-live="polite">
			<p class="text-[12px] text-ink-2">
				{period(at.t)} · {columns[at.column]?.name}: {columns[at.column]?.equation}
			</p>
			<p
				class="figures mt-0.5 max-h-16 overflow-y-auto text-left text-[13px] whitespace-normal"
				data-working="sentence"
			>
				{spelled}
			</p>
		</div>
	{/if}
</div>
