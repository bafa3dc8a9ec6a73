<script lang="ts">
	import { percent } from '$core/words/chance';
	import TextInput from '../../kit/TextInput.svelte';
	import Head from '../../kit/Head.svelte';
	import Choice from '../../kit/Choice.svelte';
	import Allowed from '../../kit/Allowed.svelte';
	import Button from '../../kit/Button.svelte';
	import Notice from '../../kit/Notice.svelte';
	import { BOUNDS } from '$core/bounds';
	import { methodOf } from '$core/methods/registry';
	import { sumOrNull } from '$core/numbers/known';
	import { cycleParts } from '$core/series/cycle-totals';
	import { describePeriod, type Ordinal } from '$core/series/period';
	import { stockRates, togetherWords } from '$core/words/ahead';
	import { spelledSentence } from '$core/questions/working-table';
	import { Doing } from '../../base/doing.svelte';
	import type { Rows } from '../../export/cells';
	import Export from '../../export/Export.svelte';
	import { inMark } from '../../../reader.svelte';
	import { moment, scaled, typedFigure } from '../../base/format';
	import type { ItemState } from '../state/item-state.svelte';
	import FigureInput from '../../kit/FigureInput.svelte';
	import ChangeSeveral from './ChangeSeveral.svelte';
	import RoundFigures from './RoundFigures.svelte';
	import Unready from './Unready.svelte';

	let { itemState }: { itemState: ItemState } = $props();

	const SHORT = 120;
	const LEVELS = [0.5, 0.8, 0.9, 0.95, 0.99];
	const series = $derived(itemState.series);
	const origin = $derived(itemState.origin);
	const handed = $derived(itemState.record.handed);
	/** What is open above the table. */
	let tool = $state<'several' | 'rounding' | null>(null);
	let why = $state('');
	let reason = $state('');
	const doing = new Doing();
	const catching = new Doing();
	/** The step that is spelled out. */
	let pointed = $state<number | null>(null);

	const result = $derived(itemState.answers.chosen);
	const label = $derived(
		itemState.lineUp.chosen ? methodOf(itemState.lineUp.chosen.method).label(itemState.lineUp.chosen) : '',
	);
	const levelKey = $derived(String(itemState.answers.level));
	const steps = $derived(result?.ahead ?? []);
	const finals = $derived(itemState.record.finals);
	/** Whether what is handed over is another figure anywhere, so that it has a column of its own. */
	const differs = $derived(steps.some(({ mean }, i) => finals[i] !== mean));
	const unexplained = $derived(handed.unexplained(origin + 1, origin + steps.length));
	/** Totals of the calendar's cycles, where there are several. */
	const cycles = $derived.by(() => {
		const parts = cycleParts(series.frequency, series.seasonLength, origin + 1, steps.length);
		return parts.length < 2
			? []
			: parts.map(({ name, from, to, whole }) => ({
					name: whole ? name : `${name}, part of it`,
					mean: sumOrNull(steps.slice(from, to + 1).map(({ mean }) => mean)),
					final: sumOrNull(finals.slice(from, to + 1)),
				}));
	});

	/** Puts a typed figure in place of a computed one; the computed one, or nothing, takes the change back. */
	function typeOver(period: Ordinal, mean: number | null, value: number | null) {
		if (mean === null) return;
		if (value === null || scaled(value, itemState.scale) === scaled(mean, itemState.scale))
			handed.takeBack([period]);
		else handed.change([period], { kind: 'to', figure: value });
	}

	function explain() {
		if (why.trim() === '') return;
		handed.explain(why.trim());
		why = '';
	}
	/** All of them together: of sums the ranges are narrower than the sums of ranges. */
	const total = $derived(result?.together.at(-1));
	const basis = $derived(result?.notes.find(({ code }) => code === 'range-basis')?.text ?? '');
	const togetherSteps = $derived(Math.min(itemState.answers.togetherSteps, steps.length));
	const together = $derived.by(() => {
		const sum = result?.together[togetherSteps - 1];
		if (!sum || sum.mean === null) return null;
		const said = {
			steps: togetherSteps,
			mean: sum.mean,
			level: itemState.answers.level,
			range: sum.ranges[levelKey] ?? null,
			neverBelow: itemState.neverBelow,
			service: itemState.answers.service,
			stock: sum.stock ?? null,
			ends: itemState.answers.rangeScale,
		};
		return togetherWords(said, series.frequency, itemState.scale, itemState.item.unit);
	});

	function setService(percent: number) {
		itemState.answers.service = percent / 100;
		itemState.answers.recompute();
	}
	const spelled = $derived.by(() => {
		const step = steps[Math.min(pointed ?? 1, steps.length) - 1];
		// With a holdout the working goes on from the cut, and not from today.
		if (!step || step.mean === null || itemState.answers.holdout > 0) return null;
		const text = itemState.answers.working?.explainAhead(step.step);
		if (!text) return null;
		const said = spelledSentence(
			describePeriod(series.frequency, origin + step.step),
			text,
			step.mean,
			itemState.decimals,
		);
		// What is long, as of a mix, is there for who asks for it.
		return pointed === null && said.length > SHORT ? null : inMark(said);
	});

	function setHorizon(value: number) {
		itemState.answers.horizon = value;
		itemState.answers.recompute();
	}

	function setLevel(text: string) {
		itemState.answers.level = Number(text);
		itemState.answers.recompute();
	}

	/** Adopts what is shown, or updates the newest record, with the reason that is typed. */
	const keep = (how: 'adopt' | 'updateAdopted') =>
		doing.run(async () => {
			await itemState.record[how](reason.trim());
			reason = '';
		});

	/** Lays what is changed here over what came in, and says what that was. */
	const catchUp = () =>
		catching.run(async () => {
			await itemState.saved.putMineOnTop();
			doing.refusal = null;
		});

	function rows(): Rows {
		const range = percent(itemState.answers.level);
		return [
			['period', 'computed', 'final forecast', `low ${range}`, `high ${range}`, 'why changed'],
			...steps.map(({ step, mean, ranges }, i) => [
				describePeriod(series.frequency, origin + step),
				mean,
				finals[i] ?? null,
				itemState.rangeShown(ranges[levelKey])?.[0] ?? null,
				itemState.rangeShown(ranges[levelKey])?.[1] ?? null,
				handed.changes[origin + step]?.reason ?? '',
			]),
		];
	}
