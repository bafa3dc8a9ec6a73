<script lang="ts">
	import { onDestroy, type Snippet, untrack } from 'svelte';
	import type { HTMLAttributes } from 'svelte/elements';

	interface Props extends Omit<HTMLAttributes<HTMLDivElement>, 'children' | 'class'> {
		count: number;
		/** Height of each row in pixels. */
		row: number;
		/** Tells a row from others, by its place. */
		key?: (index: number) => string | number;
		/** Whether what one row was drawn with is changed into another one, which is quicker: for rows that nothing is typed into. */
		recycled?: boolean;
		/**
		 * What a row holds, by its place, and where it stands; and whether it goes by too fast to be read, so that the least of it does.
		 */
		children: Snippet<[index: number, place: string, brief: boolean]>;
		/** Is told which rows are in sight, and a few around them. */
		seen?: (from: number, to: number) => void;
		/** What stands in place of rows, or before them. */
		before?: Snippet;
		/** How much is on show, in pixels. */
		height?: number;
		class?: string;
	}

	// Only rows on show are drawn.
	let {
		count,
		row,
		key,
		recycled = false,
		children,
		seen,
		before,
		height = $bindable(300),
		class: more = '',
		...rest
	}: Props = $props();

	/** Rows drawn beyond both ends of what is on show. */
	const SPARE = 8;
	/** A leap by so much of what is on show takes a row out of sight within four frames: nobody reads it. */
	const LEAP = 1 / 4;
	/** Milliseconds without a leap after which rows are read again, and how many of them are drawn whole in one frame. */
	const CALM = 90;
	const AT_ONCE = 5;
	const FRAME = 16;
	let viewport: HTMLDivElement | undefined = $state();
	let scrolled = $state(0);
	/** As many as there may be at a time. */
	const most = $derived(Math.ceil(height / row) + 1 + 2 * SPARE);
	const keyOf = (index: number) => key?.(index) ?? (recycled ? index % most : index);

	/** How many of the rows on show are drawn whole; the others in brief. */
	let whole = $state(Infinity);
	let calm: ReturnType<typeof setTimeout> | undefined;
	onDestroy(() => clearTimeout(calm));

	function scroll(to: number) {
		if (Math.abs(to - scrolled) >= LEAP * height) {
			whole = 0;
			clearTimeout(calm);
			calm = setTimeout(fillIn, CALM);
		}
		scrolled = to;
	}

	/** Draws rows whole, a few in each frame, until all are. */
	function fillIn() {
		whole += AT_ONCE;
		if (whole >= drawn.length) whole = Infinity;
		else calm = setTimeout(fillIn, FRAME);
	}

	const from = $derived(Math.max(0, Math.floor(scrolled / row) - SPARE));
	const drawn = $derived.by(() => {
		const to = Math.min(count, Math.ceil((scrolled + height) / row) + SPARE);
		return Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i);
	});

	$effect(() => {
		const [first, last] = [drawn[0], drawn.at(-1)];
		if (first !== undefined && last !== undefined) untrack(() => seen?.(first, last));
	});

	/** Back to the first row. */
	export function toTop() {
		if (viewport) viewport.scrollTop = 0;
	}

	/** Sends the keyboard here. */
	export function focus() {
		viewport?.focus({ preventScroll: true });
	}

	/** Brings a row into sight. */
	export function show(index: number) {
		if (!viewport) return;
		viewport.scrollTop = Math.min(Math.max(viewport.scrollTop, (index + 1) * row - height), index * row);
	}
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex (scrolled with the keyboard) -->
<div
	tabindex="0"
	role="region"
	{...rest}
	bind:this={viewport}
	bind:clientHeight={height}
	class="overflow-y-auto {more}"
	onscroll={(event) => scroll(event.currentTarget.scrollTop)}
>
	{@render before?.()}
	<div class="relative" style:height="{count * row}px" role="presentation">
		{#each drawn as index, i (keyOf(index))}
			{@render children(index, `top: ${index * row}px; height: ${row}px`, i >= whole)}
		{/each}
	</div>
</div>
