<script lang="ts">
	import { type Snippet, untrack } from 'svelte';
	import { BOUNDS } from '$core/bounds';
	import { REASONS } from '$core/grading/reasons';
	import { periodWord } from '$core/series/frequency';
	import {
		type Asked,
		ASKED_ALL,
		isReason,
		type Range,
		rangeWords,
		sameItems,
		type Which,
		WHICH_NAMES,
	} from '../../wire/asked';
	import { inMark } from '../../reader.svelte';
	import type { Overview } from '../../wire/list';
	import { type ListKey, listColumn, RANGED } from '../../wire/list-columns';
	import { call } from '../base/call';
	import { may } from '../base/access';
	import Button from '../kit/Button.svelte';
	import Choice from '../kit/Choice.svelte';
	import FigureInput from '../kit/FigureInput.svelte';
	import TextInput from '../kit/TextInput.svelte';
	import LabelFilter from './LabelFilter.svelte';

	interface Props {
		asked: Asked;
		/** What is said over all items; the views that are kept change with it. */
		overview: Overview | null;
		/** What stands before the filters. */
		children?: Snippet;
		/** Asks for other items. */
		ask: (change: Partial<Asked>) => void;
		/** Says what went wrong. */
		fail: (error: unknown) => void;
	}
	let { asked, overview = $bindable(), children, ask, fail }: Props = $props();

	let field: HTMLInputElement | undefined = $state();
	let typed = $state(untrack(() => asked.words));
	// While somebody types, what is typed stands; otherwise what the address says.
	$effect(() => {
		const { words } = asked;
		if (document.activeElement !== field) typed = words;
	});
	let ranging = $state<ListKey | null>(null);
	let low = $state<number | null>(null);
	let high = $state<number | null>(null);
	let naming = $state(false);
	let name = $state('');

	const reasons = $derived(REASONS.filter((code) => (overview?.reasons[code] ?? 0) > 0));
	const methods = $derived(overview?.methods ?? []);
	const frequencies = $derived(overview?.frequencies ?? []);
	const views = $derived(overview?.views ?? []);
	const current = $derived(
		views.find(
			(view) =>
				sameItems(view.asked, asked) && view.asked.sort === asked.sort && view.asked.down === asked.down,
		) ?? null,
	);
	const narrowed = $derived(!sameItems(asked, ASKED_ALL) || asked.sort !== 'attention' || asked.down);

	const showOnly = (which: Which) => ask({ which });

	function beginRange(of: ListKey) {
		ranging = of;
		[low, high] = asked[of] ?? [null, null];
	}

	function takeRange() {
		if (ranging === null) return;
		const range: Range | null =
			low === null && high === null
				? null
				: low !== null && high !== null && low > high
					? [high, low]
					: [low, high];
		ask({ [ranging]: range });
		ranging = null;
	}

	async function keepAs(as: string, what: Asked | null) {
		try {
			const kept = await call('PUT /views', {}, { name: as, asked: what });
			if (overview) overview = { ...overview, views: kept };
			naming = false;
			name = '';
		} catch (error) {
			fail(error);
		}
	}
</script>

