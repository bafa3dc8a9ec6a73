<script lang="ts">
	import { BOUNDS } from '$core/bounds';
	import { describePeriod, type Ordinal } from '$core/series/period';
	import Button from '../../kit/Button.svelte';
	import Choice from '../../kit/Choice.svelte';
	import FigureInput from '../../kit/FigureInput.svelte';
	import TextInput from '../../kit/TextInput.svelte';
	import type { ItemState } from '../state/item-state.svelte';

	let { itemState, done }: { itemState: ItemState; done: () => void } = $props();

	const { frequency } = $derived(itemState.series);
	const periods = $derived(
		Array.from({ length: itemState.record.finals.length }, (_, i) => itemState.origin + 1 + i),
	);
	const name = (period: Ordinal) => describePeriod(frequency, period);
	/** Null for the first and the last that there is. */
	let chosenFrom = $state<Ordinal | null>(null);
	let chosenTo = $state<Ordinal | null>(null);
	const from = $derived(chosenFrom ?? periods[0]!);
	const to = $derived(Math.max(from, chosenTo ?? periods.at(-1)!));
	let kind = $state<'percent' | 'to'>('percent');
	let value = $state<number | null>(null);
	let reason = $state('');

	function change() {
		if (value === null || reason.trim() === '') return;
		const by =
			kind === 'to'
				? { kind: 'to' as const, figure: value }
				: { kind: 'rate' as const, rate: Number((1 + value / 100).toPrecision(12)) };
		itemState.record.handed.change(
			periods.filter((period) => period >= from && period <= to),
			by,
			reason.trim(),
		);
		done();
	}
</script>

<form
	class="flex shrink-0 flex-wrap items-baseline gap-x-3 gap-y-1 border-y border-rule bg-wash px-4 py-1.5 text-[13px]"
	aria-label="Change several"
	onsubmit={(event) => {
		event.preventDefault();
		change();
	}}
>
	<label>
		from <Choice
			label="From"
			value={from}
			of={periods}
			names={name}
			take={(period) => (chosenFrom = period)}
		/>
	</label>
	<label>
		to <Choice
			label="To"
			value={to}
			of={periods.filter((period) => period >= from)}
			names={name}
			take={(period) => (chosenTo = period)}
		/>
	</label>
	<span class="flex items-baseline gap-1.5">
		<Choice
			label="How they change"
			value={kind}
			names={{ percent: 'by', to: 'to' }}
			take={(chosen) => (kind = chosen)}
		/>
		<FigureInput
			label={kind === 'percent' ? 'Per cent more, or less' : 'Each of them'}
			{value}
			empties
			least={kind === 'percent' ? -100 : -BOUNDS.figure}
			most={kind === 'percent' ? 100 * BOUNDS.growth : BOUNDS.figure}
			take={(typed) => (value = typed)}
			class="typed w-16"
		/>
		{kind === 'percent' ? '%' : itemState.item.unit}
	</span>
	<TextInput
		bind:value={reason}
		look="line"
		maxlength={BOUNDS.reason}
		placeholder="why"
		label="Why they change"
		class="min-w-24 flex-1"
	/>
	<Button look="offer" type="submit" disabled={value === null || reason.trim() === ''}>Change them</Button>
</form>
