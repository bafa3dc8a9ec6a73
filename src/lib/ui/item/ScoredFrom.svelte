<script lang="ts">
	import TextInput from '../kit/TextInput.svelte';
	import { formatPeriod, parsePeriod, PeriodError } from '$core/series/period';
	import type { ItemState } from './state/item-state.svelte';

	let { itemState }: { itemState: ItemState } = $props();

	const series = $derived(itemState.series);
	const shown = $derived(
		itemState.answers.scoreFrom === null
			? ''
			: String(formatPeriod(series.frequency, series.first + itemState.answers.scoreFrom - 1)),
	);
	let wrong: string | null = $state(null);

	$effect(() => {
		// Whatever else sets it, what was wrong is over.
		void itemState.answers.scoreFrom;
		wrong = null;
	});

	function take(text: string) {
		wrong = null;
		if (text.trim() === '') return itemState.answers.compareFrom(null);
		try {
			const position = parsePeriod(series.frequency, text.trim()) - series.first + 1;
			if (position >= 1 && position <= series.values.length) itemState.answers.compareFrom(position);
			else
				wrong = `between ${formatPeriod(series.frequency, series.first)} and ${formatPeriod(series.frequency, series.first + series.values.length - 1)}`;
		} catch (error) {
			if (!(error instanceof PeriodError)) throw error;
			wrong = error.message;
		}
	}
</script>

<label class="flex items-baseline gap-1" title={wrong ?? 'First period that every candidate is scored from'}>
	from
	<TextInput
		look="line"
		class="figures h-5 text-left {series.frequency === 'hour' ? 'w-[106px]' : 'w-[78px]'}"
		label="First scored period"
		aria-invalid={wrong !== null}
		placeholder={String(formatPeriod(series.frequency, series.first))}
		value={shown}
		onchange={(event) => take(event.currentTarget.value)}
	/>
</label>
{#if wrong}<span class="text-bad" role="alert">{wrong}</span>{/if}
