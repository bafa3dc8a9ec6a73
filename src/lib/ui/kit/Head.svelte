<script lang="ts">
	import { termIs, type TermKey } from '$core/words/terms';
	import Hover from './Hover.svelte';

	interface Props {
		name: string;
		/** The term that it is; its definition is said in the hover. */
		term?: TermKey;
		/** What else is to be known of it here. */
		more?: string;
		class?: string;
	}
	/** What heads a column, with what it is. */
	let { name, term, more = '', class: looks = '' }: Props = $props();
	const words = $derived([term ? termIs(term) : '', more].filter(Boolean).join(' '));
</script>

<Hover {words}
	>{#snippet children(described)}<span
			class="{described ? 'cursor-help' : ''} {looks}"
			aria-describedby={described}>{name}</span
		>{/snippet}</Hover
>
