<script lang="ts">
	interface Props {
		code: string;
		name: string;
		/** Looks of the code, beside the quieter colour. */
		class?: string;
	}
	/** An item as it is named: its code and its name, once where they are the same. */
	let { code, name, class: more = '' }: Props = $props();
</script>

{#if name !== code}<span class="figures mr-1.5 font-normal text-ink-2 {more}">{code}</span>{/if}{name}
