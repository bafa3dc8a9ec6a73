<script lang="ts">
	import Range from 'flowbite-svelte/Range.svelte';
	import { figure as writtenFigure } from '../base/format';
	import FigureInput from './FigureInput.svelte';

	interface Props {
		/** What it sets, for readers who do not see it. */
		label: string;
		symbol: string;
		value: number;
		min: number;
		max: number;
		/** Smallest movement by key and wheel. */
		step: number;
		decimals: number;
		/** The search ended on a bound, or found this: said with a mark. */
		found?: boolean;
		/** Narrow, where several stand side by side. */
		narrow?: boolean;
		onchange: (value: number) => void;
		/** The hand was lifted: what comes next is another movement. */
		onlift: () => void;
	}

	let {
		label,
		symbol,
		value,
		min,
		max,
		step,
		decimals,
		found = false,
		narrow = false,
		onchange,
		onlift,
	}: Props = $props();

	let dial: HTMLElement;
	const track = () => dial.querySelector<HTMLElement>('[type=range]')!;
	let typing = $state(false);
	const share = $derived(max > min ? (Math.min(max, Math.max(min, value)) - min) / (max - min) : 0);

	function set(next: number) {
		const stepped = Math.round(Math.min(max, Math.max(min, next)) / step) * step;
		const rounded = Number(stepped.toFixed(10));
		if (rounded !== value) onchange(Math.min(max, rounded));
	}

	function key(event: KeyboardEvent) {
		if (event.ctrlKey || event.metaKey || event.altKey) return;
		const leap = event.shiftKey ? 10 * step : step;
		const moves: Record<string, number> = {
			ArrowRight: value + leap,
			ArrowUp: value + leap,
			ArrowLeft: value - leap,
			ArrowDown: value - leap,
			PageUp: value + 10 * step,
			PageDown: value - 10 * step,
			Home: min,
			End: max,
		};
		const next = moves[event.key];
		if (next !== undefined) set(next);
		else if (/^[\d.]$/.test(event.key) || event.key === 'Enter')
			startTyping(event.key === 'Enter' ? null : event.key);
		else return;
		event.preventDefault();
		event.stopPropagation();
	}

	/** What the figure is typed over with: the key that began it. */
	let begun: string | null = null;

	function startTyping(begin: string | null) {
		typing = true;
		begun = begin;
	}

	function take(next: number) {
		if (next !== value) onchange(next);
		onlift();
	}

	function done() {
		typing = false;
		track().focus();
	}

	/** Goes into the field, past what it begins with; the key that began it is typed there. */
	function intoField(span: HTMLElement) {
		const input = span.querySelector('input')!;
		input.focus();
		input.select();
		if (begun === null) return;
		input.value = begun;
		input.dispatchEvent(new InputEvent('input', { bubbles: true }));
		input.setSelectionRange(1, 1);
	}
</script>

<span bind:this={dial} class="inline-flex items-center {narrow ? 'gap-1' : 'gap-1.5'}">
	<span class="w-2.5 text-center text-ink-2" aria-hidden="true">{symbol}</span>
	<!-- Any step: what the search found is shown where it lies. Movements are of the step all the same. -->
	<Range
		aria-label={label}
		aria-valuetext={writtenFigure(value, decimals)}
		{min}
		{max}
		step="any"
		{value}
		style="--share: {share * 100}%"
		class="dial h-5 cursor-ew-resize rounded-none bg-transparent dark:bg-transparent {narrow
			? 'w-[30px]'
			: 'w-[62px]'}"
		oninput={(event) => set(event.currentTarget.valueAsNumber)}
		onpointerup={onlift}
		onkeydown={key}
		onkeyup={onlift}
		onwheel={(event) => {
			if (document.activeElement !== event.currentTarget) return;
			event.preventDefault();
			set(value - Math.sign(event.deltaY) * step);
		}}
		onblur={onlift}
	/>
	{#if typing}
		<span use:intoField>
			<FigureInput
				label="{label}, typed"
				{value}
				show={(figure) => writtenFigure(figure, decimals)}
				least={min}
				most={max}
				whole={Number.isInteger(step)}
				take={(next) => take(next!)}
				{done}
				class="w-11 border-0 border-b border-accent bg-panel p-0 text-[13px]"
			/>
		</span>
	{:else}
		<button
			type="button"
			tabindex="-1"
			class="figures text-[13px] hover:underline {narrow ? 'w-10' : 'w-11'}"
			title={found ? 'found by search; click to type' : 'click to type'}
			onclick={() => startTyping(null)}
			>{writtenFigure(value, decimals)}{#if found}<span class="text-accent" aria-label="found by search"
					>*</span
				>{/if}</button
		>
	{/if}
</span>
