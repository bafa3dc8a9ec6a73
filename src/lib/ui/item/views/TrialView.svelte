<script lang="ts">
	import { onMount } from 'svelte';
	import Busy from '../../kit/Busy.svelte';
	import { madeFrom } from '$core/methods/registry';
	import type { CandidateResult, TrialScore } from '$core/questions/answer';
	import { periodWord } from '$core/series/frequency';
	import { percent } from '$core/words/chance';
	import { trialWords } from '$core/words/trial';
	import Chart from '../../../charts/Chart.svelte';
	import type { Palette } from '../../../charts/palette';
	import { trialOption } from '../../../charts/trial';
	import { inMark } from '../../../reader.svelte';
	import { arithmeticAside, stopAside } from '../../../browser-worker/arithmetic';
	import type { Rows } from '../../export/cells';
	import Export from '../../export/Export.svelte';
	import { figure, scaled } from '../../base/format';
	import Button from '../../kit/Button.svelte';
	import Head from '../../kit/Head.svelte';
	import { theme } from '../../base/theme.svelte';
	import type { ItemState } from '../state/item-state.svelte';
	import Unready from './Unready.svelte';

	let { itemState }: { itemState: ItemState } = $props();

	let chart: Chart | undefined = $state();
	onMount(() => {
		itemState.answers.trialOpen = true;
		itemState.answers.recompute();
		return () => {
			itemState.answers.trialOpen = false;
			if (running) stopAside();
		};
	});

	/** Trials with constants refitted at each origin, of the request that they were asked for. */
	let again = $state.raw<{ key: string; scores: Readonly<Record<string, TrialScore>> } | null>(null);
	let running = $state(false);
	let done = $state(0);
	const key = $derived(
		JSON.stringify([
			itemState.answers.shown?.request.candidates,
			itemState.answers.shown?.request.trial,
			itemState.answers.shown?.request.holdout,
			itemState.answers.shown?.request.series,
		]),
	);
	const found = $derived(again?.key === key ? again : null);

	async function findAgain() {
		const { shown } = itemState.answers;
		if (!shown?.request.trial) return;
		const asked = key;
		const { trial, ...request } = shown.request;
		running = true;
		done = 0;
		const scores: Record<string, TrialScore> = {};
		for (const { id } of itemState.lineUp.rows) {
			if (!running || asked !== key) break;
			const { candidates } = await arithmeticAside().evaluate({
				...request,
				candidates: request.candidates.filter((each) => each.id === id || partsOf(id).includes(each.id)),
				aside: partsOf(id),
				trial: { ...trial!, refit: true },
				detail: 'summary',
			});
			const one = candidates.find((each) => each.id === id);
			if (one?.ok && one.trial) scores[id] = one.trial;
			done++;
		}
		if (running && asked === key) again = { key: asked, scores };
		running = false;
	}

	/** What a candidate is made from. */
	const partsOf = (id: string): string[] =>
		madeFrom(
			itemState.lineUp.candidates.find((each) => each.id === id)!,
			itemState.lineUp.candidates,
		).map((part) => part.id);

	function stop() {
		running = false;
		stopAside();
	}

	const trialOf = (id: string): TrialScore | undefined =>
		found?.scores[id] ?? itemState.answers.resultFor(id)?.trial;
	const chosen = $derived(trialOf(itemState.lineUp.chosenId));
	const levels = $derived((itemState.answers.shown?.request.levels ?? []).map(String));
	const tried = $derived(
		itemState.lineUp.rows.flatMap(({ id }, place) => {
			const trial = trialOf(id);
			return trial && trial.origins > 0
				? [{ id, place, chosen: id === itemState.lineUp.chosenId, trial }]
				: [];
		}),
	);
	type Step = NonNullable<CandidateResult['trial']>['byStep'][number];
	const shareInside = ({ inside, ranged }: Step, level: string) =>
		ranged > 0 ? (100 * inside[level]!) / ranged : null;

	const option = $derived.by(() => {
		const figures = {
			curves: tried.map(({ place, chosen, trial }) => ({
				place,
				chosen,
				mads: trial.byStep.map(({ mad }) => mad),
			})),
			repeated: itemState.lineUp.rows.some(({ method }) => method === 'naive'),
			naive: (chosen ?? tried[0]?.trial)?.byStep.map(({ naive }) => naive) ?? [],
			shares: chosen
				? levels.map((level) => ({
						level: Number(level),
						shares: chosen.byStep.map((step) => shareInside(step, level)),
					}))
				: [],
			period: periodWord(itemState.series.frequency, 1),
			measured: itemState.measured,
			power: itemState.scale.power,
		};
		return (palette: Palette) => trialOption(figures, palette);
	});

	const name = $derived(itemState.answers.names.get(itemState.lineUp.chosenId) ?? '');
	const sentence = $derived.by(() => {
		if (!chosen || chosen.origins === 0) return null;
		const sum = (pick: (step: Step) => number) =>
			chosen.byStep.reduce((total, step) => total + pick(step), 0);
		return inMark(
			trialWords(
				{
					name,
					origins: chosen.origins,
					steps: chosen.byStep.length,
					relativeError: chosen.measures.relativeMae,
					inside: levels.map((level) => ({
						level: Number(level),
						inside: sum(({ inside }) => inside[level]!),
						of: sum(({ ranged }) => ranged),
					})),
				},
				itemState.series.frequency,
			),
		);
	});

	const rows = (): Rows => [
		[
			'steps ahead',
			...tried.map(({ id }) => `MAD of ${itemState.answers.names.get(id)}`),
			'MAD of naive',
			`errors of ${name}`,
			...levels.map((level) => `% inside ${percent(Number(level))}`),
		],
		...(chosen?.byStep ?? []).map((step, i) => [
			step.step,
			...tried.map(({ trial }) => trial.byStep[i]?.mad ?? null),
			step.naive,
			step.count,
			...levels.map((level) => shareInside(step, level)),
		]),
	];