{#snippet end(label: string, value: number | null, take: (figure: number | null) => void)}
	<FigureInput {label} {value} placeholder="any" empties live {take} class="typed h-6 w-16" />
{/snippet}

<div class="flex w-full flex-wrap items-center gap-x-4 gap-y-1 text-[13px]" role="search" aria-label="Items">
	{@render children?.()}

	<Button aria-pressed={asked.which === 'all'} onclick={() => showOnly('all')}>all</Button>
	<Button aria-pressed={asked.which === 'look'} onclick={() => showOnly('look')}>to check</Button>
	{#if reasons.length > 0 || isReason(asked.which)}
		<Choice
			label="Reason to check"
			value={isReason(asked.which) ? asked.which : 'why'}
			of={[
				'why',
				...(isReason(asked.which) && !reasons.includes(asked.which) ? [asked.which] : []),
				...reasons,
			]}
			names={(code) =>
				code === 'why' ? 'by reason…' : `${WHICH_NAMES[code]} (${overview?.reasons[code] ?? 0})`}
			take={(code) => code !== 'why' && showOnly(code)}
		/>
	{/if}
	{#if (overview?.sums ?? 0) > 0 || asked.which === 'sums'}
		<Button aria-pressed={asked.which === 'sums'} onclick={() => showOnly('sums')}
			>group totals ({overview?.sums ?? 0})</Button
		>
	{/if}
	{#if (overview?.hidden ?? 0) > 0 || asked.which === 'hidden'}
		<Button aria-pressed={asked.which === 'hidden'} onclick={() => showOnly('hidden')}
			>hidden ({overview?.hidden ?? 0})</Button
		>
	{/if}
	{#if (overview?.retired ?? 0) > 0 || asked.which === 'retired'}
		<Button aria-pressed={asked.which === 'retired'} onclick={() => showOnly('retired')}
			>retired ({overview?.retired ?? 0})</Button
		>
	{/if}
	<LabelFilter labels={overview?.labels ?? []} wanted={asked.labels} take={(labels) => ask({ labels })} />
	{#if asked.method !== null}
		<Button
			aria-pressed="true"
			title="Adopted method. Press to show the others again"
			onclick={() => ask({ method: null })}
			>{methods.find(({ id }) => id === asked.method)?.name ?? asked.method} ✕</Button
		>
	{:else if methods.length > 1}
		<Choice
			label="By method"
			value=""
			of={['', ...methods.map(({ id }) => id)]}
			names={(id) => {
				const method = methods.find((each) => each.id === id);
				return method ? `${method.name} (${method.items})` : 'by method…';
			}}
			take={(id) => id !== '' && ask({ method: id })}
		/>
	{/if}
	{#if asked.frequency !== null}
		<Button
			aria-pressed="true"
			title="Press to show items of other frequencies again"
			onclick={() => ask({ frequency: null })}>{periodWord(asked.frequency, 2)} ✕</Button
		>
	{:else if frequencies.length > 1}
		<Choice
			label="By frequency"
			value={null}
			of={[null, ...frequencies.map(({ frequency }) => frequency)] as never[]}
			names={(frequency) => {
				const found = frequencies.find((each) => each.frequency === frequency);
				return found ? `${periodWord(found.frequency, 2)} (${found.items})` : 'by frequency…';
			}}
			take={(frequency) => frequency !== null && ask({ frequency })}
		/>
	{/if}
	{#each RANGED as of (of)}
		{#if asked[of] && ranging !== of}
			<Button
				aria-pressed="true"
				title="Press to show items beyond it again"
				data-range={of}
				onclick={() => ask({ [of]: null })}>{inMark(rangeWords(of, asked[of]))} ✕</Button
			>
		{/if}
	{/each}
	{#if ranging === null}
		<Choice
			label="By a figure"
			value=""
			of={['', ...RANGED]}
			names={(of) => (of === '' ? 'by figure…' : listColumn(of).name)}
			take={(of) => of !== '' && beginRange(of)}
		/>
	{:else}
		{@const { name, in: unit } = listColumn(ranging)}
		<form
			class="flex items-baseline gap-1.5 text-ink-2"
			onsubmit={(event) => {
				event.preventDefault();
				takeRange();
			}}
		>
			{name}
			{@render end(`${name} from`, low, (figure) => (low = figure))}
			to
			{@render end(`${name} to`, high, (figure) => (high = figure))}
			{unit === 'percent' ? '%' : ''}
			<Button type="submit" look="offer">show</Button>
			<Button aria-label="Leave the range" onclick={() => (ranging = null)}>✕</Button>
		</form>
	{/if}
	<TextInput
		bind:field
		bind:value={typed}
		type="search"
		label="Filter the items"
		placeholder="Filter by code, name, label"
		maxlength={BOUNDS.name}
		class="h-7 w-56!"
		oninput={() => ask({ words: typed.trim() })}
	/>
	{#if views.length > 0}
		<Choice
			label="Saved views"
			value={current?.name ?? ''}
			of={[...(current ? [] : ['']), ...views.map((view) => view.name)]}
			names={(of) => (of === '' ? 'views…' : of)}
			take={(of) => {
				const view = views.find((each) => each.name === of);
				if (view) ask(view.asked);
			}}
		/>
	{/if}
	{#if !may('work')}<!-- Views are saved for all. -->{:else if current}
		<Button title="Delete this saved view; its items stay" onclick={() => keepAs(current.name, null)}
			>delete “{current.name}”</Button
		>
	{:else if narrowed && !naming}
		<Button title="Save what is shown, and its order, by a name" onclick={() => (naming = true)}
			>save this view</Button
		>
	{/if}
	{#if naming}
		<form
			class="flex items-baseline gap-1.5"
			onsubmit={(event) => {
				event.preventDefault();
				if (name.trim() !== '') void keepAs(name.trim(), asked);
			}}
		>
			<TextInput
				bind:value={name}
				look="line"
				label="Name of the view"
				placeholder="its name"
				maxlength={BOUNDS.label}
				autofocus
				class="h-6 w-36"
				onkeydown={(event) => event.key === 'Escape' && (naming = false)}
			/>
			<Button type="submit" look="offer">save</Button>
		</form>
	{/if}
</div>
