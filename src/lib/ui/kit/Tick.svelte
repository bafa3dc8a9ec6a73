<script lang="ts">
	import Checkbox from 'flowbite-svelte/Checkbox.svelte';
	import type { HTMLInputAttributes } from 'svelte/elements';

	interface Props extends Omit<
		HTMLInputAttributes,
		'checked' | 'class' | 'onchange' | 'children' | 'color' | 'disabled'
	> {
		/** What it says yes to, for readers who do not see it; a label around it may say so instead. */
		label?: string;
		checked: boolean;
		/** Neither yes nor no: some of what it stands for. */
		indeterminate?: boolean;
		disabled?: boolean;
		/** One of several, where this is named. */
		name?: string;
		take: (checked: boolean) => void;
	}

	let { label, checked, indeterminate = false, name, take, ...rest }: Props = $props();
</script>

{#if name}
	<!-- By hand: the stock one brings a label of its own, and stands in one already. -->
	<input
		{...rest}
		type="radio"
		{name}
		aria-label={label}
		class="size-3.5 align-middle"
		{checked}
		onchange={(event) => take(event.currentTarget.checked)}
	/>
{:else}
	<Checkbox
		{...rest}
		aria-label={label}
		class="me-0 size-3.5 border-edge bg-panel align-middle dark:border-edge dark:bg-panel"
		{checked}
		{indeterminate}
		onchange={(event) => take(event.currentTarget.checked)}
	/>
{/if}
