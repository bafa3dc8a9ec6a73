<script lang="ts">
	import { type Snippet, untrack } from 'svelte';
	import type { HTMLAttributes } from 'svelte/elements';

	interface Props extends Omit<HTMLAttributes<HTMLDivElement>, 'children' | 'class'> {
		count: number;
		/** Height of each row in pixels. */
		row: number;
		/** Tells a row from others, by its place. */
		key?: (index: number) => string | number;
		/** What a row holds, by its place, and where it stands. */
		children: Snippet<[index: number, place: string]>;
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
		key = (index) => index,
		children,
		seen,
		before,
		height = $bindable(300),
		class: more = '',
		...rest
	}: Props = $props();

	/** Rows drawn beyond both ends of what is on show. */
	const SPARE = 8;
	let viewport: HTMLDivElement | undefined = $state();
	let scrolled = $state(0);
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
	onscroll={(event) => (scrolled = event.currentTarget.scrollTop)}
>
	{@render before?.()}
	<div class="relative" style:height="{count * row}px" role="presentation">
		{#each drawn as index (key(index))}
			{@render children(index, `top: ${index * row}px; height: ${row}px`)}
		{/each}
	</div>
</div>
