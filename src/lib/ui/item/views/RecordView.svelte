<script lang="ts">
	import { trackingOf } from '$core/grading/grades';
	import Busy from '../../kit/Busy.svelte';
	import { RUNNING_LIMIT } from '$core/accuracy/tracking';
	import { constantsWords } from '$core/words/constants';
	import { describePeriod } from '$core/series/period';
	import { roundingWords } from '$core/words/paper';
	import { insideWords } from '$core/words/status';
	import Chart from '../../../charts/Chart.svelte';
	import type { Palette } from '../../../charts/palette';
	import { signalOption } from '../../../charts/signal';
	import { inMark } from '../../../reader.svelte';
	import type { AdoptedForecast } from '../../../wire/records';
	import { call, messageOf } from '../../base/call';
	import type { Rows } from '../../export/cells';
	import Export from '../../export/Export.svelte';
	import { moment, scaled, scaledSigned } from '../../base/format';
	import Button from '../../kit/Button.svelte';
	import Notice from '../../kit/Notice.svelte';
	import Head from '../../kit/Head.svelte';
	import Choice from '../../kit/Choice.svelte';
	import { theme } from '../../base/theme.svelte';
	import type { ItemState } from '../state/item-state.svelte';
	import { type Over, recordWords } from '../state/record-words';

	let { itemState }: { itemState: ItemState } = $props();

	const { frequency } = $derived(itemState.series);
	const code = $derived(itemState.item.code);
	const graded = $derived(itemState.record.graded);
	let records = $state.raw<readonly AdoptedForecast[]>([]);
	/** Whether there may be records before those that are here. */
	let more = $state(false);
	let problem = $state<string | null>(null);
	/** What is shown of it. */
	let part = $state<'grades' | 'signal' | 'records'>('grades');
	/** Over which grades. */
	let over = $state<Over>('run');
	/** What computing a record anew came to, by its id. */
	let checked = $state.raw<Readonly<Record<number, string>>>({});
	let chart: Chart | undefined = $state();

	// Loaded anew whenever a record joined.
	$effect(() => {
		void itemState.record.adoptedCount;
		void load(code);
	});

	async function load(of: string) {
		try {
			const [newest] = await Promise.all([
				call('GET /items/[code]/adopted', { code: of }),
				itemState.record.loadGrades(),
			]);
			records = newest;
			more = newest.length > 0 && newest.length < itemState.record.adoptedCount;
			problem = null;
		} catch (error) {
			problem = messageOf(error);
		}
	}

	async function earlier() {
		const before = records.at(-1)!.id;
		try {
			const page = await call('GET /items/[code]/adopted', { code }, undefined, {
				query: { before: String(before) },
			});
			records = [...records, ...page];
			more = page.length > 0 && records.length < itemState.record.adoptedCount;
		} catch (error) {
			problem = messageOf(error);
		}
	}

	async function computeAnew({ id }: AdoptedForecast) {
		checked = { ...checked, [id]: 'computing…' };
		try {
			const { sameData, sameFigures } = await call('GET /items/[code]/adopted/[id]', {
				code,
				id: String(id),
			});
			checked = {
				...checked,
				[id]:
					sameData && sameFigures
						? 'calculated again from the figures as they were then: every figure is the same'
						: sameData
							? 'calculated again from the same figures, the forecast differs: another version of the program made it'
							: 'the figures that it was made from are not the same any more',
			};
		} catch (error) {
			checked = { ...checked, [id]: messageOf(error) };
		}
	}

	const said = $derived(recordWords(graded, over, frequency, itemState.scale));
	const chosen = $derived(said.grades);
	const alarm = $derived(said.alarm);

	/** The newest first. */
	const listed = $derived(chosen.toReversed());

	const option = $derived.by(() => {
		const scored = chosen.filter((grade) => grade.scored);
		const first = chosen[0]?.period ?? 1;
		const tracking = trackingOf(chosen);
		const biased = alarm?.since == null || over !== 'run' ? null : said.periodOf(alarm.since) - first + 1;
		const figures = {
			frequency,
			first,
			periods: (chosen.at(-1)?.period ?? first) - first + 1,
			tracking: { ...tracking, positions: Int32Array.from(scored, ({ period }) => period - first) },
			limit: RUNNING_LIMIT,
			biasedFrom: biased,
			measured: itemState.measured,
			power: itemState.scale.power,
		};
		return (palette: Palette) => signalOption(figures, palette);
	});

	const recordName = (id: number) => {
		const record = records.find((each) => each.id === id);
		return record ? `${describePeriod(frequency, record.origin)}: ${record.label}` : `record ${id}`;
	};

	const rows = (): Rows => [
		[
			'period',
			'actual',
			'computed',
			'final forecast',
			'error of computed',
			'error of the final forecast',
			'steps ahead',
			'inside',
			'naive',
			'seasonal naive',
			'scored',
			'from',
		],
		...chosen.map((grade) => [
			describePeriod(frequency, grade.period),
			grade.actual,
			grade.mean,
			grade.final,
			grade.error,
			grade.finalError,
			grade.step,
			insideWords(grade),
			grade.naive,
			grade.seasonalNaive,
			grade.scored ? 'yes' : 'left out',
			recordName(grade.record),
		]),
	];

	const settings = ({ candidate, constants, rounding, layersUsed, carriedFrom }: AdoptedForecast) =>
		[
			constantsWords(candidate, constants),
			inMark(roundingWords(rounding)),
			layersUsed.length > 0 ? `from figures adjusted: ${layersUsed.join(', ')}` : '',
			carriedFrom === null ? '' : 'updated',
		]
			.filter(Boolean)
			.join(' · ');