</script>

<div class="flex h-full flex-col">
	{#if !result}
		<Unready {itemState} what="what lies ahead" />
	{:else}
		<div class="flex shrink-0 items-center gap-4 px-4 pt-2 pb-1 text-[13px]">
			<h2 class="truncate font-semibold">{label}</h2>
			<label class="ml-auto flex shrink-0 items-center gap-1.5 text-ink-2">
				<Head name="periods ahead" term="horizon" />
				<FigureInput
					label="periods ahead"
					value={itemState.answers.horizon}
					whole
					least={1}
					most={BOUNDS.horizon}
					take={(value) => setHorizon(value!)}
					class="typed w-14"
				/>
			</label>
			<label class="flex shrink-0 items-center gap-1.5 text-ink-2">
				<Head name="range" term="range" />
				<Choice
					value={Number(levelKey)}
					of={LEVELS}
					names={percent}
					take={(level) => setLevel(String(level))}
				/>
			</label>
			<Export name="{itemState.item.code} {label} ahead" of="Periods to come" {rows} sheet="Ahead" />
		</div>
		<div class="flex shrink-0 items-baseline gap-4 px-4 pb-1 text-[13px]">
			<Button
				aria-expanded={tool === 'several'}
				onclick={() => (tool = tool === 'several' ? null : 'several')}>change several</Button
			>
			<Button
				aria-expanded={tool === 'rounding'}
				onclick={() => (tool = tool === 'rounding' ? null : 'rounding')}
				>{handed.isRounded ? 'rounded' : 'round'}</Button
			>
			{#if Object.keys(handed.changes).length > 0}
				<Button class="ml-auto" onclick={() => handed.takeBack()}>undo all changes</Button>
			{:else}
				<span class="ml-auto text-ink-2">Type over a figure to change it.</span>
			{/if}
		</div>
		{#if tool === 'several'}<ChangeSeveral {itemState} done={() => (tool = null)} />{/if}
		{#if tool === 'rounding'}<RoundFigures {handed} />{/if}
		<!-- svelte-ignore a11y_no_noninteractive_tabindex (scrolled with the keyboard) -->
		<div class="min-h-0 flex-1 overflow-y-auto" tabindex="0" role="region" aria-label="Periods to come">
			<table class="w-full text-[13px] [&_:is(td,th)+:is(td,th)]:pl-2">
				<thead class="sticky top-0 z-10 bg-paper text-ink-2">
					<tr class="border-b border-rule">
						<th class="py-1 pl-4 text-left font-normal">period</th>
						<th class="text-right font-normal"
							><Head
								name="computed{itemState.measured ? `, ${itemState.measured}` : ''}"
								term="computed"
							/></th
						>
						<th class="pr-1 text-right font-normal"><Head name="final forecast" term="final" /></th>
						<th class="text-right font-normal"><Head name="low" term="range" /></th>
						<th class="pr-4 text-right font-normal"><Head name="high" term="range" /></th>
					</tr>
				</thead>
				<tbody>
					{#each steps as { step, mean, ranges }, i (step)}
						{@const period = origin + step}
						{@const change = handed.changes[period]}
						{@const final = finals[i] ?? null}
						<tr
							class="h-6 border-b border-rule {pointed === step ? 'bg-wash' : ''}"
							data-ahead={step}
							onmouseenter={() => (pointed = step)}
							onmouseleave={() => (pointed = null)}
						>
							<td class="pl-4">
								{describePeriod(series.frequency, period)}
								{#if change}
									<span class="ml-1 text-accent" title={change.reason || 'no reason yet'}
										>{change.by.kind === 'rate'
											? `${change.by.rate >= 1 ? '+' : '−'}${typedFigure(Number(Math.abs(100 * (change.by.rate - 1)).toPrecision(6)))} %`
											: 'by hand'}</span
									>
									<span class="ml-1 inline-block max-w-32 truncate align-bottom text-ink-2"
										>{change.reason || 'why?'}</span
									>
									<Button
										aria-label="Undo the change of {describePeriod(series.frequency, period)}"
										onclick={() => handed.takeBack([period])}>×</Button
									>
								{/if}
							</td>
							<td class="figures {differs ? 'text-ink-2' : ''}">{scaled(mean, itemState.scale)}</td>
							<td class="w-28 pl-2">
								{#if mean !== null}
									<FigureInput
										label="Final forecast for {describePeriod(series.frequency, period)}"
										value={final}
										scale={itemState.scale}
										empties
										take={(value) => typeOver(period, mean, value)}
										class="cell figures h-5.5 {final === mean
											? 'font-semibold'
											: 'font-semibold text-accent'}"
									/>
								{/if}
							</td>
							<td class="figures pl-3 text-ink-2"
								>{scaled(itemState.rangeShown(ranges[levelKey])?.[0], itemState.answers.rangeScale)}</td
							>
							<td class="figures pr-4 text-ink-2"
								>{scaled(itemState.rangeShown(ranges[levelKey])?.[1], itemState.answers.rangeScale)}</td
							>
						</tr>
					{/each}
					<tr class="h-6">
						<td class="pl-4 whitespace-nowrap text-ink-2">sum of {steps.length}</td>
						<td class="figures {differs ? 'text-ink-2' : ''}">{scaled(total?.mean, itemState.scale)}</td>
						<td class="figures pr-1 font-semibold" data-total="final"
							>{scaled(sumOrNull(finals), itemState.scale)}</td
						>
						<td class="figures text-ink-2"
							>{scaled(itemState.rangeShown(total?.ranges[levelKey])?.[0], itemState.answers.rangeScale)}</td
						>
						<td class="figures pr-4 text-ink-2"
							>{scaled(itemState.rangeShown(total?.ranges[levelKey])?.[1], itemState.answers.rangeScale)}</td
						>
					</tr>
					{#each cycles as { name, mean, final } (name)}
						<tr class="h-6" data-cycle={name}>
							<td class="pl-4 whitespace-nowrap text-ink-2">{name}</td>
							<td class="figures {differs ? 'text-ink-2' : ''}">{scaled(mean, itemState.scale)}</td>
							<td class="figures pr-1 font-semibold">{scaled(final, itemState.scale)}</td>
							<td colspan="2"></td>
						</tr>
					{/each}
				</tbody>
			</table>
			<div class="border-t border-rule px-4 py-2 text-[13px]">
				{#if together}
					<p class="flex flex-wrap items-baseline gap-x-4 text-ink-2">
						<label class="whitespace-nowrap">
							the next
							<FigureInput
								label="Periods together"
								value={togetherSteps}
								whole
								least={1}
								most={steps.length}
								take={(value) => (itemState.answers.togetherSteps = value!)}
								class="typed h-5 w-10"
							/>
							together
						</label>
						<label class="whitespace-nowrap">
							<Head name="service level" term="service" />
							<FigureInput
								label="Service level, %"
								value={Number((100 * itemState.answers.service).toFixed(1))}
								least={50}
								most={99.9}
								take={(value) => setService(value!)}
								class="typed h-5 w-12"
							/> %
						</label>
					</p>
					<p data-together="sum">{inMark(together.sum)}</p>
					{#if together.stock && result}
						<p data-together="stock">
							<span title={inMark(stockRates(result.rangeKind))} class="cursor-help"
								>{inMark(together.stock)}</span
							>
						</p>
					{/if}
				{/if}
				{#if spelled}<p class="figures mt-1 text-left whitespace-normal">{spelled}</p>{/if}
				<p class="mt-0.5 text-ink-2">{basis}</p>
			</div>
		</div>
		<div class="shrink-0 border-t border-rule px-4 py-2 text-[13px]">
			{#if itemState.answers.holdout > 0}
				<p data-held-back>
					There is a holdout: constants come from the others alone.
					<Button look="link" onclick={() => itemState.answers.holdBack(0)}
						>Set the holdout to 0 to adopt</Button
					>
				</p>
			{:else}
				{#if unexplained.length > 0}
					<form
						class="mb-2 flex items-center gap-3"
						data-unexplained
						onsubmit={(event) => {
							event.preventDefault();
							explain();
						}}
					>
						<TextInput
							bind:value={why}
							maxlength={BOUNDS.reason}
							placeholder="Why {unexplained.length === 1
								? 'this figure is'
								: `these ${unexplained.length} figures are`} changed"
							label="Why figures are changed"
							class="min-w-0 flex-1"
						/>
						<Button look="other" type="submit" disabled={why.trim() === ''} class="h-8 shrink-0"
							>Say why</Button
						>
					</form>
				{/if}
				<Allowed does="Adopting"
					><form
						class="flex items-center gap-3"
						onsubmit={(event) => {
							event.preventDefault();
							void keep('adopt');
						}}
					>
						<TextInput
							bind:value={reason}
							maxlength={BOUNDS.reason}
							placeholder="Why this one (saved with it)"
							label="Why this one"
							class="min-w-0 flex-1"
						/>
						{#if itemState.record.adopted && itemState.record.canUpdate}
							<Button
								look="other"
								disabled={doing.busy}
								title="{itemState.record.adopted.label} again, on newer actuals"
								onclick={() => keep('updateAdopted')}
								class="h-8 shrink-0">Update</Button
							>
						{/if}
						<Button
							look="main"
							type="submit"
							disabled={doing.busy || unexplained.length > 0}
							title={unexplained.length > 0 ? 'First say why figures are changed' : undefined}
							class="h-8 shrink-0"
						>
							{doing.busy ? 'Adopting…' : `Adopt for ${steps.length} ahead`}
						</Button>
					</form></Allowed
				>
			{/if}
			{#if doing.refusal}
				<Notice class="mt-1">
					<p>{inMark(catching.refusal ?? doing.refusal)}</p>
					{#if itemState.saved.between.length > 0}
						<ul class="mt-1 list-disc pl-5 text-ink" data-between>
							{#each itemState.saved.between as words, i (i)}<li>{inMark(words)}</li>{/each}
						</ul>
					{/if}
					{#if doing.overtaken}
						<p class="mt-1">
							<Button size="xs" look="other" onclick={catchUp}>Show it with what came in</Button>
						</p>
					{/if}
				</Notice>
			{/if}
			<p class="mt-1.5 text-ink-2" data-adopted={itemState.record.adopted?.id ?? ''}>
				{#if itemState.record.adopted}
					Adopted: <span class="text-accent">{itemState.record.adopted.label}</span>, {moment(
						itemState.record.adopted.adoptedAt,
					)} by {itemState.record.adopted.adoptedBy}{itemState.record.adopted.reason
						? `: “${itemState.record.adopted.reason}”`
						: ''}.
					{#if itemState.record.adopted.layersUsed.length > 0}From figures adjusted: {itemState.record.adopted.layersUsed.join(
							', ',
						)}.{/if}
					{#if itemState.record.adoptedCount > 1}{itemState.record.adoptedCount - 1} before it stay on record.{/if}
				{:else}
					Nothing is adopted yet. An adopted forecast stays on record and is never altered.
				{/if}
			</p>
		</div>
	{/if}
</div>
