<script lang="ts">
	import TextInput from '../../kit/TextInput.svelte';
	import Tick from '../../kit/Tick.svelte';
	import LongList from '../../kit/LongList.svelte';
	import Choice from '../../kit/Choice.svelte';
	import Button from '../../kit/Button.svelte';
	import { tick, untrack } from 'svelte';
	import { BOUNDS } from '$core/bounds';
	import { GAP_RULES, type GapRule } from '$core/series/gaps';
	import { hasUnevenPeriods } from '$core/series/frequency';
	import type { Layer } from '$core/series/layers';
	import { describePeriod } from '$core/series/period';
	import { MARK_WORDS } from '../../../charts/marks';
	import { figure, moment, scaled, typedFigure } from '../../base/format';
	import type { ItemState } from '../state/item-state.svelte';
	import FigureInput from '../../kit/FigureInput.svelte';
	import LayerShape from '../parts/LayerShape.svelte';
	import { inMark, reader } from '../../../reader.svelte';
	import { type Fill, fillFrom, readColumn } from './paste-column';
	import { without } from '$core/series/layer-entries';
	import { entryWords, RULE_WORDS } from '$core/words/layers';
	import Export from '../../export/Export.svelte';
	import { seriesRows } from '../state/series-rows';

	let { itemState }: { itemState: ItemState } = $props();

	const ROW = 30;
	/** Changes of a pasted column that are shown before it is filled in. */
	const PREVIEWED = 6;
	const focused = (button: HTMLElement) => button.focus();
	const series = $derived(itemState.series);
	const layers = $derived(itemState.lineUp.layers);
	/** One row more than there are periods: the next figure is appended there. */
	const count = $derived(series.values.length + 1);

	let list: LongList | undefined = $state();
	let showRecord = $state(false);

	// The newest figures are what is looked at first.
	$effect(() => {
		list?.show(untrack(() => count) - 1);
	});

	const SWITCHES: { layer: Layer; name: string }[] = [
		{ layer: 'correction', name: 'corrected' },
		{ layer: 'gap', name: 'by a rule of their own' },
		{ layer: 'left-out', name: 'left out' },
		{ layer: 'event', name: 'pinned' },
	];
	const size = (layer: Layer) =>
		({
			correction: Object.keys(layers.corrections).length,
			gap: Object.keys(layers.gaps).length,
			'left-out': layers.leftOut.length,
			event: Object.keys(layers.events).length,
			'gap-rule': Number(layers.gapRule !== 'skip'),
			'per-day': Number(layers.perDay),
		})[layer];
	function toggle(layer: Layer) {
		const off = layers.off.includes(layer)
			? layers.off.filter((each) => each !== layer)
			: [...layers.off, layer];
		itemState.lineUp.layOver({ off });
	}

	/** Room for the longest figure as it is typed: with the same places for all, the lowest or the highest. */
	const figuresWidth = $derived.by(() => {
		let [low, high] = [0, 0];
		for (const value of series.values) {
			low = Math.min(low, value ?? 0);
			high = Math.max(high, value ?? 0);
		}
		const longest = Math.max(...[low, high].map((value) => figure(value, itemState.actualDecimals).length));
		return Math.max(84, 22 + 7.2 * longest);
	});

	/** Takes what was typed: a figure over the actual, or the actual again where the cell was emptied. */
	function take(position: number, to: number | null): void {
		const period = series.first + position;
		const over = series.raw[position] ?? null;
		if (to === null || to === over) {
			if (layers.corrections[period])
				itemState.lineUp.layOver({ corrections: without(layers.corrections, [period]) });
			return;
		}
		itemState.lineUp.layOver({
			corrections: { ...layers.corrections, [period]: { to, over } },
			off: layers.off.filter((layer) => layer !== 'correction'),
		});
	}

	/** A column that was pasted, before it is filled in; or why it cannot be. */
	let pasted = $state.raw<{ position: number; fill: Fill } | { refused: string } | null>(null);

	function paste(event: ClipboardEvent, position: number) {
		const text = event.clipboardData?.getData('text/plain') ?? '';
		// A single figure is typed like any other.
		if (!/[\n\t]/.test(text.trim())) return;
		event.preventDefault();
		const column = readColumn(text, reader.mark, series.frequency);
		const fill = 'refused' in column ? column : fillFrom(series, position, column.value!);
		const first = 'refused' in fill ? position : (fill.value!.changes[0]?.position ?? position);
		pasted = 'refused' in fill ? fill : { position: first, fill: fill.value! };
	}

	async function fillIn() {
		if (!pasted || 'refused' in pasted) return;
		const { position, fill } = pasted;
		const filled = Object.fromEntries(
			fill.changes.map(({ position, period, to }) => [period, { to, over: series.raw[position] ?? null }]),
		);
		itemState.lineUp.layOver({
			corrections: { ...layers.corrections, ...filled },
			off: layers.off.filter((layer) => layer !== 'correction'),
		});
		pasted = null;
		await tick();
		await go(position);
	}
	const periodAt = (position: number) => describePeriod(series.frequency, series.first + position);

	/** Typed into, a figure is replaced; pressed again, the caret goes where it is pressed. */
	let fresh = false;

	async function go(position: number) {
		const target = Math.max(0, Math.min(count - 1, position));
		list?.show(target);
		await tick();
		const field = document.querySelector<HTMLInputElement>(`[data-figure="${target}"]`);
		field?.focus();
		field?.select();
	}

	function keys(event: KeyboardEvent, commit: () => boolean, position: number) {
		const moves: Record<string, number> = { Enter: 1, ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10 };
		const move = event.key === 'Enter' && event.shiftKey ? -1 : moves[event.key];
		if (move === undefined) return;
		event.preventDefault();
		if (commit()) void tick().then(() => go(position + move));
	}

	function setGap(position: number, rule: string) {
		const period = series.first + position;
		itemState.lineUp.layOver({
			gaps: rule === '' ? without(layers.gaps, [period]) : { ...layers.gaps, [period]: rule as GapRule },
		});
	}

	function leaveOut(position: number) {
		const period = series.first + position;
		const out = layers.leftOut.includes(period);
		itemState.lineUp.layOver({
			leftOut: out
				? layers.leftOut.filter((each) => each !== period)
				: [...layers.leftOut, period].sort((a, b) => a - b),
			off: layers.off.filter((layer) => layer !== 'left-out'),
		});
	}

	function pin(position: number, words: string) {
		const period = series.first + position;
		if (words.trim() === (layers.events[period] ?? '')) return;
		itemState.lineUp.layOver({
			events:
				words.trim() === ''
					? without(layers.events, [period])
					: { ...layers.events, [period]: words.trim().slice(0, 200) },
		});
	}
	const isOff = (layer: Layer) => layers.off.includes(layer);
