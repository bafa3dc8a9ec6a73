<script lang="ts">
	import TextInput from '../../kit/TextInput.svelte';
	import Choice from '../../kit/Choice.svelte';
	import Button from '../../kit/Button.svelte';
	import { BOUNDS } from '$core/bounds';
	import { methodOf } from '$core/methods/registry';
	import { describePeriod } from '$core/series/period';
	import { togetherWords } from '$core/words/ahead';
	import { spelledSentence } from '$core/questions/working-table';
	import { CallError, messageOf } from '../../call';
	import type { Rows } from '../../export/cells';
	import Export from '../../export/Export.svelte';
	import { inMark } from '../../../reader.svelte';
	import { moment, scaled } from '../../format';
	import type { ItemState } from '../item-state.svelte';
	import FigureInput from '../../kit/FigureInput.svelte';
	import Unready from './Unready.svelte';

	let { desk }: { desk: ItemState } = $props();

	const SHORT = 120;
	const LEVELS = [0.5, 0.8, 0.9, 0.95, 0.99];
	const series = $derived(desk.series);
	const origin = $derived(series.first + series.values.length - 1);
	let reason = $state('');
	let pressed = $state(false);
	let refusal = $state<string | null>(null);
	/** Whether something came in since this was loaded. */
	let stale = $state(false);
	/** The step that is spelled out. */
	let pointed = $state<number | null>(null);

	const result = $derived(desk.resultFor(desk.chosenId));
	const label = $derived(desk.chosen ? methodOf(desk.chosen.method).label(desk.chosen) : '');
	const levelKey = $derived(String(desk.level));
	const steps = $derived(result?.ahead ?? []);
	/** All of them together: of sums the ranges are narrower than the sums of ranges. */
	const total = $derived(result?.together.at(-1));
	const basis = $derived(result?.notes.find(({ code }) => code === 'range-basis')?.text ?? '');
	const togetherSteps = $derived(Math.min(desk.togetherSteps, steps.length));
	const together = $derived.by(() => {
		const sum = result?.together[togetherSteps - 1];
		if (!sum || sum.mean === null) return null;
		const said = {
			steps: togetherSteps,
			mean: sum.mean,
			level: desk.level,
			range: sum.ranges[levelKey] ?? null,
			neverBelow: series.worked.every((value) => value === null || value >= 0),
			service: desk.service,
			stock: sum.stock ?? null,
		};
		return togetherWords(said, series.frequency, desk.scale, desk.item.unit);
	});

	function setService(percent: number) {
		desk.service = percent / 100;
		desk.recompute();
	}
	const spelled = $derived.by(() => {
		const step = steps[Math.min(pointed ?? 1, steps.length) - 1];
		// With periods held back the working goes on from the cut, and not from today.
		if (!step || step.mean === null || desk.holdout > 0) return null;
		const text = desk.working?.explainAhead(step.step);
		if (!text) return null;
		const said = spelledSentence(
			describePeriod(series.frequency, origin + step.step),
			text,
			step.mean,
			desk.decimals,
		);
		// What is long, as of a mix, is there for who asks for it.
		return pointed === null && said.length > SHORT ? null : inMark(said);
	});

	function setHorizon(value: number) {
		desk.horizon = value;
		desk.recompute();
	}

	function setLevel(text: string) {
		desk.level = Number(text);
		desk.recompute();
	}

	async function adopt() {
		pressed = true;
		refusal = null;
		stale = false;
		try {
			await desk.adopt(reason);
			reason = '';
		} catch (error) {
			refusal = messageOf(error);
			stale = error instanceof CallError && error.status === 409;
		}
		pressed = false;
	}

	/** Lays what is changed here over what came in, and says what that was. */
	async function catchUp() {
		try {
			await desk.putMineOnTop();
			refusal = null;
		} catch (error) {
			refusal = messageOf(error);
		}
	}

	function rows(): Rows {
		const percent = Math.round(desk.level * 100);
		return [
			['period', 'forecast', `low ${percent} %`, `high ${percent} %`],
			...steps.map(({ step, mean, ranges }) => [
				describePeriod(series.frequency, origin + step),
				mean,
				ranges[levelKey]?.[0] ?? null,
				ranges[levelKey]?.[1] ?? null,
			]),
		];
	}
</script>