</script>

<div class="flex h-full flex-col">
	{#if problem}
		<Notice class="mx-4 my-3">{problem}</Notice>
	{:else if !graded}
		<p class="px-4 py-3"><Busy words="Loading the record…" /></p>
	{:else if records.length === 0}
		<p class="px-4 py-3 text-[13px] text-ink-2">
			Nothing is adopted for this item yet. Adopt a forecast under <b>Ahead</b>; here it is then compared with
			the actuals as they come in.
		</p>
	{:else}
		<div class="flex shrink-0 flex-wrap items-baseline gap-x-4 gap-y-1 px-4 pt-2 pb-1 text-[13px]">
			<span class="flex gap-3" role="group" aria-label="Part of the record">
				<Button aria-pressed={part === 'grades'} onclick={() => (part = 'grades')}>period by period</Button>
				<Button aria-pressed={part === 'signal'} onclick={() => (part = 'signal')}>signal</Button>
				<Button aria-pressed={part === 'records'} onclick={() => (part = 'records')}
					>adopted ({itemState.record.adoptedCount})</Button
				>
			</span>
			{#if part !== 'records'}
				<label class="flex items-baseline gap-1.5 text-ink-2">
					over
					<Choice
						value={over}
						names={{ run: 'the current sequence', all: 'all adopted forecasts', twelve: 'the last 12' }}
						take={(value) => (over = value)}
					/>
				</label>
			{/if}
			<span class="ml-auto"><Export name="{code} record" of="Record" {rows} sheet="Record" {chart} /></span>
		</div>
		{#if part === 'grades'}
			<!-- svelte-ignore a11y_no_noninteractive_tabindex (scrolled with the keyboard) -->
			<div class="min-h-0 flex-1 overflow-y-auto" tabindex="0" role="region" aria-label="Period by period">
				<table class="w-full text-[13px] [&_:is(td,th)+:is(td,th)]:pl-2">
					<thead class="sticky top-0 bg-paper text-ink-2">
						<tr class="border-b border-rule">
							<th class="py-1 pl-4 text-left font-normal">period</th>
							<th class="text-right font-normal"><Head name="actual" term="actual" /></th>
							<th class="text-right font-normal"><Head name="computed" term="computed" /></th>
							<th class="text-right font-normal"><Head name="final forecast" term="final" /></th>
							<th class="text-right font-normal"><Head name="error" term="error" /></th>
							<th class="pl-3 text-right font-normal"
								><Head name="ahead" more="How many periods before it came the forecast was made." /></th
							>
							<th class="pr-4 pl-3 text-right font-normal"><Head name="inside" term="range" /></th>
						</tr>
					</thead>
					<tbody>
						{#each listed as grade (grade.period)}
							<tr
								class="h-6 border-b border-rule {grade.scored ? '' : 'text-ink-2'}"
								data-grade={grade.period}
								title={recordName(grade.record)}
							>
								<td class="pl-4 whitespace-nowrap"
									>{describePeriod(frequency, grade.period)}{grade.scored ? '' : ', left out'}</td
								>
								<td class="figures">{scaled(grade.actual, itemState.actualScale)}</td>
								<td class="figures text-ink-2">{scaled(grade.mean, itemState.scale)}</td>
								<td class="figures {grade.final === grade.mean ? '' : 'font-semibold text-accent'}"
									>{scaled(grade.final, itemState.scale)}</td
								>
								<td class="figures font-semibold">{scaledSigned(grade.finalError, itemState.scale)}</td>
								<td class="figures text-ink-2">{grade.step}</td>
								<td
									class="pr-4 text-right {grade.ranged && grade.inside === null ? 'text-bad' : 'text-ink-2'}"
									>{insideWords(grade) || '–'}</td
								>
							</tr>
						{/each}
					</tbody>
				</table>
				{#if listed.length === 0}
					<p class="px-4 py-3 text-ink-2">
						Nothing came in yet since it was adopted. Each new figure is held against the forecast in force
						for it.
					</p>
				{/if}
			</div>
		{:else if part === 'signal'}
			<div class="min-h-[180px] flex-1 px-2">
				<Chart
					parts={() => import('../../../charts/engine-bars')}
					bind:this={chart}
					{option}
					theme={theme.name}
					label="Tracking signal since it was adopted, with errors and their running sum"
				/>
			</div>
		{:else}
			<!-- svelte-ignore a11y_no_noninteractive_tabindex (scrolled with the keyboard) -->
			<div class="min-h-0 flex-1 overflow-y-auto" tabindex="0" role="region" aria-label="Adopted forecasts">
				<ul class="text-[13px]">
					{#each records as record (record.id)}
						<li class="border-b border-rule px-4 py-1.5" data-record={record.id}>
							<p class="flex flex-wrap items-baseline gap-x-3">
								<span class="font-semibold">{record.label}</span>
								<span class="text-ink-2"
									>after {describePeriod(frequency, record.origin)}, {record.steps.length} ahead; {moment(
										record.adoptedAt,
									)} by {record.adoptedBy}</span
								>
								<span class="ml-auto flex gap-3">
									<Button
										aria-pressed={itemState.record.laid?.id === record.id}
										onclick={() =>
											(itemState.record.laid = itemState.record.laid?.id === record.id ? null : record)}
										>on the strip</Button
									>
									<Button onclick={() => computeAnew(record)}>calculate again</Button>
								</span>
							</p>
							<p class="text-ink-2">
								{inMark(settings(record))}{record.reason ? ` · “${record.reason}”` : ''}
							</p>
							{#each record.steps.filter(({ changeReason }) => changeReason) as step (step.step)}
								<p>
									{describePeriod(frequency, step.period)}: {scaled(step.mean, itemState.scale)} → {scaled(
										step.final,
										itemState.scale,
									)}, “{step.changeReason}”
								</p>
							{/each}
							{#if checked[record.id]}<p class="text-ink-2" role="status">{checked[record.id]}.</p>{/if}
						</li>
					{/each}
				</ul>
				{#if more}<p class="px-4 py-2"><Button look="link" onclick={earlier}>earlier ones</Button></p>{/if}
			</div>
		{/if}
		<div class="shrink-0 border-t border-rule px-4 py-2 text-[13px]" data-record-says>
			{#each said.sentences as sentence (sentence)}<p>{inMark(sentence)}</p>{/each}
			{#if said.sentences.length === 0}<p class="text-ink-2">Not compared with an actual yet.</p>{/if}
		</div>
	{/if}
</div>