</script>

<div class="flex h-full flex-col text-[13px]" style:--figures="{figuresWidth}px">
	<div class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule px-4 py-1.5">
		<label class="flex items-center gap-1.5 text-ink-2">
			a missing figure
			<Choice
				label="What missing figures become"
				value={layers.gapRule}
				of={GAP_RULES}
				names={RULE_WORDS}
				take={(gapRule) => itemState.lineUp.layOver({ gapRule })}
			/>
		</label>
		{#if hasUnevenPeriods(series.frequency)}
			<label class="flex items-center gap-1.5 text-ink-2">
				<Tick checked={layers.perDay} take={(perDay) => itemState.lineUp.layOver({ perDay })} />
				work on the rate per day
			</label>
		{/if}
		{#each SWITCHES.filter(({ layer }) => size(layer) > 0) as { layer, name } (layer)}
			<Button
				class={isOff(layer) ? 'line-through' : ''}
				aria-pressed={!isOff(layer)}
				title={isOff(layer) ? 'Switched off; press to apply it again' : 'Press to see the series without it'}
				onclick={() => toggle(layer)}>{size(layer)} {name}</Button
			>
		{/each}
	</div>

	<div class="line px-4 py-0.5 text-[12px] text-ink-2" role="presentation">
		<span>period</span><span class="text-right">figure</span><span>what it is</span><span>left out</span><span
			>event</span
		>
	</div>
	<LongList
		bind:this={list}
		{count}
		row={ROW}
		class="min-h-0 flex-1 overflow-y-auto border-y border-rule bg-panel"
		aria-label="Figures of the item"
	>
		{#snippet children(position, where)}
			{@const period = series.first + position}
			{@const marks = series.marks.get(position) ?? []}
			{@const isNext = position === count - 1}
			<div
				class="line absolute inset-x-0 border-b border-rule px-4 {marks.includes('left-out')
					? 'text-ink-2'
					: ''}"
				style={where}
				data-position={position}
			>
				<span class={isNext ? 'text-ink-2 italic' : ''}>{describePeriod(series.frequency, period)}</span>
				<FigureInput
					label="Figure of {describePeriod(series.frequency, period)}"
					value={series.values[position] ?? null}
					show={(value) => figure(value, itemState.actualDecimals)}
					empties
					take={(value) => take(position, value)}
					keys={(event, commit) => keys(event, commit, position)}
					class="cell {marks.includes('left-out') ? 'line-through' : ''}"
					data-figure={position}
					onpaste={(event) => paste(event, position)}
					placeholder={isNext ? 'next' : '–'}
					onfocus={() => (fresh = true)}
					onclick={(event) => {
						if (fresh) event.currentTarget.select();
						fresh = false;
					}}
				/>
				<span class="flex min-w-0 items-center gap-1.5 text-ink-2">
					{#if !isNext && series.values[position] === null}
						<Choice
							class="w-28 min-w-0"
							label="What {describePeriod(series.frequency, period)} becomes"
							value={layers.gaps[period] ?? ''}
							of={['', ...GAP_RULES]}
							names={{ '': 'as all gaps', ...RULE_WORDS }}
							take={(rule) => setGap(position, rule)}
						/>
					{/if}
					{#each marks.filter((mark) => mark !== 'event' && mark !== 'gap') as mark (mark)}
						<span class="flex items-center gap-1 truncate" data-what={mark}>
							<LayerShape {mark} />
							{#if mark === 'corrected'}{series.raw[position] === null
									? 'typed in'
									: `came in as ${figure(series.raw[position], itemState.actualDecimals)}`}
							{:else if mark === 'filled'}{scaled(series.worked[position], itemState.scale)}
							{:else}{MARK_WORDS[mark]}{/if}
						</span>
					{/each}
					{#if series.outdated.includes(position)}<span
							class="truncate text-warn"
							title="The figure that was corrected has changed since; the correction is not applied."
							>correction outdated</span
						>{/if}
				</span>
				{#if isNext}<span></span><span></span>{:else}
					<Tick
						label="Leave out {describePeriod(series.frequency, period)}"
						checked={layers.leftOut.includes(period)}
						take={() => leaveOut(position)}
					/>
					<span class="flex items-center gap-1">
						{#if marks.includes('event')}<LayerShape mark="event" />{/if}
						<TextInput
							look="cell"
							label="Event in {describePeriod(series.frequency, period)}"
							maxlength={BOUNDS.event}
							value={layers.events[period] ?? ''}
							onchange={(event) => pin(position, event.currentTarget.value)}
						/>
					</span>
				{/if}
			</div>
		{/snippet}
	</LongList>
	{#if pasted}
		<div class="border-t border-rule bg-wash px-4 py-1.5" role="status" data-pasted>
			{#if 'refused' in pasted}
				<p class="text-bad">{inMark(pasted.refused)} Nothing was filled in.</p>
				<Button onclick={() => (pasted = null)}>all right</Button>
			{:else}
				{@const { changes, same, blank, appended } = pasted.fill}
				<p>
					<span class="font-semibold">Pasted from {periodAt(pasted.position)} down:</span>
					{changes.length}
					{changes.length === 1 ? 'figure changes' : 'figures change'}{appended > 0
						? `, ${appended} of them after the last period`
						: ''}{same > 0 ? `, ${same} the same` : ''}{blank > 0
						? `, ${blank} blank and left as they are`
						: ''}.
				</p>
				<p class="text-ink-2">
					{#each changes.slice(0, PREVIEWED) as { position, from, to } (position)}
						<span class="mr-3 inline-block"
							>{periodAt(position)}: {#if from !== null}<s>{figure(from, itemState.actualDecimals)}</s>{/if}
							<b class="text-ink">{typedFigure(to)}</b></span
						>
					{/each}
					{#if changes.length > PREVIEWED}and {changes.length - PREVIEWED} more{/if}
				</p>
				<p class="mt-0.5 flex gap-4">
					{#if changes.length > 0}<button
							type="button"
							class="font-semibold text-accent hover:underline"
							use:focused
							onclick={fillIn}>Fill in</button
						>{/if}
					<Button onclick={() => (pasted = null)}>leave it</Button>
				</p>
			{/if}
		</div>
	{/if}
	<div class="flex items-baseline gap-3 px-4 py-1.5 text-ink-2">
		<span>Enter takes a figure and goes down; a column is pasted downwards. What came in stays.</span>
		<span class="ml-auto"
			><Export
				name="{itemState.item.code} demand"
				of="Figures of the item"
				rows={() => seriesRows(itemState.series, itemState.lineUp.layers, itemState.item.code)}
				sheet="Demand"
			/></span
		>
		{#if itemState.saved.layerHistory.length > 0}
			<Button class="shrink-0" aria-expanded={showRecord} onclick={() => (showRecord = !showRecord)}
				>{showRecord
					? 'hide the record'
					: `on record: ${itemState.saved.layerHistory.length}${itemState.saved.layerHistory.length === 100 ? ' newest' : ''}`}</Button
			>
		{/if}
	</div>
	{#if showRecord}
		<ul
			class="max-h-32 shrink-0 overflow-y-auto border-t border-rule px-4 py-1"
			aria-label="Who changed what, and when"
			data-record
		>
			{#each itemState.saved.layerHistory as entry (entry.id)}
				<li class="flex gap-3">
					<span class="w-36 shrink-0 text-ink-2">{moment(entry.at)}</span><span
						class="w-20 shrink-0 truncate text-ink-2">{entry.by}</span
					><span>{inMark(entryWords(entry, series.frequency, itemState.actualDecimals))}</span>
				</li>
			{/each}
		</ul>
	{/if}
</div>

<style>
	.line {
		display: grid;
		grid-template-columns: 92px var(--figures) minmax(0, 1.2fr) 52px minmax(0, 1fr);
		gap: 10px;
		align-items: center;
	}
</style>
