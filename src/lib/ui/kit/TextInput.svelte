<script lang="ts">
	import type { HTMLInputAttributes } from 'svelte/elements';

	interface Props extends Omit<HTMLInputAttributes, 'value' | 'class'> {
		/** What it sets, for readers who do not see it; a label around it may say so instead. */
		label?: string;
		value: string;
		/** A `field` of a form, a `line` among words, or a `cell` of a table. */
		look?: 'field' | 'line' | 'cell';
		class?: string;
		/** The element, for who sends the keyboard there. */
		field?: HTMLInputElement | undefined;
	}

	let {
		label,
		value = $bindable(),
		look = 'field',
		class: more = '',
		field = $bindable(),
		...rest
	}: Props = $props();

	const LOOKS = { field: 'field', line: 'typed', cell: 'cell' };
</script>

<input {...rest} bind:this={field} bind:value aria-label={label} class="{LOOKS[look]} {more}" />
