<script lang="ts">
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

	let track: HTMLDivElement;
	let typing = $state(false);
	let typed = $state('');
	const share = $derived(max > min ? (Math.min(max, Math.max(min, value)) - min) / (max - min) : 0);

	function set(next: number) {
		const stepped = Math.round(Math.min(max, Math.max(min, next)) / step) * step;
		const rounded = Number(stepped.toFixed(10));
		if (rounded !== value) onchange(Math.min(max, rounded));
	}

	function fromPointer(event: PointerEvent) {
		const { left, width } = track.getBoundingClientRect();
		set(min + ((event.clientX - left) / width) * (max - min));
	}

	function grab(event: PointerEvent) {
		if (event.button !== 0) return;
		track.setPointerCapture(event.pointerId);
		track.focus();
		fromPointer(event);
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
			startTyping(event.key === 'Enter' ? '' : event.key);
		else return;
		event.preventDefault();
		event.stopPropagation();
	}

	function startTyping(begin: string) {
		typing = true;
		typed = begin || value.toFixed(decimals);
	}

	function finish(take: boolean) {
		if (!typing) return;
		typing = false;
		const next = Number(typed.replace(',', '.'));
		if (take && typed.trim() !== '' && Number.isFinite(next)) {
			const bounded = Math.min(max, Math.max(min, next));
			if (bounded !== value) onchange(Number.isInteger(step) ? Math.round(bounded) : bounded);
			onlift();
		}
		track.focus();
	}

	function focusAtEnd(input: HTMLInputElement) {
		input.focus();
		input.setSelectionRange(input.value.length, input.value.length);
	}
</script>

<span class="inline-flex items-center {narrow ? 'gap-1' : 'gap-1.5'}">
	<span class="w-2.5 text-center text-ink-2" aria-hidden="true">{symbol}</span>
	<div
		bind:this={track}
		role="slider"
		tabindex="0"
		aria-label={label}
		aria-valuemin={min}
		aria-valuemax={max}
		aria-valuenow={value}
		aria-valuetext={value.toFixed(decimals)}
		class="relative h-5 cursor-ew-resize touch-none {narrow ? 'w-[30px]' : 'w-[62px]'}"
		onpointerdown={grab}
		onpointermove={(event) => track.hasPointerCapture(event.pointerId) && fromPointer(event)}
		onpointerup={onlift}
		onkeydown={key}
		onkeyup={onlift}
		onwheel={(event) => {
			if (document.activeElement !== track) return;
			event.preventDefault();
			set(value - Math.sign(event.deltaY) * step);
		}}
		onblur={onlift}
	>
		<span class="absolute top-1/2 right-0 left-0 h-px bg-edge"></span>
		<span class="absolute top-1/2 left-0 h-[3px] -translate-y-1/2 bg-ink-2" style:width="{share * 100}%"
		></span>
		<span
			class="absolute top-[3px] h-3.5 w-[5px] -translate-x-1/2 rounded-sm bg-ink"
			style:left="{share * 100}%"
		></span>
	</div>
	{#if typing}
		<input
			use:focusAtEnd
			bind:value={typed}
			aria-label="{label}, typed"
			inputmode="decimal"
			class="figures w-11 border-0 border-b border-accent bg-panel p-0 text-[13px]"
			onblur={() => finish(true)}
			onkeydown={(event) => {
				event.stopPropagation();
				if (event.key === 'Enter') finish(true);
				if (event.key === 'Escape') finish(false);
			}}
		/>
	{:else}
		<button
			type="button"
			tabindex="-1"
			class="figures text-[13px] hover:underline {narrow ? 'w-10' : 'w-11'}"
			title={found ? 'found by search; click to type' : 'click to type'}
			onclick={() => startTyping('')}
			>{value.toFixed(decimals)}{#if found}<span class="text-accent" aria-label="found by search">*</span
				>{/if}</button
		>
	{/if}
</span>