</script>

<div class="flex h-full flex-col overflow-y-auto">
	{#if !itemState.answers.chosen}
		<Unready {itemState} what="how it would have done" />
	{:else if !chosen}
		<p class="px-4 py-3 text-[13px]"><Busy words="Forecasting from past origins…" /></p>
	{:else if chosen.origins === 0}
		<p class="px-4 py-3 text-[13px]">
			{name} cannot be tried yet: no origin has 8 periods and two cycles before it at which it runs. Bring in more
			periods.
		</p>
	{:else}
		<div class="flex shrink-0 items-baseline gap-3 px-4 pt-2 text-[13px]">
			<h2 class="truncate font-semibold" title="Trial: {name}">Trial: {name}</h2>
			<span class="ml-auto flex shrink-0 items-baseline gap-2 text-ink-2" data-trial="constants">
				{#if running}
					refitting, {done} of {itemState.lineUp.rows.length}
					<Button look="link" onclick={stop}>stop</Button>
				{:else}
					<Button aria-pressed={!found} onclick={() => (again = null)}>today’s constants</Button>
					<Button
						aria-pressed={!!found}
						title="Constants searched again at each origin, from what was known then"
						onclick={findAgain}>refitted at each origin</Button
					>
				{/if}
			</span>
			<Export name="{itemState.item.code} trial" of="Trial" {rows} {chart} sheet="Trial" />
		</div>
		<div class="min-h-[290px] flex-1 px-2">
			<Chart
				bind:this={chart}
				{option}
				theme={theme.name}
				label="Mean absolute error by step ahead of every candidate, and the share of actuals inside the ranges of {name}"
			/>
		</div>
		<p class="shrink-0 px-4 text-[13px]" data-trial="says">{sentence}</p>
		<div class="shrink-0 overflow-x-auto px-4 pt-1 pb-2 text-[13px]">
			<table class="w-full" data-trial="table">
				<caption class="sr-only">By step ahead</caption>
				<tbody>
					<tr class="border-b border-rule text-ink-2">
						<th class="text-left font-normal"><Head name="ahead" term="horizon" /></th>
						{#each chosen.byStep as { step } (step)}<th class="figures pl-2 font-normal">{step}</th>{/each}
					</tr>
					<tr class="border-b border-rule">
						<td>MAD</td>
						{#each chosen.byStep as { step, mad } (step)}<td class="figures pl-2"
								>{scaled(mad, itemState.scale)}</td
							>{/each}
					</tr>
					<tr class="border-b border-rule">
						<td class="whitespace-nowrap">relative MAE</td>
						{#each chosen.byStep as { step, relativeError } (step)}
							<td class="figures pl-2">{relativeError === null ? '–' : figure(relativeError, 2)}</td>
						{/each}
					</tr>
					{#each levels as level (level)}
						<tr class="border-b border-rule">
							<td class="whitespace-nowrap">in {percent(Number(level))}</td>
							{#each chosen.byStep as step (step.step)}
								{@const share = shareInside(step, level)}
								<td class="figures pl-2" title="{step.inside[level]} of {step.ranged}"
									>{share === null ? '–' : figure(share, 0)}</td
								>
							{/each}
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
	{/if}
</div>
