<script lang="ts">
	import { takesLetters } from '../../base/keys';
	import Button from '../../kit/Button.svelte';
	import Key from '../../kit/Key.svelte';
	import { untrack } from 'svelte';
	import { describePeriod, formatPeriod } from '$core/series/period';
	import { sentence, spelledSentence } from '$core/questions/working-table';
	import { constantsOfCandidate, methodOf } from '$core/methods/registry';
	import Export from '../../export/Export.svelte';
	import { scaled, typedFigure } from '../../base/format';
	import type { ItemState } from '../state/item-state.svelte';
	import { inMark } from '../../../reader.svelte';
	import { scaleWords } from '$core/numbers/figure';
	import { workingRows } from '../../export/working-rows';
	import { steady } from '../state/steady';
	import PeriodField from '../../kit/PeriodField.svelte';
	import Unready from './Unready.svelte';

	let { itemState }: { itemState: ItemState } = $props();

	const ROW = 24;
	const SPARE = 6;
	const series = $derived(itemState.series);
	let scrolled = $state(0);
	let room = $state(300);
	let viewport: HTMLDivElement | undefined = $state();
	/** The cell that is spelled out: 1-based period and column. */
	let spot = $state<{ t: number | null; column: number }>({ t: null, column: 1 });

	const shown = $derived(
		itemState.answers.working && itemState.lineUp.chosen
			? {
					label: methodOf(itemState.lineUp.chosen.method).label(itemState.lineUp.chosen),
					table: itemState.answers.working,
				}
			: null,
	);
	const columns = $derived(shown?.table.columns ?? []);
	const hold = steady<{ key: string }>();
	/** What the columns are, the same for as long as only figures change: a cell of the same column and period stays. */
	const columnKeys = $derived(hold(columns.map(({ key }) => ({ key }))));
	/** Of two lines where some figures are in thousands, millions and so on. */
	const head = $derived(columns.some(({ scale }) => scale.power !== 0) ? 36 : ROW);
	const height = $derived(head + Math.max(3, Math.floor((room - head) / ROW)) * ROW);
	const known = $derived(shown?.table.periods ?? 0);
	/** The steps that go on from the last period that was fitted. */
	const ahead = $derived.by(() => {
		const result = itemState.answers.chosen;
		return result?.heldBack ?? result?.ahead ?? [];
	});
	/** Rows: the periods, and those to come. */
	const periods = $derived(known + ahead.length);
	const from = $derived(Math.max(0, Math.floor(scrolled / ROW) - SPARE));
	const rows = $derived(
		Array.from(
			{ length: Math.max(0, Math.min(periods, Math.ceil((scrolled + height) / ROW) + SPARE) - from) },
			(_, i) => from + i + 1,
		),
	);
	const at = $derived({
		t: Math.min(spot.t ?? known, periods),
		column: Math.min(spot.column, columns.length - 1),
	});
	const spelled = $derived.by(() => {
		const column = columns[at.column];
		if (!column || !shown) return null;
		if (at.t > known) {
			const { step, mean } = ahead[at.t - known - 1]!;
			const said = shown.table.explainAhead(step);
			if (column.key !== 'fitted')
				return `${period(at.t)} is ${itemState.answers.holdout > 0 ? 'in the holdout' : 'still to come'}.`;
			return said && mean !== null
				? inMark(spelledSentence(column.name, said, mean, column.decimals))
				: 'No forecast for this period.';
		}
		const text = sentence(column, at.t);
		if (text) return inMark(text);
		const brought = column.value(at.t);
		if (brought !== null) return `${column.name} = ${typedFigure(brought)} (brought in)`;
		return column.key === 'actual'
			? 'No actual in this period.'
			: `No ${column.name.toLowerCase()} in this period.`;
	});

	/** Room for “Wed 18 Mar 2026” and “18 Mar 2026 14:00”. */
	const periodWidth = $derived(/^(hour|day|weekday)$/.test(series.frequency) ? 128 : 104);
	const period = (t: number) => describePeriod(series.frequency, series.first + t - 1);

	/** The figure of a cell; of periods to come the forecast alone. */
	function valueAt(column: (typeof columns)[number], t: number): number | null {
		if (t <= known) return column.value(t);
		return column.key === 'fitted' ? ahead[t - known - 1]!.mean : null;
	}

	const rowAt = (t: number) => columns.map((column) => scaled(valueAt(column, t), column.scale));

	// A new look begins at the end, where the next forecast is made; a table drawn anew stands where the last one
	// stood, since the rows that are drawn are chosen by it.
	let placed = false;
	$effect(() => {
		if (!viewport || periods === 0) return;
		viewport.scrollTop = placed
			? untrack(() => scrolled)
			: Math.max(0, untrack(() => head - height) + (known + 1) * ROW);
		placed = true;
		scrolled = viewport.scrollTop;
	});

	function go(t: number, column: number) {
		const row = Math.max(1, Math.min(periods, t));
		spot = { t: row, column: Math.max(0, Math.min(columns.length - 1, column)) };
		if (!viewport) return;
		const top = (row - 1) * ROW;
		const room = height - head - ROW;
		if (top < viewport.scrollTop) viewport.scrollTop = top;
		if (top > viewport.scrollTop + room - ROW) viewport.scrollTop = top - room + ROW;
		requestAnimationFrame(() =>
			document.getElementById(`cell-${row}-${spot.column}`)?.focus({ preventScroll: false }),
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

	let goToField: HTMLInputElement | undefined = $state();

	/** The table as it stands, equations under the names, what lies ahead at its end. */
	const rowsToExport = () =>
		workingRows({
			title: `${itemState.item.code} ${itemState.item.name}, ${shown!.label}${constantsSaid}`,
			table: shown!.table,
			ahead,
			period: (t) => String(formatPeriod(series.frequency, series.first + t - 1)),
		});
	const constantsSaid = $derived.by(() => {
		const chosen = itemState.lineUp.chosen;
		if (!chosen) return '';
		const { constants = {} } = itemState.answers.resultFor(chosen.id) ?? {};
		return constantsOfCandidate(chosen)
			.map(({ key, symbol }) => `, ${symbol} = ${constants[key]}`)
			.join('');
	});

	function shortcut(event: KeyboardEvent) {
		if (event.key !== 'g' || event.ctrlKey || event.metaKey || event.altKey) return;
		if (takesLetters(event.target)) return;
		event.preventDefault();
		goToField?.select();
	}
</script>

<svelte:window onkeydown={shortcut} />

<div class="flex h-full flex-col">
	{#if !shown}
		<Unready {itemState} what="its arithmetic" />
	{:else}
		<div class="flex shrink-0 flex-wrap items-baseline gap-x-4 px-4 pt-2 pb-1 text-[13px]">
			<h2 class="min-w-0 flex-1 basis-32 truncate font-semibold" title={shown.label}>
				{shown.label}, period by period
			</h2>
			<span class="ml-auto flex shrink-0 items-baseline gap-2 text-ink-2">
				<Button onclick={() => go(1, at.column)}>first</Button>
				<Button onclick={() => go(known, at.column)}>last</Button>
				<PeriodField
					bind:field={goToField}
					{series}
					count={periods}
					label="Go to period"
					title="Go to a period"
					taken="entered"
					take={(place) => place !== null && go(place, at.column)}><Key>g</Key></PeriodField
				>
			</span>
			<Export
				name="{itemState.item.code} {shown.label} working"
				of="Working"
				rows={rowsToExport}
				sheet="Working"
			/>
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
					style:height="{head + periods * ROW}px"
					onkeydown={key}
				>
					<div
						role="row"
						aria-rowindex="1"
						class="sticky top-0 z-10 flex border-b border-rule bg-paper text-ink-2"
						style:height="{head}px"
					>
						<span
							role="columnheader"
							class="sticky left-0 shrink-0 bg-paper pl-4"
							style:width="{periodWidth}px">period</span
						>
						{#each columns as { key: name, name: head, short, equation, scale } (name)}
							<span
								role="columnheader"
								class="w-[84px] shrink-0 pr-3 text-right leading-[1.15]"
								title="{head}: {equation}"
								><span class="block truncate">{short ?? head}</span>{#if scale.power !== 0}<span
										class="block truncate text-[11px]">{scaleWords(scale)}</span
									>{/if}</span
							>
						{/each}
					</div>
					{#each rows as t (t)}
						{@const figures = rowAt(t)}
						<div
							role="row"
							aria-rowindex={t + 1}
							class="absolute flex border-b border-rule {t > known ? 'bg-wash' : ''}"
							style:top="{head + (t - 1) * ROW}px"
							style:height="{ROW}px"
						>
							<span
								role="rowheader"
								class="sticky left-0 shrink-0 truncate pl-4 leading-[23px] text-ink-2 {t > known
									? 'bg-wash'
									: 'bg-paper'}"
								style:width="{periodWidth}px"
							>
								{period(t)}
							</span>
							{#each columnKeys as { key: columnKey }, c (columnKey)}
								<span
									id="cell-{t}-{c}"
									role="gridcell"
									tabindex={t === at.t && c === at.column ? 0 : -1}
									data-working="{columnKey} {t}"
									class="figures w-[84px] shrink-0 cursor-default pr-3 leading-[23px] {t === at.t &&
									c === at.column
										? 'bg-wash font-semibold shadow-[inset_0_-2px_0_var(--accent)]'
										: 'hover:bg-wash'}"
									onmouseenter={() => (spot = { t, column: c })}
									onfocus={() => (spot = { t, column: c })}>{figures[c]}</span
								>
							{/each}
						</div>
					{/each}
				</div>
			</div>
		</div>
		<div class="shrink-0 border-t border-rule bg-panel px-4 py-2" aria-live="polite">
			<p class="text-[12px] text-ink-2">
				{period(at.t)} · {columns[at.column]?.name}: {at.t > known && columns[at.column]?.key === 'fitted'
					? shown.table.ahead
					: columns[at.column]?.equation}
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
