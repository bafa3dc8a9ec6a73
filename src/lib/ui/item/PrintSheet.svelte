<script lang="ts">
	import { flushSync, onMount, tick } from 'svelte';
	import { methodOf } from '$core/methods/registry';
	import { sumOrNull } from '$core/numbers/known';
	import { describePeriod } from '$core/series/period';
	import { percent } from '$core/words/chance';
	import { paperSentences } from '$core/words/paper';
	import { insideWords, reasonWords } from '$core/words/status';
	import { termIs } from '$core/words/terms';
	import { readPalette } from '../../charts/palette';
	import { MEASURES, measuresIn } from '$core/accuracy/measures';
	import { measureInWords } from '$core/accuracy/scales';
	import { constantsWords } from '$core/words/constants';
	import { inMark } from '../../reader.svelte';
	import { moment, scaled, scaledSigned } from '../base/format';
	import CandidateMark from './CandidateMark.svelte';
	import type { ItemState } from './state/item-state.svelte';
	import { recordWords } from './state/record-words';
	import type Strip from './Strip.svelte';

	interface Props {
		itemState: ItemState;
		strip: Strip | undefined;
		facts: readonly string[];
		/** Whose items these are. */
		workspace: string;
	}
	let { itemState, strip, facts, workspace }: Props = $props();

	/** Pixels of a sheet between its margins, narrow enough for A4 and low enough for Letter. */
	const WIDTH = 700;
	const HEIGHT = 290;
	/** Rows that a page has room for. */
	const ROWS = 13;
	const CANDIDATES = 7;

	let sheet: HTMLElement | undefined = $state();
	let printing = $state(false);
	let picture = $state<string | null>(null);
	let made = $state('');

	onMount(() => {
		// It is looked up before somebody prints: then it is too late to wait for it.
		const idle = window.requestIdleCallback?.bind(window) ?? ((work: () => void) => setTimeout(work, 500));
		idle(() => void itemState.record.loadGrades().catch(() => undefined));
	});

	function before() {
		flushSync(() => {
			printing = true;
			made = moment(new Date().toISOString());
		});
		picture = sheet ? (strip?.picture(readPalette(sheet), WIDTH, HEIGHT) ?? null) : null;
		flushSync();
	}

	/** Lays a drawing, an SVG document of its own, into an element. */
	const shows = (drawing: string | null) => (element: HTMLElement) =>
		element.replaceChildren(
			...(drawing ? [new DOMParser().parseFromString(drawing, 'image/svg+xml').documentElement] : []),
		);

	/** Prints the item on one page. */
	export async function print() {
		await itemState.record.loadGrades().catch(() => undefined);
		await tick();
		window.print();
	}

	const { frequency } = $derived(itemState.series);
	const result = $derived(itemState.answers.chosen);
	const level = $derived(String(itemState.answers.level));
	const reasons = $derived(
		(itemState.item.status?.reasons ?? []).map((reason) =>
			inMark(reasonWords(reason, frequency, itemState.scale, itemState.item.unit)),
		),
	);
	const sentences = $derived.by(() => {
		const steps = result?.ahead ?? [];
		const measures = itemState.answers.measuresOf(itemState.lineUp.chosenId);
		const notes = itemState.answers.notesOf(itemState.lineUp.chosenId);
		const trial = notes.find(({ code }) => code === 'closer-than-naive' || code === 'no-better-than-naive');
		const changes = steps.flatMap(({ step }) => {
			const change = itemState.record.handed.changes[itemState.origin + step];
			return change ? [{ period: itemState.origin + step, reason: change.reason }] : [];
		});
		return paperSentences(
			{
				name: itemState.answers.names.get(itemState.lineUp.chosenId) ?? '',
				besideAdopted:
					itemState.record.adopted !== null &&
					!!itemState.lineUp.chosen &&
					methodOf(itemState.lineUp.chosen.method).label(itemState.lineUp.chosen) !==
						itemState.record.adopted.label,
				unit: itemState.item.unit,
				ahead: steps.length > 0 ? [itemState.origin + 1, itemState.origin + steps.length] : null,
				mad: measures?.mad ?? null,
				compared: measures?.count ?? 0,
				trial: trial?.text ?? null,
				level: steps.some(({ ranges }) => ranges[level]) ? itemState.answers.level : null,
				changes,
				rounding: itemState.record.handed.rounding,
			},
			frequency,
			itemState.answers.measureScales.mad,
		);
	});
	const said = $derived(recordWords(itemState.record.graded, 'run', frequency, itemState.scale));
	const rows = $derived(itemState.lineUp.rows.slice(0, CANDIDATES));
	const ahead = $derived((result?.ahead ?? []).slice(0, ROWS));
	const sum = $derived(sumOrNull(itemState.record.finals));
	const constantsOf = (id: string) => {
		const candidate = itemState.lineUp.candidates.find((each) => each.id === id);
		return candidate ? constantsWords(candidate, itemState.answers.resultFor(id)?.constants ?? {}) : '';
	};
	const name = (period: number) => describePeriod(frequency, period);

	function rangeWords(range: readonly [number, number] | null | undefined): string {
		const shown = itemState.rangeShown(range);
		return shown
			? `${scaled(shown[0], itemState.answers.rangeScale)} – ${scaled(shown[1], itemState.answers.rangeScale)}`
			: '–';
	}
