<script lang="ts">
	import { onMount, tick as tick_, untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { PROPOSE_AGAIN } from '$core/words/status';
	import { type Asked, ASKED_ALL, askedWords, paramsOf, type Sort } from '../../wire/asked';
	import type { ItemWindow, Overview } from '../../wire/list';
	import { type ListKey, listColumn } from '../../wire/list-columns';
	import { call, messageOf } from '../base/call';
	import { figure } from '../base/format';
	import type { Rows } from '../export/cells';
	import { may } from '../base/access';
	import Allowed from '../kit/Allowed.svelte';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';
	import NotLoaded from '../kit/NotLoaded.svelte';
	import FigureInput from '../kit/FigureInput.svelte';
	import LongList from '../kit/LongList.svelte';
	import NewestLines from '../kit/NewestLines.svelte';
	import Hover from '../kit/Hover.svelte';
	import Tick from '../kit/Tick.svelte';
	import { watchOverview } from '../base/overview';
	import { heldWhileNavigating } from '../base/held-keys.svelte';
	import { beginRound, takeDone } from '../base/round';
	import ColumnChoice from './ColumnChoice.svelte';
	import ItemCells from './ItemCells.svelte';
	import { EnteredFigures, type Pasted } from './entered-figures.svelte';
	import EntryBar from './EntryBar.svelte';
	import { shownColumns } from './list-columns.svelte';
	import { reader } from '../../reader.svelte';
	import { listedRows } from './listed-rows';
	import { beginSweep } from '../lists/begin';
	import { PagedRows } from '../base/paged-rows.svelte';
	import { listed } from '../lists/listed';
	import ListFilters from './ListFilters.svelte';
	import TickedBar from './TickedBar.svelte';
	import { Ticks } from '../lists/ticks.svelte';

	interface Props {
		asked: Asked;
		/** The first window of what is asked for. */
		first: ItemWindow;
		/** Asks for other items, or for another order. */
		ask: (change: Partial<Asked>) => void;
	}
	let { asked, first, ask }: Props = $props();

	const ROW = 44;
	const FIXED: { key: Sort; name: string; is?: string }[] = [
		{ key: 'code', name: 'item' },
		{ key: 'attention', name: 'method, reason to check', is: 'By reason, then by how much is at stake' },
	];
	/** Figures of one period that are entered in the list; null while none are. */
	let entered = $state.raw<EnteredFigures | null>(null);
	let pasted = $state.raw<Pasted | null>(null);
	/** Beside figures that are entered stands what was expected of them. */
	const columns = $derived<readonly ListKey[]>(entered ? ['next'] : shownColumns.keys);
	const heads = $derived([...FIXED, ...columns.map((key) => ({ key, ...listColumn(key) }))]);
	/** Room for “−12.8 million” among others; what stands before the figures takes the rest. */
	const WIDTHS = { demand: 92, money: 92, percent: 64, ratio: 60, signal: 120 };
	const widths = $derived([
		...columns.map((key) => WIDTHS[listColumn(key).in]),
		...(entered ? [WIDTHS.money] : []),
	]);
	/** Where many are shown, what stands before them has less room. */
	const [least, reasonLeast, gap] = $derived(columns.length > 6 ? [170, 150, 8] : [200, 220, 12]);
	const grid = $derived(
		[
			`--columns: 14px minmax(${least}px, 1.2fr) 116px minmax(${reasonLeast}px, 1.8fr) ${widths.map((width) => `${width}px`).join(' ')}`,
			`--gap: ${gap}px`,
			`--room: ${widths.reduce((all, width) => all + width + gap, 32 + 14 + least + 116 + reasonLeast + 3 * gap)}px`,
		].join('; '),
	);
	let choosing = $state(false);

	const windows = $derived(new PagedRows(listed(asked), first));
	// What is ticked is ticked among what was asked for.
	const ticks = $derived.by(() => {
		void windows;
		return new Ticks();
	});
	const ticked = $derived(ticks.count(windows.count));
	let overview = $state.raw<Overview | null>(null);
	let height = $state(600);
	let active = $derived.by(() => {
		void windows;
		return 0;
	});
	/** The rows that are drawn. */
	let drawn = $state<[number, number]>([0, 0]);
	const activeRow = $derived(active >= drawn[0] && active <= drawn[1] ? windows.row(active) : undefined);
	let rowsShown: LongList | undefined = $state();
	/** What was done last in a round that ended here. */
	let done = $state('');
	let refusal = $state<string | null>(null);
	const fail = (error: unknown) => (refusal = messageOf(error));

	$effect(() => {
		void windows.locate();
		untrack(() => rowsShown?.toTop());
	});
	$effect(() => {
		if (windows.failure !== null) fail(windows.failure);
	});
	/** Whether figures were entered before the page was loaded again. */
	let entersAgain = $state(false);
	$effect(() => {
		if (entersAgain && overview) {
			entersAgain = false;
			untrack(enter);
		}
	});
	let endWatch = () => {};
	onMount(() => {
		shownColumns.adoptKept();
		const last = takeDone();
		if (last) done = `${last}. That was the last one`;
		entersAgain = EnteredFigures.left;
		look();
		return () => endWatch();
	});

	const enteredNewest = $derived(
		overview?.newest.find(({ frequency }) => frequency === entered?.frequency) ?? null,
	);
	function enter() {
		const figures = new EnteredFigures();
		figures.begin(overview?.newest ?? []);
		pasted = null;
		entered = figures;
	}
	/** Goes to the next field from a row on, which may have to come into sight first. */
	async function goTo(from: number, by: number) {
		let index = from;
		while (windows.row(index) && !entered?.canTake(windows.row(index)!)) index += by;
		if (index < 0 || index >= windows.count) return;
		active = index;
		rowsShown?.show(index);
		await tick_();
		document.querySelector<HTMLInputElement>(`#entry-${index}`)?.focus();
	}
	async function pasteFigures(event: ClipboardEvent, index: number) {
		const text = event.clipboardData?.getData('text/plain') ?? '';
		if (!entered || !/[\n\t]/.test(text.trim())) return;
		event.preventDefault();
		try {
			const all = await windows.all();
			pasted = await entered.paste(text, all.slice(index), all, reader.mark);
		} catch (error) {
			fail(error);
		}
	}
	const entryKeys = (index: number) => (event: KeyboardEvent, commit: () => boolean) => {
		const by = { Enter: 1, ArrowDown: 1, ArrowUp: -1 }[event.key];
		if (by === undefined) return;
		event.preventDefault();
		if (commit()) void goTo(index + by, by);
	};

	/** What is said over all items; rows are asked for anew as long as it changes. */
	function look() {
		endWatch();
		let working = 0;
		endWatch = watchOverview((said) => {
			overview = said;
			if (working > 0) void windows.renew();
			({ working } = said);
		}, fail);
	}

	/** The newest period of each frequency: only what ends elsewhere says where. */
	const newest = $derived(new Map(overview?.newest.map(({ frequency, period }) => [frequency, period])));
	const flagged = $derived(overview?.reasons.drifts ?? 0);
	const proposeAgain = () =>
		beginSweep({
			kind: 'propose',
			items: { asked: { ...ASKED_ALL, which: 'drifts' }, except: [] },
			settings: { lineUp: [] },
		}).catch(fail);

	const nameOf = (method: string) => overview?.methods.find(({ id }) => id === method)?.name ?? method;
	const words = $derived(askedWords(asked, nameOf));
	/** Retired items stay within reach of the filters. */
	const empty = $derived(windows.counted && windows.count === 0 && overview?.items === 0);

	/** Opens an item; those that are shown with it can be worked through from there. */
	function open(index: number) {
		const row = windows.row(index);
		if (!row) return;
		beginRound({
			name: words || 'all items',
			of: windows.count,
			query: String(paramsOf(asked)),
			...windows.around(index),
		});
		const toLookAt = row.status && row.status.reasons.length > 0 && !row.status.hidden;
		void goto(`/items/${encodeURIComponent(row.code)}${toLookAt ? '?view=record' : ''}`);
	}

	async function setAlarm(percent: number) {
		refusal = null;
		try {
			await call('PUT /watching', {}, { alarmChance: percent / 100 });
			look();
			await windows.renew();
		} catch (error) {
			fail(error);
		}
	}

	/** All that fit, as a table. */
	const rows = async (): Promise<Rows> => listedRows(await windows.all());

	const handOver = $derived.by(() => {
		const params = paramsOf({ ...asked, sort: 'attention', down: false });
		return params.size > 0 ? `?${params}` : '';
	});

	function sortBy(key: Sort) {
		const down = asked.sort === key ? !asked.down : key !== 'code' && key !== 'attention';
		ask({ sort: key, down });
	}

	function tick(index: number, range: boolean) {
		active = index;
		ticks.take(windows, index, range).catch(fail);
	}

	const MOVE = /^(Arrow(Up|Down)|Page(Up|Down)|Home|End)$/;
	const isElsewhere = (event: KeyboardEvent, where: string) =>
		(event.target as HTMLElement).closest(`select, textarea, dialog, input${where}`) !== null;
	/** What is pressed right after another order was asked for means the rows in that order. */
	const whenThere = heldWhileNavigating(walkNow, (event) =>
		MOVE.test(event.key)
			? !isElsewhere(event, '')
			: (event.key === 'Enter' || event.key === ' ') && !isElsewhere(event, ', button, a, summary'),
	);
	function walk(event: KeyboardEvent) {
		// What was pressed before does not take the Enter that follows, however long the rows take.
		if (MOVE.test(event.key) && !event.altKey && !isElsewhere(event, '')) rowsShown?.focus();
		whenThere(event);
	}

	/** Arrows walk the list from anywhere on the page, but where a dialog is open or something else takes them. */
	function walkNow(event: KeyboardEvent) {
		const target = event.target as HTMLElement;
		const typing = target.closest('input');
		if (event.altKey || target.closest('select, textarea, dialog')) return;
		if (typing && typing.type !== 'search') return;
		if (event.ctrlKey || event.metaKey) {
			if (event.key !== 'a' || typing) return;
			ticks.setAll(true);
			return event.preventDefault();
		}
		const screenful = Math.floor(height / ROW) - 1;
		const moves: Record<string, number> = {
			ArrowDown: 1,
			ArrowUp: -1,
			PageDown: screenful,
			PageUp: -screenful,
			...(!typing && { Home: -Infinity, End: Infinity }),
		};
		const move = moves[event.key];
		if (move !== undefined) {
			const before = active;
			active = Math.max(0, Math.min(windows.count - 1, active + move));
			if (event.shiftKey && !typing && active !== before) {
				const row = windows.row(before);
				if (row && !ticks.has(row.code)) ticks.toggle(row.code);
				ticks.startAt(before);
				tick(active, true);
			}
			rowsShown?.show(active);
		} else if (event.key === ' ' && !typing && !target.closest('button, a, summary')) tick(active, false);
		else if (event.key === 'Escape' && ticked > 0 && !typing) ticks.setAll(false);
		else if (event.key === 'Enter' && windows.row(active) && !target.closest('button, a, header')) {
			open(active);
		} else return;
		event.preventDefault();
	}
</script>

<svelte:window onkeydown={walk} />

<div class="flex min-h-0 flex-1 flex-col overflow-x-auto" style={grid}>
	<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1 px-4 pt-3 pb-1">
		<h1 class="text-lg font-semibold">Items</h1>
		<span class="text-ink-2" data-list="count"
			>{#if overview}{figure(overview.items, 0)} in all, {figure(overview.look, 0)} to check{windows.counted &&
				windows.count !== overview.items
					? `, ${figure(windows.count, 0)} shown`
					: ''}{overview.working > 0
					? `; checking ${figure(overview.working, 0)}…`
					: ''}{:else}&nbsp;{/if}</span
		>
		<div class="ml-auto flex flex-wrap items-center gap-4">
			{#if !may('work')}<Allowed does="Entering figures, sweeping and adopting" />{/if}
			<!-- The list is there before what takes it along. -->
			{#if windows.count > 0}
				{#await import('../export/Export.svelte') then { default: Export }}
					<Export name="items" of="Items" {rows} sheet="Items" />
				{:catch}<NotLoaded />{/await}
				<Button
					class="max-sm:hidden"
					aria-expanded={choosing}
					title="Choose the columns of figures"
					onclick={() => (choosing = !choosing)}>columns</Button
				>
				{#if overview && overview.newest.length > 0 && may('work')}
					<Button
						class="max-sm:hidden"
						aria-expanded={entered !== null}
						title="Type or paste the figures of one period, an item a row"
						onclick={() => (entered ? (entered = null) : enter())}>enter figures</Button
					>
				{/if}
				<!-- The menu leads to those of all. -->
				{#if handOver}
					{#if overview && overview.labels.length > 0}
						<a href="/groups{handOver}" class="text-accent underline">groups of these</a>
					{/if}
					<a href="/hand-over{handOver}" class="text-accent underline">hand over these</a>
				{/if}
			{/if}
		</div>
		{#if choosing}<ColumnChoice />{/if}
		<ListFilters {asked} bind:overview {ask} {fail} />
		{#if overview && overview.newest.length > 0}
			<p class="flex w-full flex-wrap items-baseline gap-x-6 gap-y-0.5 text-[13px]" data-newest-lines>
				<NewestLines newest={overview.newest} />
				<span class="ml-auto flex flex-wrap items-baseline gap-x-6 gap-y-0.5">
					{#if flagged > 0 && may('work')}
						<Button look="link" title={PROPOSE_AGAIN} onclick={proposeAgain} data-propose-again
							>propose again for {figure(flagged, 0)} biased</Button
						>
					{/if}
					<label
						class="text-ink-2"
						title="How often an unbiased forecast is called biased by chance; 10 % is usual"
					>
						false bias alarms in 24 periods: about
						{#if may('manage')}<FigureInput
								label="Chance of a false alarm, %"
								value={Number((100 * overview.watching.alarmChance).toFixed(1))}
								least={2}
								most={50}
								take={(percent) => void setAlarm(percent!)}
								class="typed h-5 w-9"
							/>{:else}{figure(100 * overview.watching.alarmChance, 0)}{/if} %
					</label>
				</span>
			</p>
		{/if}
		{#if refusal}<Notice class="w-full">{refusal}</Notice>{/if}
		{#if done}<p class="w-full text-ink-2" role="status">{done}.</p>{/if}
	</div>

	{#if entered}
		<EntryBar
			{entered}
			{pasted}
			newest={enteredNewest}
			rows={() => windows.all()}
			done={(said) => {
				done = said;
				pasted = null;
				look();
				void windows.renew();
			}}
			close={() => (entered = null)}
		/>
	{/if}
	{#if ticked > 0}
		<TickedBar
			count={ticked}
			items={() => ticks.named(asked)}
			labels={overview?.labels ?? []}
			done={(said) => {
				done = said;
				ticks.setAll(false);
				look();
				void windows.renew();
			}}
			clear={() => ticks.setAll(false)}
		/>
	{/if}
	{#if empty}
		<div class="mx-auto mt-20 max-w-md text-center">
			<p class="text-lg">No items yet.</p>
			<p class="mt-1 text-ink-2">
				{page.data.demo
					? 'The demo is being made. Meanwhile you can bring in your own table.'
					: 'Bring in a column of demand to see it plotted and forecast.'}
			</p>
			<Button look="main" href="/bring-in" class="mt-4">Bring in a table</Button>
		</div>
	{:else}
		<div
			class="item-grid border-b sm:min-w-(--room) border-rule px-4 text-[13px] text-ink-2"
			role="presentation"
		>
			<Tick
				label="Select all {figure(windows.count, 0)}"
				title="Select all of them (Ctrl A); Esc selects none"
				checked={ticked > 0 && ticked === windows.count}
				indeterminate={ticked > 0 && ticked < windows.count}
				take={(all) => ticks.setAll(all)}
			/>
			{#each heads as { key, name, is } (key)}
				{@const left = key === 'code' || key === 'attention'}
				<Hover words={is}
					>{#snippet children(described)}<Button
							class="{key === 'code' ? 'sm:col-span-2' : ''} {left ? 'text-left' : 'text-right'}"
							data-wide={key === 'code' || key === 'next' ? undefined : ''}
							aria-pressed={asked.sort === key}
							aria-describedby={described}
							onclick={() => sortBy(key)}>{name}{asked.sort === key ? (asked.down ? ' ↓' : ' ↑') : ''}</Button
						>{/snippet}</Hover
				>
			{/each}
			{#if entered}<span class="text-right font-semibold text-ink">{entered.name}</span>{/if}
		</div>
		<LongList
			bind:this={rowsShown}
			bind:height
			count={windows.count}
			row={ROW}
			seen={(from, to) => {
				drawn = [from, to];
				windows.show(from, to);
			}}
			class="h-[calc(100vh-9rem)] min-h-72 sm:min-w-(--room) wide:h-auto wide:min-h-0 wide:flex-1"
			recycled
			role={entered ? 'list' : 'listbox'}
			aria-label="Items"
			aria-activedescendant={activeRow && !entered ? `row-${activeRow.code}` : undefined}
		>
			{#snippet before()}{#if windows.counted && windows.count === 0}
					<p class="px-4 py-8 text-ink-2">
						No item fits.
						<Button look="link" onclick={() => ask(ASKED_ALL)}>
							Show all {overview ? figure(overview.items, 0) : ''}
						</Button>
					</p>
				{/if}{/snippet}
			{#snippet children(index, where, brief)}
				{@const row = windows.row(index)}
				{#if row && !brief}
					<!-- svelte-ignore a11y_click_events_have_key_events (the list itself takes the keys) -->
					<div
						id="row-{row.code}"
						role={entered ? 'listitem' : 'option'}
						tabindex="-1"
						aria-selected={entered ? undefined : index === active}
						aria-checked={entered ? undefined : ticks.has(row.code)}
						class="item-grid absolute right-0 left-0 cursor-pointer items-center border-b border-rule px-4 hover:bg-wash"
						class:active={index === active}
						style={where}
						onclick={() => open(index)}
					>
						<span
							class="tick-mark"
							class:ticked={ticks.has(row.code)}
							aria-hidden="true"
							title="Select it (Space); with Shift all between"
							onclick={(event) => {
								event.stopPropagation();
								tick(index, event.shiftKey);
							}}
						></span>
						<ItemCells {row} {columns} wanted={asked.labels} newest={newest.get(row.frequency) ?? null} />
						{#if entered}
							{#if entered.canTake(row)}
								<!-- svelte-ignore a11y_no_static_element_interactions (a press inside is the field’s) -->
								<span class="text-right" onclick={(event) => event.stopPropagation()}>
									<FigureInput
										id="entry-{index}"
										label="{entered.name} of {row.code}"
										value={entered.figures.get(row.code)?.figure ?? null}
										empties
										take={(value) => entered?.take(row, value)}
										keys={entryKeys(index)}
										onpaste={(event: ClipboardEvent) => void pasteFigures(event, index)}
										class="typed h-6 w-full text-right"
									/>
								</span>
							{:else}
								<span
									class="text-right text-[12px] text-ink-2"
									title={row.frequency === entered.frequency
										? 'Correct it under Demand of the item'
										: 'It has another frequency'}
									>{row.frequency === entered.frequency && !row.sum && !row.retired ? 'is in' : '–'}</span
								>
							{/if}
						{/if}
					</div>
				{:else}
					<!-- On its way, or going by: only texts change from one to another. -->
					<div
						class="absolute right-0 left-0 truncate border-b border-rule py-3 pr-4 pl-[42px] font-medium"
						class:active={index === active}
						style={where}
					>
						<span class="figures mr-1.5 font-normal text-ink-2">{row?.code ?? '…'}</span>{row?.name ?? ''}
					</div>
				{/if}
			{/snippet}
		</LongList>
		<p class="shrink-0 border-t border-rule px-4 py-1 text-[12px] text-ink-2" data-list-legend>
			<span class="text-bad">◆</span> reason to check &ensp; ○ no forecast yet &ensp; tracking signal: its needle
			between the limits of ±4; beyond them alone is no alarm, red is a bias alarm
		</p>
	{/if}
</div>

<style>
	.item-grid {
		display: grid;
		grid-template-columns: var(--columns);
		column-gap: var(--gap);
	}
	/* Room for looking, not for comparing: what it is, what is wrong with it, what comes next. */
	@media (width < 640px) {
		.item-grid {
			grid-template-columns: 14px minmax(0, 1fr) auto;
		}
		.item-grid > :global(:is([data-wide], svg)) {
			display: none;
		}
	}
	/* As large as a row is high to press, as a box of a form to see. */
	.tick-mark {
		align-self: stretch;
		margin: 0 -10px 0 -12px;
		background: linear-gradient(var(--panel), var(--panel)) center / 12px 12px no-repeat;
		position: relative;
	}
	.tick-mark::after {
		content: '';
		position: absolute;
		inset: 0;
		margin: auto;
		width: 13px;
		height: 13px;
		border: 1px solid var(--edge);
		border-radius: 3px;
	}
	.ticked::after {
		border-color: var(--accent);
		background: var(--accent);
		clip-path: none;
	}
	.ticked::before {
		content: '✓';
		position: absolute;
		inset: 0;
		margin: auto;
		width: 13px;
		height: 13px;
		z-index: 1;
		color: var(--panel);
		font-size: 11px;
		line-height: 13px;
		text-align: center;
	}
	.active {
		background: var(--wash);
		box-shadow: inset 3px 0 0 var(--accent);
	}
</style>
