<script lang="ts">
	import Input from 'flowbite-svelte/Input.svelte';
	import type { HTMLInputAttributes } from 'svelte/elements';

	interface Props extends Omit<HTMLInputAttributes, 'value' | 'class' | 'size' | 'children' | 'color'> {
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

	const FIELD =
		'h-8 border-edge bg-panel px-2 py-0 text-[13px] text-ink placeholder:text-ink-2 disabled:border-rule disabled:bg-wash disabled:opacity-100 aria-invalid:border-bad dark:border-edge';
	const LOOKS = { line: 'typed', cell: 'cell' };
</script>

{#if look === 'field'}
	<!-- Its own type leaves out `null` of handlers, which ours never are. -->
	<Input {...rest as object} bind:elementRef={field} bind:value aria-label={label} class="{FIELD} {more}" />
{:else}
	<!-- By hand: the stock one is as wide as all there is, and these stand among words and in cells. -->
	<input {...rest} bind:this={field} bind:value aria-label={label} class="{LOOKS[look]} {more}" />
{/if}
