<script lang="ts">
	import { takesLetters } from '../base/keys';
	import Tabs from '../kit/Tabs.svelte';
	import { may } from '../base/access';
	import Button from '../kit/Button.svelte';
	import ItemName from '../kit/ItemName.svelte';
	import Notice from '../kit/Notice.svelte';
	import NotLoaded from '../kit/NotLoaded.svelte';
	import { type Component, onMount, untrack } from 'svelte';
	import { browser } from '$app/environment';
	import { afterNavigate, beforeNavigate } from '$app/navigation';
	import { aPeriod, periodsInWords } from '$core/series/frequency';
	import { layerWords } from '$core/series/layers';
	import { describePeriod } from '$core/series/period';
	import type { Item } from '../../wire/items';
	import { VIEWS, type ViewName } from '../base/view-names';
	import { ItemState } from './state/item-state.svelte';
	import LineUp from './LineUp.svelte';
	import WatchLine from './WatchLine.svelte';
	import SavingNotice from './SavingNotice.svelte';
	import PrintSheet from './PrintSheet.svelte';
	import Strip from './Strip.svelte';

	interface Props {
		item: Item;
		view: ViewName;
		candidate: string | null;
		workspace: string;
		/** Puts view and candidate into the address. */
		remember: (view: string, candidate: string) => void;
	}

	let { item, view: firstView, candidate, workspace, remember }: Props = $props();
	// The page is made anew for another item; these begin with what the address said.
	const itemState = untrack(() => new ItemState(item, candidate, undefined, may('work')));
	let view = $state<ViewName>(untrack(() => firstView));
	if (browser) untrack(() => itemState.prepare());

	onMount(() => {
		void itemState.open();
	});
	// Only once the page has been navigated to may its address be changed.
	let arrived = $state(false);
	afterNavigate(() => (arrived = true));
	$effect(() => {
		if (arrived) remember(view, itemState.lineUp.chosenId);
	});
	const ASK = 'Something of this item is not saved on the server yet, only in this browser. Leave anyway?';
	beforeNavigate(({ cancel, willUnload }) => {
		itemState.saved.leave();
		// What is on its way arrives without this page; what the server does not take asks.
		const stuck = itemState.saved.isUnsaved && itemState.saved.saving.state !== 'saving';
		// Before it unloads a page, the browser asks in its own words.
		if (stuck && (willUnload || !confirm(ASK))) cancel();
	});

	/** Each view comes when it is first wanted, and all of them as soon as a hand goes to the tabs. */
	const PARTS: Readonly<Record<ViewName, () => Promise<{ default: Component<{ itemState: ItemState }> }>>> = {
		demand: () => import('./views/DemandView.svelte'),
		season: () => import('./views/SeasonView.svelte'),
		constants: () => import('./views/ConstantsView.svelte'),
		working: () => import('./views/WorkingView.svelte'),
		trial: () => import('./views/TrialView.svelte'),
		signal: () => import('./views/SignalView.svelte'),
		ahead: () => import('./views/AheadView.svelte'),
		record: () => import('./views/RecordView.svelte'),
	};
	const fetchAll = () => VIEWS.forEach(({ id }) => void PARTS[id]().catch(() => undefined));

	let naming = $state(false);
	let strip: Strip | undefined = $state();
	let paper: PrintSheet | undefined = $state();

	const series = $derived(itemState.series);
	const gaps = $derived(series.values.filter((value) => value === null).length);
	const layers = $derived(layerWords(series));
	const periods = $derived(series.values.length);
	const facts = $derived(
		[
			itemState.item.unit && `${itemState.item.unit} ${aPeriod(series.frequency)}`,
			`${periodsInWords(series.frequency, periods)}, ${describePeriod(series.frequency, series.first)} – ${describePeriod(series.frequency, series.first + periods - 1)}`,
			series.seasonLength > 1 && `season of ${series.seasonLength}`,
			gaps > 0 && series.gapRule === 'skip' && `${gaps} ${gaps === 1 ? 'gap' : 'gaps'}, skipped`,
			layers.length > 0 && `adjusted: ${layers.join(', ')}`,
		].filter((fact): fact is string => typeof fact === 'string' && fact !== ''),
	);

	function key(event: KeyboardEvent) {
		const target = event.target as HTMLElement;
		if (event.altKey || takesLetters(target)) return;
		const name = event.key.toLowerCase();
		if (name === 'z' && event.shiftKey) itemState.lineUp.redo();
		else if (name === 'z') itemState.lineUp.undo();
		else if (event.ctrlKey || event.metaKey) return;
		else if (name === 'b') itemState.lineUp.findBest(itemState.lineUp.rows.map(({ id }) => id));
		else if (VIEWS[Number(name) - 1] && !target.closest('[role=slider], [type=range]'))
			view = VIEWS[Number(name) - 1]!.id;
		else return;
		event.preventDefault();
	}
