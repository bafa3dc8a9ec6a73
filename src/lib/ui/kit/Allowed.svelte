<script lang="ts">
	import type { Snippet } from 'svelte';
	import type { Role } from '../../wire/access';
	import { isFor, may, yours } from '../base/access';
	import Hover from './Hover.svelte';

	interface Props {
		/** What is done here: “Adopting”. */
		does: string;
		/** Whom it is for. */
		to?: Role;
		class?: string;
		/** Left out where it only says that something is for others. */
		children?: Snippet;
	}
	/** What is for a role: to others it says what it is, and whom they ask for it. */
	let { does, to = 'work', class: more = '', children }: Props = $props();
</script>

{#if may(to)}{@render children?.()}{:else}<Hover words={yours(to)}
		>{#snippet children(described)}<!-- svelte-ignore a11y_no_noninteractive_tabindex --><span
				tabindex="0"
				aria-describedby={described}
				class="text-[13px] text-ink-2 underline decoration-dotted underline-offset-3 {more}"
				data-not-allowed={to}>{isFor(does, to)}</span
			>{/snippet}</Hover
	>{/if}
