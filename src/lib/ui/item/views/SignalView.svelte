<script lang="ts">
	import {
		isOutside,
		lastSignal,
		RUNNING_LIMIT,
		signalAt,
		signalWords,
		type Tracking,
	} from '$core/accuracy/tracking';
	import { alarmChance, alarmWords } from '$core/words/alarm';
	import { chanceWords } from '$core/words/chance';
	import { overWords } from '$core/accuracy/windows';
	import { inWords } from '$core/numbers/figure';
	import { methodOf } from '$core/methods/registry';
	import { periodWord } from '$core/series/frequency';
	import { arithmetic } from '../../../browser-worker/arithmetic';
	import Chart from '../../../charts/Chart.svelte';
	import type { Palette } from '../../../charts/palette';
	import { signalOption } from '../../../charts/signal';
	import type { Rows } from '../../export/cells';
	import Export from '../../export/Export.svelte';
	import { inMark } from '../../../reader.svelte';
	import type { ItemState } from '../state/item-state.svelte';
	import { theme } from '../../base/theme.svelte';
	import Unready from './Unready.svelte';
	import { describePeriod } from '$core/series/period';

	let { itemState }: { itemState: ItemState } = $props();

	const series = $derived(itemState.series);
	const NOTHING_TRACKED: Tracking = {
		positions: new Int32Array(0),
		errors: new Float64Array(0),
		cfe: new Float64Array(0),
		mad: new Float64Array(0),
	};
	let chart: Chart | undefined = $state();
	const result = $derived(itemState.answers.chosen);
	const label = $derived(
		itemState.lineUp.chosen ? methodOf(itemState.lineUp.chosen.method).label(itemState.lineUp.chosen) : '',
	);
	const tracking = $derived(result?.perPeriod?.tracking ?? NOTHING_TRACKED);
	const last = $derived(lastSignal(tracking));
	const scored = $derived(tracking.positions.length);

	/** Chance that an unbiased forecast had crossed the limit by now; by how many periods were scored. */
	let chance = $state.raw<{ scored: number; share: number } | null>(null);
	$effect(() => {
		const asked = scored;
		if (asked === 0 || chance?.scored === asked) return;
		void arithmetic()
			.chanceOfCrossing({ kind: 'running', limit: RUNNING_LIMIT }, asked)
			.then((share) => {
				if (asked === scored) chance = { scored: asked, share };
			});
	});

	const over = $derived(overWords(itemState.answers.judged, scored, series.frequency));
	const sentence = $derived.by(() => {
		if (scored === 0) return 'No period is scored yet.';
		if (last === null) return `There is no error over ${over}, so there is no signal.`;
		const out = tracking.errors.filter((_, entry) =>
			isOutside(signalAt(tracking, entry), RUNNING_LIMIT),
		).length;
		const where = isOutside(last, RUNNING_LIMIT) ? `outside ±${RUNNING_LIMIT}` : `inside ±${RUNNING_LIMIT}`;
		const often =
			out > 0 ? ` It was outside in ${out} of ${scored} ${periodWord(series.frequency, scored)}.` : '';
		return inMark(
			`Over ${over} the signal stands at ${signalWords(last, RUNNING_LIMIT)}, ${where}. Errors sum to ${inWords(tracking.cfe.at(-1)!)}; their mean size is ${inWords(tracking.mad.at(-1)!)}.${often}`,
		);
	});

	const alarm = $derived(
		result && alarmWords(result.alarm, series.frequency, (since) => series.first + since - 1),
	);

	const option = $derived.by(() => {
		const figures = {
			frequency: series.frequency,
			first: series.first,
			periods: series.values.length,
			tracking,
			limit: RUNNING_LIMIT,
			biasedFrom: result?.alarm.since ?? null,
			measured: itemState.measured,
			power: itemState.scale.power,
		};
		return (palette: Palette) => signalOption(figures, palette);
	});

	const rows = (): Rows => [
		['period', 'error', 'running sum', 'MAD so far', 'tracking signal'],
		...Array.from(tracking.positions, (position, entry) => [
			describePeriod(series.frequency, series.first + position),
			tracking.errors[entry]!,
			tracking.cfe[entry]!,
			tracking.mad[entry]!,
			signalAt(tracking, entry),
		]),
	];
</script>

<div class="flex h-full flex-col overflow-y-auto">
	{#if !result}
		<Unready {itemState} what="its tracking signal" />
	{:else}
		<div class="flex shrink-0 items-baseline gap-3 px-4 pt-2 text-[13px]">
			<h2 class="font-semibold">Tracking signal of {label}</h2>
			<span class="ml-auto"
				><Export name="{itemState.item.code} {label} signal" of="Tracking signal" {rows} {chart} /></span
			>
		</div>
		<!-- Both charts keep room for their names; a low window scrolls. -->
		<div class="min-h-[220px] flex-1 px-2">
			<Chart
				parts={() => import('../../../charts/engine-bars')}
				bind:this={chart}
				{option}
				theme={theme.name}
				label="Tracking signal of {label} against its limits, with errors and their running sum"
			/>
		</div>
		<div class="shrink-0 border-t border-rule px-4 py-2 text-[13px]" data-signal="says">
			{#if alarm}<p class={result.alarm.since === null ? '' : 'text-bad'} data-signal="alarm">
					{inMark(alarm)}
					<span class="text-ink-2">{inMark(alarmChance(result.alarm, series.frequency, scored))}</span>
				</p>{/if}
			<p class="mt-1">{sentence}</p>
			{#if chance && scored > 0}
				<p class="mt-1 text-ink-2">
					The signal raises no alarm by itself: an unbiased forecast would have passed ±{RUNNING_LIMIT}
					by now in {inMark(chanceWords(chance.share, 'cases'))}. A running sum moves further the longer it
					runs.
				</p>
			{/if}
		</div>
	{/if}
</div>