</script>

<svelte:window onkeydown={key} onpagehide={() => itemState.saved.leave()} />

<div class="flex min-h-0 flex-1 flex-col">
	<div
		class="flex min-h-9 shrink-0 flex-wrap items-center gap-x-4 gap-y-0.5 border-b border-rule px-4 py-1 text-[13px]"
	>
		<h1 class="text-base font-semibold">
			<ItemName code={itemState.item.code} name={itemState.item.name} class="text-[13px]" />
		</h1>
		{#each facts as fact (fact)}
			<span class="border-l border-rule pl-4">{fact}</span>
		{/each}
		{#if itemState.item.sumOf === null}
			<a
				href="/api/v1/items/{encodeURIComponent(itemState.item.code)}/raw"
				download
				class="quiet border-l border-rule pl-4">as brought in</a
			>
		{/if}
		<Button class="border-l border-rule pl-4" onclick={() => (naming = true)}>settings…</Button>
		<Button class="border-l border-rule pl-4" title="The item on one page" onclick={() => paper?.print()}
			>print</Button
		>
	</div>

	<WatchLine {itemState} {view} />
	{#if itemState.item.sumOf}
		{@const { sumOf } = itemState.item}
		{#await import('./SumLine.svelte') then { default: SumLine }}<SumLine
				{itemState}
				{sumOf}
			/>{:catch}<NotLoaded />{/await}
	{/if}

	<!-- Dialogs come when they are first opened. -->
	{#if naming}
		{#await import('./ItemNaming.svelte') then { default: ItemNaming }}
			<ItemNaming {itemState} bind:open={naming} />
		{:catch}<NotLoaded />{/await}
	{/if}
	{#if itemState.record.asksToAdopt}
		{#await import('./AdoptsOnce.svelte') then { default: AdoptsOnce }}<AdoptsOnce
				{itemState}
			/>{:catch}<NotLoaded />{/await}
	{/if}
	<SavingNotice saved={itemState.saved} />

	<section class="shrink-0 border-b border-rule wide:h-[308px]" aria-label="Strip">
		<Strip {itemState} bind:this={strip} />
	</section>

	{#if itemState.answers.problem}
		<Notice class="mx-4 my-1.5">The figures could not be calculated: {itemState.answers.problem}</Notice>
	{/if}

	<div class="min-h-0 flex-1 wide:grid wide:grid-cols-[minmax(0,55fr)_minmax(0,45fr)]">
		<section
			class="flex min-h-0 flex-col overflow-x-auto border-b border-rule wide:border-r wide:border-b-0"
			aria-label="Line-up"
		>
			<LineUp {itemState} showSignal={() => (view = 'signal')} />
		</section>
		<section class="flex h-[560px] min-h-0 flex-col wide:h-auto" aria-label="Bench">
			<div onpointerenter={fetchAll} onfocusin={fetchAll} role="presentation">
				<Tabs label="Bench" tabs={VIEWS} bind:at={view} panel="bench-view" />
			</div>
			<div id="bench-view" role="tabpanel" aria-labelledby="tab-{view}" class="min-h-0 flex-1">
				{#await PARTS[view]() then { default: View }}
					<View {itemState} />
				{:catch}
					<NotLoaded />
				{/await}
			</div>
		</section>
	</div>
</div>

<PrintSheet {itemState} {strip} {facts} {workspace} bind:this={paper} />
