<script lang="ts">
	import type { HTMLInputAttributes } from 'svelte/elements';

	interface Props extends Omit<HTMLInputAttributes, 'checked' | 'class' | 'onchange'> {
		/** What it says yes to, for readers who do not see it; a label around it may say so instead. */
		label?: string;
		checked: boolean;
		/** Neither yes nor no: some of what it stands for. */
		indeterminate?: boolean;
		/** One of several, where this is named. */
		name?: string;
		take: (checked: boolean) => void;
	}

	let { label, checked, indeterminate = false, name, take, ...rest }: Props = $props();
</script>

<input
	{...rest}
	type={name ? 'radio' : 'checkbox'}
	{name}
	aria-label={label}
	class="size-3.5 border-edge align-middle {name ? '' : 'rounded-[3px]'}"
	{checked}
	{indeterminate}
	onchange={(event) => take(event.currentTarget.checked)}
/>