<div class="flex h-full flex-col">
	{#if !result}
		<Unready {desk} what="what lies ahead" />
	{:else}
		<div class="flex shrink-0 items-center gap-4 px-4 pt-2 pb-1 text-[13px]">
			<h2 class="truncate font-semibold">{label}</h2>
			<label class="ml-auto flex shrink-0 items-center gap-1.5 text-ink-2">
				periods ahead
				<FigureInput
					label="periods ahead"
					value={desk.horizon}
					whole
					least={1}
					most={BOUNDS.horizon}
					take={(value) => setHorizon(value!)}
					class="typed w-14"
				/>
			</label>
			<label class="flex shrink-0 items-center gap-1.5 text-ink-2">
				range
				<Choice
					value={Number(levelKey)}
					of={LEVELS}
					names={(level) => `${Math.round(level * 100)} %`}
					take={(level) => setLevel(String(level))}
				/>
			</label>
			<Export name="{desk.item.code} {label} ahead" of="Periods to come" {rows} sheet="Ahead" />
		</div>
		<!-- svelte-ignore a11y_no_noninteractive_tabindex (scrolled with the keyboard) -->
		<div class="min-h-0 flex-1 overflow-y-auto" tabindex="0" role="region" aria-label="Periods to come">
			<table class="w-full text-[13px]">
				<thead class="sticky top-0 bg-paper text-ink-2">
					<tr class="border-b border-rule">
						<th class="py-1 pl-4 text-left font-normal">period</th>
						<th class="text-right font-normal">forecast{desk.measured ? `, ${desk.measured}` : ''}</th>
						<th class="text-right font-normal">low</th>
						<th class="pr-4 text-right font-normal">high</th>
					</tr>
				</thead>
				<tbody>
					{#each steps as { step, mean, ranges } (step)}
						<tr
							class="h-6 border-b border-rule {pointed === step ? 'bg-wash' : ''}"
							data-ahead={step}
							onmouseenter={() => (pointed = step)}
							onmouseleave={() => (pointed = null)}
						>
							<td class="pl-4">{describePeriod(series.frequency, origin + step)}</td>
							<td class="figures font-semibold">{scaled(mean, desk.scale)}</td>
							<td class="figures text-ink-2">{scaled(ranges[levelKey]?.[0], desk.scale)}</td>
							<td class="figures pr-4 text-ink-2">{scaled(ranges[levelKey]?.[1], desk.scale)}</td>
						</tr>
					{/each}
					<tr class="h-6">
						<td class="pl-4 text-ink-2">sum of {steps.length}</td>
						<td class="figures font-semibold">{scaled(total?.mean, desk.scale)}</td>
						<td class="figures text-ink-2">{scaled(total?.ranges[levelKey]?.[0], desk.scale)}</td>
						<td class="figures pr-4 text-ink-2">{scaled(total?.ranges[levelKey]?.[1], desk.scale)}</td>
					</tr>
				</tbody>
			</table>
		</div>
		<div class="shrink-0 border-t border-rule px-4 py-2 text-[13px]">
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
							take={(value) => (desk.togetherSteps = value!)}
							class="typed h-5 w-10"
						/>
						together
					</label>
					<label class="whitespace-nowrap">
						service level
						<FigureInput
							label="Service level, %"
							value={Number((100 * desk.service).toFixed(1))}
							least={50}
							most={99.9}
							take={(value) => setService(value!)}
							class="typed h-5 w-12"
						/> %
					</label>
				</p>
				<p data-together="sum">{inMark(together.sum)}</p>
				{#if together.stock}<p data-together="stock">{inMark(together.stock)}</p>{/if}
			{/if}
			{#if spelled}<p class="figures mt-1 text-left whitespace-normal">{spelled}</p>{/if}
			<p class="mt-0.5 text-ink-2">{basis}</p>
			{#if desk.holdout > 0}
				<p class="mt-2" data-held-back>
					Periods are held back: constants come from the others alone.
					<Button look="link" onclick={() => desk.holdBack(0)}>Hold none back to adopt</Button>
				</p>
			{:else}
				<form
					class="mt-2 flex items-center gap-3"
					onsubmit={(event) => {
						event.preventDefault();
						void adopt();
					}}
				>
					<TextInput
						bind:value={reason}
						maxlength={BOUNDS.reason}
						placeholder="Why this one (saved with it)"
						label="Why this one"
						class="min-w-0 flex-1"
					/>
					<Button look="main" type="submit" disabled={pressed} class="h-8 shrink-0">
						{pressed ? 'Adopting…' : `Adopt for ${steps.length} ahead`}
					</Button>
				</form>
			{/if}
			{#if refusal}
				<div class="mt-1 text-bad" role="alert">
					<p>{inMark(refusal)}</p>
					{#if desk.between.length > 0}
						<ul class="mt-1 list-disc pl-5 text-ink" data-between>
							{#each desk.between as words, i (i)}<li>{inMark(words)}</li>{/each}
						</ul>
					{/if}
					{#if stale}
						<p class="mt-1">
							<Button size="xs" look="other" onclick={catchUp}>Show it with what came in</Button>
						</p>
					{/if}
				</div>
			{/if}
			<p class="mt-1.5 text-ink-2" data-adopted={desk.adopted?.id ?? ''}>
				{#if desk.adopted}
					Adopted: <span class="text-accent">{desk.adopted.label}</span>, {moment(desk.adopted.adoptedAt)} by {desk
						.adopted.adoptedBy}{desk.adopted.reason ? `: “${desk.adopted.reason}”` : ''}.
					{#if desk.adopted.layersUsed.length > 0}From figures mended: {desk.adopted.layersUsed.join(
							', ',
						)}.{/if}
					{#if desk.adoptedCount > 1}{desk.adoptedCount - 1} before it stay on record.{/if}
				{:else}
					Nothing is adopted yet. An adopted forecast stays on record and is never altered.
				{/if}
			</p>
		</div>
	{/if}
</div>
