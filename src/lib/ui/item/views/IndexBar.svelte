<script lang="ts">
	interface Props {
		value: number | null;
		/** Where an index neither raises nor lowers: 1 or 0. */
		middle: number;
		/** How far the bars reach to both sides of it. */
		reach: number;
		step: number;
		label: string;
		held: boolean;
		onchange: (value: number) => void;
		/** The hand was lifted: what comes next is another movement. */
		onlift: () => void;
		letGo: () => void;
	}

	let { value, middle, reach, step, label, held, onchange, onlift, letGo }: Props = $props();

	const HEIGHT = 58;
	let frame: HTMLDivElement;
	/** The reach as it was when the hand took hold: the scale stays under a moving hand. */
	let grabbed = $state<number | null>(null);
	const scale = $derived(grabbed ?? reach);
	const at = (index: number) =>
		HEIGHT / 2 - (Math.max(-1, Math.min(1, (index - middle) / scale)) * HEIGHT) / 2;

	function set(next: number) {
		const least = middle === 1 ? 0 : -Infinity;
		const stepped = Math.max(least, Math.round(next / step) * step);
		onchange(Number(stepped.toFixed(10)));
	}

	function fromPointer({ clientY }: PointerEvent) {
		const { top } = frame.getBoundingClientRect();
		set(middle - ((clientY - top - HEIGHT / 2) / (HEIGHT / 2)) * scale);
	}

	function grab(event: PointerEvent) {
		if (event.button !== 0) return;
		grabbed = reach;
		frame.setPointerCapture(event.pointerId);
		frame.focus();
		fromPointer(event);
	}

	function lift() {
		if (grabbed === null) return;
		grabbed = null;
		onlift();
	}

	function key(event: KeyboardEvent) {
		if (event.ctrlKey || event.metaKey || event.altKey || value === null) return;
		const leap = event.shiftKey ? 10 * step : step;
		if (event.key === 'ArrowUp') set(value + leap);
		else if (event.key === 'ArrowDown') set(value - leap);
		else if (event.key === 'Delete' || event.key === 'Backspace') letGo();
		else return;
		event.preventDefault();
		event.stopPropagation();
	}
</script>

<div
	bind:this={frame}
	role="slider"
	tabindex="0"
	aria-label="{label}{held ? ', fixed; Delete frees it' : ''}"
	aria-orientation="vertical"
	aria-valuenow={value ?? undefined}
	aria-valuemin={middle === 1 ? 0 : undefined}
	class="relative w-full cursor-ns-resize touch-none"
	style:height="{HEIGHT}px"
	title={held ? 'Fixed; double-click frees it' : 'Drag to fix it at another value'}
	onpointerdown={grab}
	onpointermove={(event) => grabbed !== null && fromPointer(event)}
	onpointerup={lift}
	onpointercancel={lift}
	onkeydown={key}
	onkeyup={onlift}
	ondblclick={letGo}
>
	<span class="absolute inset-x-0 top-1/2 border-t border-edge"></span>
	{#if value !== null}
		<span
			class="absolute inset-x-[22%] {held ? 'bg-accent' : 'bg-ink-2'}"
			style:top="{Math.min(at(value), HEIGHT / 2)}px"
			style:height="{Math.max(1.5, Math.abs(at(value) - HEIGHT / 2))}px"
		></span>
		<span
			class="absolute inset-x-[12%] h-[3px] {held ? 'bg-accent' : 'bg-ink'}"
			style:top="{at(value) - 1.5}px"
		></span>
	{/if}
</div>
