<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { BOUNDS } from '$core/bounds';
	import { measureInWords } from '$core/accuracy/scales';
	import { MEASURES } from '$core/accuracy/measures';
	import { percentScale } from '$core/numbers/figure';
	import {
		CLEARLY,
		gainSentences,
		RARE_MEASURES,
		sharedSentence,
		stockSentences,
		sweptSentence,
	} from '$core/words/sweep';
	import { inMark } from '../../reader.svelte';
	import {
		type NewSweep,
		type Sweep,
		type SweepAsked,
		type SweepRow,
		type SweepSums,
		type SweepWindow,
		SWEPT_MEASURES,
	} from '../../wire/sweeps';
	import { allOf, SHOWN_NAMES, sweepParams } from '../../wire/sweep-asked';
	import { type SweepFigure, SWEEP_KEYS, sweepColumn } from '../../wire/sweep-columns';
	import { SWEEP_KINDS, sweepKind } from '../../wire/sweep-kinds';
	import { call, messageOf } from '../base/call';
	import type { Rows } from '../export/cells';
	import { figure, moment } from '../base/format';
	import { cut } from '../lists/listed';
	import { Ticks } from '../lists/ticks.svelte';
	import Allowed from '../kit/Allowed.svelte';
	import Button from '../kit/Button.svelte';
	import Head from '../kit/Head.svelte';
	import Hover from '../kit/Hover.svelte';
	import Notice from '../kit/Notice.svelte';
	import NotLoaded from '../kit/NotLoaded.svelte';
	import Choice from '../kit/Choice.svelte';
	import ItemName from '../kit/ItemName.svelte';
	import LongList from '../kit/LongList.svelte';
	import TextInput from '../kit/TextInput.svelte';
	import Tick from '../kit/Tick.svelte';
	import { type Source, PagedRows } from '../base/paged-rows.svelte';
	import { type Column, columnsOf } from './columns';
	import GainBars from './GainBars.svelte';
	import { LiveSweeps } from './live.svelte';
	import SweepState from './SweepState.svelte';
	import { aboutWords, ofWords } from './words';

	interface Props {
		sweep: Sweep;
		sums: SweepSums;
		asked: SweepAsked;
		first: SweepWindow;
		ask: (change: Partial<SweepAsked>) => void;
	}
	let { sweep: known, sums: before, asked, first, ask }: Props = $props();

	const ROW = 40;
	/** Sorted from A on; figures from the largest. */
	const BY_WORDS: readonly SweepAsked['sort'][] = ['code', 'before', 'label'];
	/** Pause in milliseconds between two looks at what has come of it meanwhile. */
	const AGAIN = 1500;

	const live = untrack(() => new LiveSweeps([known]));
	const sweep = $derived(live.get(known.id) ?? known);
	/** Adopting rows of it, as long as that is under way. */
	const adopting = $derived(live.all.find((each) => each.of === known.id && each.endedAt === null) ?? null);
	const kind = $derived(sweepKind(sweep.kind));
	const about = $derived(aboutWords(sweep));
	/** Whether rows of it can be ticked, to be adopted. */
	const tickable = $derived(sweep.kind !== 'adopt');
	let sums = $derived(before);
	let refusal = $state<string | null>(null);
	/** What was adopted last of it. */
	let adopted = $state.raw<{ id: number; sums: SweepSums } | null>(null);
	let reason = $state('');
	let typed = $state(untrack(() => asked.words));
	const fail = (error: unknown) => (refusal = messageOf(error));

	const source = (of: SweepAsked): Source<SweepRow> => {
		const id = String(known.id);
		return {
			window: (from, most) =>
				call('GET /sweeps/[id]/rows', { id }, undefined, { query: cut(sweepParams(of), from, most) }),
			places: () => call('GET /sweeps/[id]/places', { id }, undefined, { query: sweepParams(of) }),
		};
	};
	const windows = $derived(new PagedRows(source(asked), first));
	const ticks = $derived.by(() => {
		void windows;
		return new Ticks();
	});
	const ticked = $derived(ticks.count(windows.count));
	let rowsShown: LongList | undefined = $state();
	onMount(() => live.listen());
	$effect(() => {
		void windows.locate();
		untrack(() => rowsShown?.toTop());
	});
	$effect(() => {
		if (windows.failure !== null) fail(windows.failure);
	});

	async function look() {
		try {
			({ sums } = await call('GET /sweeps/[id]', { id: String(known.id) }));
			await windows.renew();
		} catch (error) {
			fail(error);
		}
	}

	async function lookAtAdopted(id: number) {
		try {
			const { sums } = await call('GET /sweeps/[id]', { id: String(id) });
			adopted = { id, sums };
		} catch (error) {
			fail(error);
		}
	}

	// While it runs, what has come of it so far; and once more when it, or adopting, has ended.
	const underWay = $derived(sweep.endedAt === null || adopting !== null);
	let was = untrack(() => ({ underWay, adopting: adopting?.id ?? null }));
	$effect(() => {
		const before = was;
		was = { underWay, adopting: adopting?.id ?? null };
		if (before.adopting !== null && was.adopting === null) void lookAtAdopted(before.adopting);
		if (!underWay) {
			if (before.underWay) void look();
			return;
		}
		const every = setInterval(() => void look(), AGAIN);
		return () => clearInterval(every);
	});

	const { share } = $derived(sweep.settings);
	const sentences = $derived(
		[
			sweptSentence(sums, kind.done, !tickable),
			...gainSentences(sums),
			...stockSentences(sums.stockMore, sums.stockLess),
			...(share && sums.next !== null ? [sharedSentence(share, sums.next)] : []),
		].map(inMark),
	);
	const shows = $derived(
		(Object.keys(SHOWN_NAMES) as SweepAsked['show'][]).filter(
			(show) =>
				(kind.compared || (show !== 'clear' && show !== 'worse')) &&
				(tickable || (show !== 'ready' && show !== 'adopted')),
		),
	);

	async function adopt(items: NewSweep['items']) {
		refusal = null;
		adopted = null;
		try {
			const kind = 'adopt';
			live.put(await call('POST /sweeps', {}, { kind, of: known.id, items, reason: reason.trim() }));
			reason = '';
			ticks.setAll(false);
		} catch (error) {
			fail(error);
		}
	}

	/** What is ticked by name; all that fit are named one by one, since they may be less than what the sweep has. */
	async function adoptTicked() {
		try {
			const codes = await ticks.codesOf(windows);
			await adopt({ codes });
		} catch (error) {
			fail(error);
		}
	}

	function sortBy(sort: SweepAsked['sort']) {
		ask({ sort, down: asked.sort === sort ? !asked.down : !BY_WORDS.includes(sort) });
	}

	const columns = $derived(columnsOf(sweep));
	const HEADS = $derived<Pick<Column, 'key' | 'name'>[]>([
		{ key: 'code', name: 'item' },
		{ key: 'before', name: 'adopted before' },
		{
			key: 'label',
			name: kind.result,
		},
	]);
	const grid = $derived(
		`grid-template-columns: ${tickable ? '18px ' : ''}minmax(180px, 1.3fr) minmax(130px, 1fr) minmax(140px, 1fr) repeat(${columns.length}, 112px)`,
	);

	/** A share has its unit in its head. */
	const exportedName = (key: SweepFigure) =>
		key === 'gain' ? 'error smaller by, share' : sweepColumn(key).name;

	async function rows(): Promise<Rows> {
		const all = await windows.all();
		return [
			[
				'code',
				'name',
				'unit',
				'adopted before',
				'result',
				'why not',
				'clearly smaller',
				'rare demand',
				'WAPE',
				...SWEEP_KEYS.map(exportedName),
				'record',
			],
			...all.map((row) => [
				row.code,
				row.name,
				row.unit,
				row.before ?? '',
				row.label ?? '',
				row.refused ?? '',
				row.clear === null ? '' : row.clear ? 'yes' : 'no',
				row.rare ? 'yes' : 'no',
				row.wape,
				...SWEEP_KEYS.map((key) => row[key]),
				row.record,
			]),
		];
	}
	const measuresOf = ({ measures, scale }: SweepRow) =>
		(measures ?? [])
			.map((tried) => {
				const said = SWEPT_MEASURES.filter((id) => tried[id] !== null).map(
					(id) =>
						`${MEASURES[id].name} ${measureInWords(id, tried[id], MEASURES[id].unit === 'percent' ? percentScale([tried[id]]) : scale)}`,
				);
				return `${tried.label}: ${said.join(', ')}`;
			})
			.join('; ');