</script>

<svelte:window onbeforeprint={before} onafterprint={() => (printing = false)} />

{#if printing}
	<section
		class="printed on-paper text-[11px] leading-[1.35] text-ink"
		bind:this={sheet}
		aria-label="On paper"
	>
		<div class="flex items-baseline gap-3 border-b border-ink pb-1">
			<h1 class="text-[16px] font-semibold">{itemState.item.code} {itemState.item.name}</h1>
			<span class="ml-auto text-ink-2">{workspace}, {made}</span>
		</div>
		<p class="pt-1 text-ink-2">{facts.join(' · ')}</p>
		<div class="py-1" data-paper="says">
			{#each sentences as sentence (sentence)}<p>{inMark(sentence)}</p>{/each}
		</div>
		{#if itemState.record.adopted}
			<p>
				Adopted: <b>{itemState.record.adopted.label}</b>, {moment(itemState.record.adopted.adoptedAt)} by {itemState
					.record.adopted.adoptedBy}{itemState.record.adopted.reason
					? `: “${itemState.record.adopted.reason}”`
					: ''}.
			</p>
		{/if}
		{#each reasons as reason (reason)}<p>◆ {reason}.</p>{/each}
		<div class="mt-1" style:height="{HEIGHT}px" {@attach shows(picture)}></div>
		<table class="mt-1 w-full">
			<thead>
				<tr class="border-y border-rule text-ink-2">
					<th class="py-0.5 text-left font-normal">candidate</th>
					{#each measuresIn('lineUp') as measure (measure)}
						<th class="figures font-normal">{MEASURES[measure].name}</th>
					{/each}
				</tr>
			</thead>
			<tbody>
				{#each rows as { id } (id)}
					{@const measures = itemState.answers.measuresOf(id)}
					<tr class="border-b border-rule {id === itemState.lineUp.chosenId ? 'font-semibold' : ''}">
						<td class="flex items-center gap-2"
							><CandidateMark
								place={itemState.lineUp.rows.findIndex((row) => row.id === id)}
								bold={id === itemState.lineUp.chosenId}
							/>
							{itemState.answers.names.get(id)}
							<span class="font-normal text-ink-2">{inMark(constantsOf(id))}</span></td
						>
						{#each measuresIn('lineUp') as measure (measure)}
							<td class="figures"
								>{inMark(
									measureInWords(measure, measures?.[measure], itemState.answers.measureScales[measure]),
								)}</td
							>
						{/each}
					</tr>
				{/each}
			</tbody>
		</table>
		<div class="mt-2 grid grid-cols-2 gap-6">
			<table class="w-full self-start">
				<caption class="pb-0.5 text-left font-semibold"
					>Ahead{itemState.measured ? `, ${itemState.measured}` : ''}</caption
				>
				<thead>
					<tr class="border-y border-rule text-ink-2">
						<th class="py-0.5 text-left font-normal">period</th>
						<th class="figures font-normal">computed</th>
						<th class="figures font-normal">final forecast</th>
						<th class="figures font-normal">{percent(itemState.answers.level)} range</th>
					</tr>
				</thead>
				<tbody>
					{#each ahead as { step, mean, ranges }, i (step)}
						<tr class="border-b border-rule">
							<td>{name(itemState.origin + step)}</td>
							<td class="figures">{scaled(mean, itemState.scale)}</td>
							<td class="figures font-semibold">{scaled(itemState.record.finals[i], itemState.scale)}</td>
							<td class="figures">{rangeWords(ranges[level])}</td>
						</tr>
					{/each}
					<tr>
						<td class="text-ink-2">sum of {itemState.record.finals.length}</td>
						<td></td>
						<td class="figures font-semibold">{scaled(sum, itemState.scale)}</td>
						<td></td>
					</tr>
				</tbody>
			</table>
			<div>
				<table class="w-full">
					<caption class="pb-0.5 text-left font-semibold">Record, the latest periods</caption>
					<thead>
						<tr class="border-y border-rule text-ink-2">
							<th class="py-0.5 text-left font-normal">period</th>
							<th class="figures font-normal">actual</th>
							<th class="figures font-normal">final forecast</th>
							<th class="figures font-normal">error</th>
							<th class="figures font-normal">inside</th>
						</tr>
					</thead>
					<tbody>
						{#each said.grades.slice(-ROWS).toReversed() as grade (grade.period)}
							<tr class="border-b border-rule">
								<td>{name(grade.period)}</td>
								<td class="figures">{scaled(grade.actual, itemState.actualScale)}</td>
								<td class="figures">{scaled(grade.final, itemState.scale)}</td>
								<td class="figures font-semibold">{scaledSigned(grade.finalError, itemState.scale)}</td>
								<td class="figures">{insideWords(grade) || '–'}</td>
							</tr>
						{/each}
					</tbody>
				</table>
				{#if said.grades.length === 0}<p class="text-ink-2">Nothing came in yet since it was adopted.</p>{/if}
			</div>
		</div>
		<div class="mt-2 border-t border-rule pt-1">
			{#each said.sentences as sentence (sentence)}<p>{inMark(sentence)}</p>{/each}
			<p class="text-ink-2">
				Naive: {termIs('naive')} Error: {termIs('error')} Tracking signal: {termIs('trackingSignal')}
			</p>
		</div>
	</section>
{/if}
