<script lang="ts" generics="Value extends string | number">
	import Select from 'flowbite-svelte/Select.svelte';
	import type { HTMLSelectAttributes } from 'svelte/elements';

	interface Props extends Omit<HTMLSelectAttributes, 'value' | 'onchange' | 'class' | 'size' | 'disabled'> {
		/** What it sets, for readers who do not see it; a label around it may say so instead. */
		label?: string;
		value: Value | null;
		/** What each value is called. */
		names: Readonly<Record<Value, string>> | ((value: Value) => string);
		/** What is chosen from; all that have a name, where it is not said. */
		of?: readonly Value[];
		/** What stands over the values that belong together; nothing over those of ''. */
		group?: (value: Value) => string;
		/** In a `line` of words, a `field` of a form; `bare` is dressed by its place. */
		look?: 'line' | 'field' | 'bare';
		disabled?: boolean;
		class?: string;
		take: (value: Value) => void;
	}

	let {
		label,
		value,
		names,
		of,
		group = () => '',
		look = 'line',
		class: more = '',
		take,
		...rest
	}: Props = $props();

	const WORDS =
		'inline-block h-6 w-auto [field-sizing:content] rounded-none border-0 border-b border-edge bg-transparent px-0 py-0 text-[13px] text-ink dark:border-edge dark:bg-transparent dark:text-ink';
	const LOOKS = {
		line: WORDS,
		field: 'h-8 border-edge bg-panel px-2 py-0 text-[13px] text-ink dark:border-edge',
		bare: 'inline-block w-auto border-0 bg-transparent p-0 text-[13px] text-ink dark:bg-transparent dark:text-ink',
	};
	const all = $derived(of ?? (Object.keys(names) as Value[]));
	const groups = $derived.by(() => {
		const found: [over: string, values: Value[]][] = [];
		for (const one of all) {
			const over = group(one);
			if (found.at(-1)?.[0] === over) found.at(-1)![1].push(one);
			else found.push([over, [one]]);
		}
		return found;
	});
	const nameOf = (one: Value) => (typeof names === 'function' ? names(one) : names[one]);
</script>

<Select
	{...rest}
	aria-label={label}
	placeholder=""
	class="contents"
	classes={{ select: `${LOOKS[look]} ${more}` }}
	{value}
	onchange={(event) => take(all[event.currentTarget.selectedIndex]!)}
>
	{#each groups as [over, values] (over)}
		{#if over === ''}
			{#each values as one (one)}<option value={one}>{nameOf(one)}</option>{/each}
		{:else}
			<optgroup label={over}
				>{#each values as one (one)}<option value={one}>{nameOf(one)}</option>{/each}</optgroup
			>
		{/if}
	{/each}
</Select>
