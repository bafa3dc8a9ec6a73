<script lang="ts">
	import type { Snippet } from 'svelte';
	import { formatPeriod, parsePeriod, PeriodError } from '$core/series/period';
	import type { Series } from '$core/series/series';
	import TextInput from './TextInput.svelte';

	interface Props {
		series: Pick<Series, 'frequency' | 'first'>;
		/** How many periods there are to choose from. */
		count: number;
		/** 1-based place of the one that is set; null for none. */
		at?: number | null;
		label: string;
		title: string;
		/** Whether it is taken when the field is left, or on Enter alone. */
		taken?: 'left' | 'entered';
		field?: HTMLInputElement | undefined;
		take: (at: number | null) => void;
		children: Snippet;
	}
	/** A field for one of the periods of a series, written as data writes it. */
	let {
		series,
		count,
		at = null,
		label,
		title,
		taken = 'left',
		field = $bindable(),
		take,
		children,
	}: Props = $props();

	let wrong: string | null = $state(null);
	const written = (place: number) => String(formatPeriod(series.frequency, series.first + place - 1));

	$effect(() => {
		// Whatever else sets it, what was wrong is over.
		void at;
		wrong = null;
	});

	function read(text: string) {
		wrong = null;
		if (text.trim() === '') return take(null);
		try {
			const place = parsePeriod(series.frequency, text.trim()) - series.first + 1;
			if (place >= 1 && place <= count) take(place);
			else wrong = `between ${written(1)} and ${written(count)}`;
		} catch (error) {
			if (!(error instanceof PeriodError)) throw error;
			wrong = error.message;
		}
	}
</script>

<label class="flex items-baseline gap-1" title={wrong ?? title}>
	{@render children()}
	<TextInput
		bind:field
		look="line"
		class="figures h-5 text-left {series.frequency === 'hour' ? 'w-[106px]' : 'w-[78px]'}"
		{label}
		aria-invalid={wrong !== null}
		placeholder={written(1)}
		value={at === null ? '' : written(at)}
		onchange={(event) => taken === 'left' && read(event.currentTarget.value)}
		onkeydown={(event) => taken === 'entered' && event.key === 'Enter' && read(event.currentTarget.value)}
	/>
</label>
{#if wrong}<span class="text-bad" role="alert">{wrong}</span>{/if}
