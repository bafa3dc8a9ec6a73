<script lang="ts">
	import LongList from '../kit/LongList.svelte';
	import TextInput from '../kit/TextInput.svelte';
	import { onMount } from 'svelte';
	import { goto } from '$app/navigation';
	import { REASONS } from '$core/grading/standing';
	import { describePeriod } from '$core/series/period';
	import { periodsInWords } from '$core/series/frequency';
	import { finerScale, percentScale, type Scale, scaleOf, usualScale } from '$core/numbers/figure';
	import { reasonShort, reasonWords } from '$core/words/standing';
	import Button from '../kit/Button.svelte';
	import type { ItemList, ItemRow } from '../../shapes';
	import { inMark } from '../../reader.svelte';
	import { call, messageOf } from '../call';
	import { inWordsOn, scaled, scaledSigned } from '../format';
	import type { Rows } from '../export/cells';
	import Choice from '../kit/Choice.svelte';
	import FigureInput from '../kit/FigureInput.svelte';
	import Needle from '../kit/Needle.svelte';
	import NewestLines from '../kit/NewestLines.svelte';
	import Sparkline from '../kit/Sparkline.svelte';
	import { beginRound, takeDone } from '../round';
	import LabelFilter from './LabelFilter.svelte';
	import {
		askFor,
		hasLabels,
		isFound,
		isOne,
		isReason,
		labelName,
		toLookAt,
		type Wanted,
		type Which,
		WHICH_NAMES,
		whichOf,
	} from './which';

	interface Props {
		list: ItemList;
		/** What the address asks for: words, and why to look. */
		sought: string;
		why: string | null;
		/** Labels that they are asked to have. */
		wanted: Wanted;
		/** Puts what is shown into the address. */
		remember: (which: Which, wanted: Wanted) => void;
		/** Asks for the list anew. */
		again: () => Promise<void>;
	}
	let { list, sought, why, wanted: asked, remember, again }: Props = $props();

	const items = $derived(list.items);
	const ROW = 44;
	type Column = 'attention' | 'name' | 'next' | 'miss' | 'mad' | 'mape' | 'bias' | 'signal';
	const HEADS: { key: Column; name: string; right: boolean; title?: string }[] = [
		{ key: 'name', name: 'item', right: false },
		{
			key: 'attention',
			name: 'adopted, and why to look',
			right: false,
			title: 'By reason, and then by what is at stake',
		},
		{ key: 'next', name: 'to hand over', right: true, title: 'For the next period' },
		{
			key: 'miss',
			name: 'missed by',
			right: true,
			title: 'The newest period: actual less what was handed over',
		},
		{ key: 'mad', name: 'MAD', right: true, title: 'Of what was handed over, since the run was adopted' },
		{ key: 'mape', name: 'MAPE', right: true, title: 'Of what was handed over, since the run was adopted' },
		{ key: 'bias', name: 'bias', right: true, title: 'Of what was handed over, since the run was adopted' },
		{ key: 'signal', name: 'tracking signal', right: true, title: 'Since the run was adopted' },
	];

	// Begins with what the address asks for, and is typed over.
	let filter = $derived(sought);
	let only = $derived(whichOf(why));
	let wanted = $derived(asked);
	let sorted = $state<{ key: Column; down: boolean }>({ key: 'attention', down: false });
	let height = $state(600);
	let active = $state(0);
	let rowsShown: LongList | undefined = $state();
	/** What was done last in a round that ended here. */
	let done = $state('');
	let refusal = $state<string | null>(null);
	onMount(() => {
		done = takeDone();
	});

	const worth: Record<Exclude<Column, 'name' | 'attention'>, (row: ItemRow) => number | null> = {
		next: (row) => row.adopted?.ahead[0] ?? null,
		miss: (row) => (row.standing?.newest ? Math.abs(row.standing.newest.error) : null),
		mad: (row) => row.standing?.score?.mad ?? null,
		mape: (row) => row.standing?.score?.mape ?? null,
		bias: (row) => row.standing?.score?.bias ?? null,
		signal: (row) => {
			const signal = row.standing?.score?.trackingSignal ?? null;
			return signal === null ? null : Math.abs(signal);
		},
	};

	const count = (which: Which) => items.filter((row) => isOne(row, which)).length;
	const reasonsThere = $derived(REASONS.filter((code) => count(code) > 0));

	const shown = $derived.by(() => {
		const found = items.filter((row) => isOne(row, only) && hasLabels(row, wanted) && isFound(row, filter));
		const { key, down } = sorted;
		// As they come: those to look at first, by what is at stake.
		if (key === 'attention') return down ? found.toReversed() : found;
		const direction = down ? -1 : 1;
		if (key === 'name') return found.toSorted((a, b) => direction * a.code.localeCompare(b.code));
		// What has no figure stays at the end, whichever way the others run.
		return found.toSorted((a, b) => {
			const [x, y] = [worth[key](a), worth[key](b)];
			return x === null || y === null ? Number(x === null) - Number(y === null) : direction * (x - y);
		});
	});
	const retired = $derived(count('retired'));

	function showOnly(which: Which) {
		only = which;
		active = 0;
		remember(which, wanted);
	}

	function showLabelled(labels: Wanted) {
		wanted = labels;
		active = 0;
		remember(only, labels);
	}

	/** What the items that are shown have in common, in words. */
	const shownWords = $derived(
		[
			...(only === 'all' ? [] : [WHICH_NAMES[only]]),
			...Object.entries(wanted).map(([of, label]) => labelName(of, label)),
			...(filter.trim() === '' ? [] : [filter.trim()]),
		].join(', '),
	);
	const kinds = $derived([...new Set(items.flatMap(({ labels }) => Object.keys(labels)))]);

	/** Opens an item; those that are shown with it can be worked through from there. */
	function open(row: ItemRow | undefined) {
		if (!row) return;
		beginRound(
			shownWords || 'all items',
			shown.map(({ code }) => code),
		);
		void goto(`${address(row)}${toLookAt(row) ? '?view=record' : ''}`);
	}

	async function setAlarm(percent: number) {
		refusal = null;
		try {
			await call('PUT /watching', {}, { alarmChance: percent / 100 });
			await again();
		} catch (error) {
			refusal = messageOf(error);
		}
	}

	/** A figure of an item by itself, on the scale that its demand has or, where it is much smaller, on its own. */
	function figureOf(usual: Scale, value: number | null | undefined): string {
		if (value == null) return '–';
		const own = usual.power === 0 ? finerScale(usual, value) : scaleOf([value]);
		return inWordsOn(value, own);
	}

	const signedOf = (usual: Scale, value: number | null | undefined) =>
		`${(value ?? 0) > 0 ? '+' : ''}${figureOf(usual, value)}`;

	/** On the scale of a figure that it belongs to: what is next to nothing beside that is 0. */
	function signedOn(
		usual: Scale,
		beside: number | null | undefined,
		value: number | null | undefined,
	): string {
		if (value == null || usual.power !== 0) return signedOf(usual, value);
		return scaledSigned(value, finerScale(usual, beside));
	}

	const rows = (): Rows => [
		[
			'code',
			'name',
			'unit',
			...kinds,
			'adopted',
			'why to look',
			'next period',
			'to hand over',
			'newest period',
			'actual',
			'handed over',
			'MAD',
			'MAPE',
			'bias',
			'tracking signal',
		],
		...shown.map(({ code, name, unit, labels, adopted, standing, frequency, recent }) => [
			code,
			name,
			unit,
			...kinds.map((of) => labels[of] ?? ''),
			adopted?.label ?? '',
			(standing?.reasons ?? [])
				.map((reason) => reasonWords(reason, frequency, usualScale(recent)))
				.join('; '),
			adopted ? describePeriod(frequency, adopted.nextPeriod) : '',
			adopted?.ahead[0] ?? null,
			standing?.newest ? describePeriod(frequency, standing.newest.period) : '',
			standing?.newest?.actual ?? null,
			standing?.newest?.final ?? null,
			standing?.score?.mad ?? null,
			standing?.score?.mape ?? null,
			standing?.score?.bias ?? null,
			standing?.score?.trackingSignal ?? null,
		]),
	];

	/** Labels before something else; those that all shown ones are asked to have say nothing. */
	const labelWords = ({ labels }: ItemRow) =>
		Object.entries(labels)
			.filter(([of]) => wanted[of] === undefined)
			.map(([, label]) => `${label} · `)
			.join('');
	const handOver = $derived.by(() => {
		const params = new URLSearchParams();
		askFor(params, only, wanted);
		return params.size > 0 ? `?${params}` : '';
	});

	const address = (row: ItemRow) => `/items/${encodeURIComponent(row.code)}`;

	function sortBy(key: Column) {
		sorted =
			sorted.key === key ? { key, down: !sorted.down } : { key, down: key !== 'name' && key !== 'attention' };
	}

	/** Arrows walk the list from anywhere on the page, but where a dialog is open or something else takes them. */
	function walk(event: KeyboardEvent) {
		const target = event.target as HTMLElement;
		const typing = target.closest('input');
		if (event.altKey || event.ctrlKey || event.metaKey || target.closest('select, textarea, dialog')) return;
		if (typing && typing.type !== 'search') return;
		const page = Math.floor(height / ROW) - 1;
		const moves: Record<string, number> = {
			ArrowDown: 1,
			ArrowUp: -1,
			PageDown: page,
			PageUp: -page,
			...(!typing && { Home: -Infinity, End: Infinity }),
		};
		const move = moves[event.key];
		if (move !== undefined) {
			active = Math.max(0, Math.min(shown.length - 1, active + move));
			rowsShown?.show(active);
			// What was pressed before does not take Enter.
			if (!typing) rowsShown?.focus();
		} else if (event.key === 'Enter' && shown[active] && !target.closest('button, a, header')) {
			open(shown[active]);
		} else return;
		event.preventDefault();
	}