</script>

{#snippet head(key: SweepAsked['sort'] | null, name: string, side: string, title?: string)}
	{#if key}
		<Hover words={title}
			>{#snippet children(described)}<Button
					class={side}
					aria-pressed={asked.sort === key}
					aria-describedby={described}
					onclick={() => sortBy(key)}>{name}{asked.sort === key ? (asked.down ? ' ↓' : ' ↑') : ''}</Button
				>{/snippet}</Hover
		>
	{:else}<Head {name} more={title} class={side} />{/if}
{/snippet}

<div class="flex min-h-0 flex-1 flex-col overflow-x-auto">
	<div class="flex flex-wrap items-start gap-x-8 gap-y-2 px-4 pt-3 pb-2">
		<div class="min-w-0 flex-1">
			<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
				<h1 class="text-lg font-semibold">{kind.name}</h1>
				<span class="text-ink-2">{ofWords(sweep)}</span>
				<span class="text-[13px] text-ink-2">{sweep.by}, {moment(sweep.at)}</span>
				<SweepState {sweep} worker={live.worker} put={(each) => live.put(each)} />
			</div>
			{#if about}<p class="mt-1 text-ink-2">{inMark(about)}</p>{/if}
			{#if share}
				<p class="mt-1">
					<a href="/items/{encodeURIComponent(share.of)}" class="text-accent underline"
						>{share.of}, whose forecast is shared</a
					>
				</p>
			{/if}
			{#if sweep.of !== null}
				<p class="mt-1">
					<a href="/sweeps/{sweep.of}" class="text-accent underline">the sweep that these came from</a>
				</p>
			{/if}
			<div class="mt-1 max-w-3xl" data-sweep-says aria-live="polite">
				{#each sentences as sentence (sentence)}<p>{sentence}</p>{/each}
			</div>
			{#if sums.reasons.length > 0}
				<details class="mt-1 text-[13px]">
					<summary class="quiet">why {figure(sums.refused, 0)} are not possible</summary>
					<ul>
						{#each sums.reasons as { why, items } (why)}<li>{figure(items, 0)}: {inMark(why)}</li>{/each}
					</ul>
				</details>
			{/if}
			{#each sweep.setApart as { items, why }, i (i)}
				<p class="text-bad">{figure(items, 0)} items were skipped after three failures: {why}</p>
			{/each}
		</div>
		{#if sums.beside > 0 || sums.methods.length > 1}
			<div class="flex items-start gap-6">
				{#if sums.beside > 0}<GainBars gains={sums.gains} />{/if}
				<ul class="max-h-24 overflow-y-auto text-[13px]" aria-label="By result">
					{#each sums.methods as { label, items, clear } (label)}
						<li>
							<Button
								aria-pressed={asked.method === label}
								onclick={() => ask({ method: asked.method === label ? null : label })}
								>{label}: {figure(items, 0)}{clear > 0 ? `, ${figure(clear, 0)} clearly better` : ''}</Button
							>
						</li>
					{/each}
				</ul>
			</div>
		{/if}
		<div
			class="flex w-full flex-wrap items-center gap-x-4 gap-y-1 text-[13px]"
			role="search"
			aria-label="Rows"
		>
			<Choice
				label="Which rows"
				value={asked.show}
				of={shows}
				names={SHOWN_NAMES}
				take={(show) => ask({ show })}
			/>
			{#if asked.method !== null}
				<Button aria-pressed="true" onclick={() => ask({ method: null })}>{asked.method} ✕</Button>
			{/if}
			<TextInput
				bind:value={typed}
				type="search"
				label="Filter the rows"
				placeholder="Filter by code, name, label"
				maxlength={BOUNDS.name}
				class="h-7 w-56!"
				oninput={() => ask({ words: typed.trim() })}
			/>
			<span class="text-ink-2" data-sweep-rows={windows.counted ? windows.count : ''}
				>{windows.counted ? `${figure(windows.count, 0)} shown` : ''}</span
			>
			{#await import('../export/Export.svelte') then { default: Export }}
				<Export name="sweep {sweep.id}" of="Rows" {rows} sheet="Sweep" />
			{:catch}<NotLoaded />{/await}
			{#if tickable && sweep.endedAt !== null && sums.ready > sums.adopted}
				<Allowed does="Adopting" class="ml-auto"
					><span class="ml-auto flex flex-wrap items-baseline gap-x-3" role="group" aria-label="Adopt">
						<TextInput
							bind:value={reason}
							look="line"
							label="Reason for adopting"
							placeholder="one reason for all of them"
							maxlength={BOUNDS.reason}
							class="h-6 w-56"
						/>
						<Button look="offer" disabled={ticked === 0 || adopting !== null} onclick={adoptTicked}
							>adopt {figure(ticked, 0)} selected</Button
						>
						{#if kind.compared && sums.clearLeft > 0}
							<Button
								look="offer"
								disabled={adopting !== null}
								title="Whatever is shown. {CLEARLY}"
								onclick={() => adopt({ rule: 'clear' })}
								>adopt the {figure(sums.clearLeft, 0)} clearly better</Button
							>
						{:else if kind.continues}
							<Button look="offer" disabled={adopting !== null} onclick={() => adopt({ rule: 'all' })}
								>adopt all {figure(sums.ready - sums.adopted, 0)}</Button
							>
						{/if}
					</span></Allowed
				>
			{/if}
		</div>
		{#if adopting}<p class="w-full">
				<SweepState sweep={adopting} worker={live.worker} put={(each) => live.put(each)} />
			</p>
		{:else if adopted}
			<p class="w-full" role="status">
				{sweptSentence(adopted.sums, SWEEP_KINDS.adopt.done, true)}
				<a href="/sweeps/{adopted.id}" class="text-accent underline">what was adopted</a>
			</p>
		{/if}
		{#if refusal}<Notice class="w-full">{refusal}</Notice>{/if}
	</div>

	<div
		class="grid min-w-[1060px] gap-x-3 border-y border-rule px-4 text-[13px] text-ink-2"
		style={grid}
		role="presentation"
	>
		{#if tickable}<Tick
				label="Select all {figure(windows.count, 0)}"
				checked={ticked > 0 && ticked === windows.count}
				indeterminate={ticked > 0 && ticked < windows.count}
				take={(all) => ticks.setAll(all)}
			/>{/if}
		{#each HEADS as { key, name } (name)}{@render head(key, name, 'text-left')}{/each}
		{#each columns as { key, name, is } (name)}{@render head(key, name, 'text-right', is)}{/each}
	</div>
	<LongList
		bind:this={rowsShown}
		count={windows.count}
		row={ROW}
		seen={(from, to) => windows.show(from, to)}
		class="h-[calc(100vh-14rem)] min-h-72 min-w-[1060px] wide:h-auto wide:min-h-0 wide:flex-1"
		aria-label="Rows"
	>
		{#snippet before()}{#if windows.counted && windows.count === 0}
				<p class="px-4 py-6 text-ink-2">
					{sweep.endedAt !== null || sums.rows > 0
						? 'No row fits.'
						: live.worker && !live.worker.alive
							? 'Rows appear once a worker runs.'
							: 'Waiting for the first rows…'}
					{#if sums.rows > 0}<Button look="link" onclick={() => ask(allOf(sweep.kind))}>Show all</Button>{/if}
				</p>
			{/if}{/snippet}
		{#snippet children(index, where)}
			{@const row = windows.row(index)}
			{#if row}
				<div
					class="absolute right-0 left-0 grid items-center gap-x-3 border-b border-rule px-4 text-[14px]"
					style="{where}; {grid}"
					data-row={row.code}
				>
					{#if tickable}<input
							type="checkbox"
							class="size-3.5 rounded-[3px] border-edge align-middle"
							aria-label="Select {row.code}"
							checked={ticks.has(row.code)}
							disabled={!row.ready || row.record !== null}
							onclick={(event) => {
								event.preventDefault();
								ticks.take(windows, index, event.shiftKey).catch(fail);
							}}
						/>{/if}
					<span class="min-w-0 truncate" title="{row.code} {row.name}">
						<a href="/items/{encodeURIComponent(row.code)}" class="hover:underline"
							><span class="font-medium"><ItemName code={row.code} name={row.name} /></span></a
						>{#if row.rare}<span class="text-ink-2" title={RARE_MEASURES}>&nbsp;· rare demand</span>{/if}
					</span>
					<span class="min-w-0 truncate" title={row.before ?? ''}>{row.before ?? '–'}</span>
					{#if row.refused}
						<span
							class="min-w-0 truncate text-ink-2"
							style:grid-column="span {columns.length + 1}"
							title={inMark(row.refused)}>– {inMark(row.refused)}</span
						>
					{:else}
						<span class="min-w-0 truncate" title={inMark(measuresOf(row)) || row.label}
							>{#if row.record !== null && tickable}<b class="font-semibold text-accent">adopted</b> ·&nbsp;{/if}{row.label}</span
						>
						{#each columns as { name, text, said, look } (name)}
							<span class="figures truncate {look(row)}" title={said(row)}>{text(row)}</span>
						{/each}
					{/if}
				</div>
			{:else}
				<div class="absolute right-0 left-0 border-b border-rule px-4 py-2 text-ink-2" style={where}>…</div>
			{/if}
		{/snippet}
	</LongList>
</div>
