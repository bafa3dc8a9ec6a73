<script lang="ts" generics="Value extends string | number">
	import type { HTMLSelectAttributes } from 'svelte/elements';

	interface Props extends Omit<HTMLSelectAttributes, 'value' | 'onchange' | 'class'> {
		/** What it sets, for readers who do not see it; a label around it may say so instead. */
		label?: string;
		value: Value | null;
		/** What each value is called. */
		names: Readonly<Record<Value, string>> | ((value: Value) => string);
		/** What is chosen from; all that have a name, where it is not said. */
		of?: readonly Value[];
		/** What stands over the values that belong together; nothing over those of ''. */
		group?: (value: Value) => string;
		/** In a `line` of words, `tight` where room is short, a `field` of a form; `bare` is dressed by its place. */
		look?: 'line' | 'tight' | 'field' | 'bare';
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

	const LOOKS = { line: 'choice', tight: 'choice-tight', field: 'field', bare: '' };
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

<select
	{...rest}
	aria-label={label}
	class="{LOOKS[look]} {more}"
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
</select>
