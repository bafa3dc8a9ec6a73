<script lang="ts">
	import type { ButtonProps } from 'flowbite-svelte';
	import Solid from 'flowbite-svelte/Button.svelte';
	import type { Snippet } from 'svelte';
	import type { HTMLButtonAttributes } from 'svelte/elements';

	interface Props extends Omit<HTMLButtonAttributes, 'class'> {
		/**
		 * Words that can be pressed: `quiet` among others, `offer` for what may well come next, `link` inside a sentence. With
		 * a frame: `main` for what a page is for, `other` beside it.
		 */
		look?: 'quiet' | 'offer' | 'link' | 'main' | 'other';
		/** Height of one with a frame. */
		size?: 'xs' | 'sm';
		/** Goes to another page in place of doing something. */
		href?: string;
		class?: string;
		children: Snippet;
	}

	let { look = 'quiet', size = 'sm', type = 'button', class: more = '', children, ...rest }: Props = $props();

	const WORDS = {
		quiet: 'quiet',
		offer: 'font-semibold text-accent hover:underline disabled:opacity-50',
		link: 'text-accent underline',
	};
</script>

{#if look === 'main' || look === 'other'}
	<Solid
		{...rest as ButtonProps}
		{type}
		{size}
		color={look === 'main' ? 'primary' : 'alternative'}
		class={more}>{@render children()}</Solid
	>
{:else}
	<button {...rest} {type} class="{WORDS[look]} {more}">{@render children()}</button>
{/if}