</script>

<svelte:window onkeydown={walk} />

<div class="flex min-h-0 flex-1 flex-col overflow-x-auto">
	<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1 px-4 pt-3 pb-1">
		<h1 class="text-lg font-semibold">Items</h1>
		<span class="text-ink-2"
			>{count('all')} in all, {count('look')} to look at{shown.length < count('all')
				? `, ${shown.length} shown`
				: ''}</span
		>
		<div class="ml-auto flex flex-wrap items-center gap-4">
			<!-- The list is there before what takes it along. -->
			{#if items.length > 0}
				{#await import('../export/Export.svelte') then { default: Export }}
					<Export name="items" of="Items" {rows} sheet="Items" />
				{/await}
				<a href="/hand-over{handOver}" class="text-accent underline">forecasts to hand over</a>
			{/if}
			<Button aria-pressed={only === 'all'} onclick={() => showOnly('all')}>all</Button>
			<Button aria-pressed={only === 'look'} onclick={() => showOnly('look')}>to look at</Button>
			{#if reasonsThere.length > 0}
				<Choice
					label="Why to look"
					value={isReason(only) ? only : 'why'}
					of={['why', ...reasonsThere]}
					names={(code) => (code === 'why' ? 'by reason…' : `${WHICH_NAMES[code]} (${count(code)})`)}
					take={(code) => code !== 'why' && showOnly(code)}
				/>
			{/if}
			{#if count('aside') > 0}
				<Button aria-pressed={only === 'aside'} onclick={() => showOnly('aside')}
					>put aside ({count('aside')})</Button
				>
			{/if}
			{#if retired > 0}
				<Button aria-pressed={only === 'retired'} onclick={() => showOnly('retired')}
					>retired ({retired})</Button
				>
			{/if}
			<LabelFilter rows={items} {wanted} take={showLabelled} />
			<TextInput
				bind:value={filter}
				type="search"
				label="Filter the items"
				placeholder="Filter by code, name, label"
				class="h-7 w-60"
				oninput={() => (active = 0)}
			/>
		</div>
		{#if list.newest.length > 0}
			<p class="flex w-full flex-wrap items-baseline gap-x-6 gap-y-0.5 text-[13px]" data-newest-lines>
				<NewestLines newest={list.newest} />
				<label class="ml-auto text-ink-2" title="How easily an item is said to drift; 10 % is usual">
					a sound one is said to drift within 24 periods with a chance of
					<FigureInput
						label="Chance of a false alarm, %"
						value={Number((100 * list.watching.alarmChance).toFixed(1))}
						least={2}
						most={50}
						take={(percent) => void setAlarm(percent!)}
						class="typed h-5 w-9"
					/> %
				</label>
			</p>
		{/if}
		{#if refusal}<p class="w-full text-bad" role="alert">{refusal}</p>{/if}
		{#if done}<p class="w-full text-ink-2" role="status">{done}. That was the last one.</p>{/if}
	</div>

	{#if items.length === 0}
		<div class="mx-auto mt-20 max-w-md text-center">
			<p class="text-lg">No items yet.</p>
			<p class="mt-1 text-ink-2">Bring in a column of demand to see it plotted and forecast.</p>
			<Button look="main" href="/bring-in" class="mt-4">Bring in a table</Button>
		</div>
	{:else}
		<div class="grid-row min-w-[1060px] border-b border-rule px-4 text-[13px] text-ink-2" role="presentation">
			{#each HEADS as { key, name, right, title } (key)}
				<Button
					class="{key === 'name' ? 'col-span-2' : ''} {right ? 'text-right' : 'text-left'}"
					aria-pressed={sorted.key === key}
					{title}
					onclick={() => sortBy(key)}>{name}{sorted.key === key ? (sorted.down ? ' ↓' : ' ↑') : ''}</Button
				>
			{/each}
		</div>
		<LongList
			bind:this={rowsShown}
			bind:height
			count={shown.length}
			row={ROW}
			key={(index) => shown[index]!.code}
			class="h-[calc(100vh-9rem)] min-h-72 min-w-[1060px] wide:h-auto wide:min-h-0 wide:flex-1"
			role="listbox"
			aria-label="Items"
			aria-activedescendant={shown[active] ? `row-${shown[active]!.code}` : undefined}
		>
			{#snippet before()}{#if shown.length === 0}
					<p class="px-4 py-8 text-ink-2">
						No item fits.
						<Button look="link" onclick={() => ((filter = ''), (wanted = {}), showOnly('all'))}>
							Show all {count('all')}
						</Button>
					</p>
				{/if}{/snippet}
			{#snippet children(index, where)}
				{@const row = shown[index]!}
				{@const usual = usualScale(row.recent)}
				{@const standing = row.standing}
				{@const score = standing?.score}
				{@const first = standing?.reasons[0]}
				{@const short = first ? inMark(reasonShort(first, row.frequency, usual)) : ''}
				{@const reasons = (standing?.reasons ?? []).map((reason) =>
					inMark(reasonWords(reason, row.frequency, usual)),
				)}
				<!-- svelte-ignore a11y_click_events_have_key_events (the list itself takes the keys) -->
				<div
					id="row-{row.code}"
					role="option"
					tabindex="-1"
					aria-selected={index === active}
					class="grid-row absolute right-0 left-0 cursor-pointer items-center border-b border-rule px-4 hover:bg-wash"
					class:active={index === active}
					style={where}
					onclick={() => open(row)}
				>
					<span
						class="min-w-0"
						title="{row.code} {row.name}, {periodsInWords(row.frequency, row.periods)}{row.unit
							? `, ${row.unit}`
							: ''}{Object.entries(row.labels)
							.map(([of, label]) => `; ${of}: ${label}`)
							.join('')}"
					>
						<span class="block truncate font-medium">
							<span class="figures mr-1.5 font-normal text-ink-2">{row.code}</span>{row.name}
						</span>
						<span class="block truncate text-[12px] text-ink-2">
							{labelWords(row)}{periodsInWords(row.frequency, row.periods)} to {describePeriod(
								row.frequency,
								row.last,
							)}{row.unit ? `, ${row.unit}` : ''}
						</span>
					</span>
					<Sparkline values={row.recent} ahead={row.adopted?.ahead ?? []} width={112} />
					<span class="min-w-0" title={[row.adopted?.label, ...reasons].filter(Boolean).join('; ')}>
						<span class="block truncate">{row.adopted?.label ?? '–'}</span>
						{#if row.retired}
							<span class="block truncate text-[12px] text-ink-2">– retired</span>
						{:else if standing?.aside}
							<span class="block truncate text-[12px] text-ink-2">– put aside: {short}</span>
						{:else if first}
							<span
								class="block truncate text-[12px] {first.code === 'no-forecast' ? 'text-ink-2' : 'text-bad'}"
								data-why={first.code}
								>{first.code === 'no-forecast' ? '○' : '◆'}
								{short}{reasons.length > 1 ? `, and ${reasons.length - 1} more` : ''}</span
							>
						{:else if !standing}
							<span class="block truncate text-[12px] text-ink-2">how it stands is being worked out</span>
						{/if}
					</span>
					<span class="min-w-0 text-right">
						<span class="figures block truncate font-semibold">{figureOf(usual, row.adopted?.ahead[0])}</span>
						{#if row.adopted}
							<span class="block truncate text-[12px] text-ink-2">
								{describePeriod(row.frequency, row.adopted.nextPeriod)}
							</span>
						{/if}
					</span>
					<span
						class="figures truncate {standing?.newest?.ranged && standing.newest.inside === null
							? 'text-bad'
							: ''}">{signedOf(usual, standing?.newest?.error)}</span
					>
					<span class="figures truncate">{figureOf(usual, score?.mad)}</span>
					<span class="figures truncate"
						>{score?.mape == null ? '–' : `${scaled(score.mape, percentScale([score.mape]))} %`}</span
					>
					<span class="figures truncate">{signedOn(usual, score?.mad, score?.bias)}</span>
					<span class="text-right">
						{#if score}<Needle signal={score.trackingSignal} accused={score.runs !== null} />{:else}–{/if}
					</span>
				</div>
			{/snippet}
		</LongList>
	{/if}
</div>

<style>
	.grid-row {
		display: grid;
		grid-template-columns: minmax(200px, 1.2fr) 116px minmax(220px, 1.8fr) 92px 92px 90px 60px 92px 120px;
		/* Room for “−12.8 million” among others. */
		column-gap: 12px;
	}
	.active {
		background: var(--wash);
		box-shadow: inset 3px 0 0 var(--accent);
	}
</style>
