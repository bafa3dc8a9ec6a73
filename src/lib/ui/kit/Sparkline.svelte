<script lang="ts">
	interface Props {
		values: readonly (number | null)[];
		/** What was forecast after the last value. */
		ahead?: readonly number[];
		width?: number;
		height?: number;
	}

	let { values, ahead = [], width = 168, height = 30 }: Props = $props();

	const all = $derived([...values, ...ahead].filter((value) => value !== null));
	const low = $derived(Math.min(...all));
	const span = $derived(Math.max(...all) - low || 1);
	const count = $derived(values.length + ahead.length);
	const x = (i: number) => 2 + ((width - 4) * i) / Math.max(1, count - 1);
	const y = (value: number) => height - 3 - ((height - 6) * (value - low)) / span;

	/** A line that breaks where a value is missing. */
	function path(list: readonly (number | null)[], from: number): string {
		let broken = true;
		return list
			.map((value, i) => {
				if (value === null) {
					broken = true;
					return '';
				}
				const command = broken ? 'M' : 'L';
				broken = false;
				return `${command}${x(from + i).toFixed(1)} ${y(value).toFixed(1)}`;
			})
			.join('');
	}
	const lastValue = $derived(values.findLast((value) => value !== null) ?? null);
</script>

<svg {width} {height} aria-hidden="true" class="block">
	{#if all.length > 0}
		<path d={path(values, 0)} fill="none" stroke="var(--ink)" stroke-width="1" />
		{#if ahead.length > 0 && lastValue !== null}
			<path
				d={path([lastValue, ...ahead], values.length - 1)}
				fill="none"
				stroke="var(--accent)"
				stroke-width="1.4"
				stroke-dasharray="3 2"
			/>
		{/if}
	{/if}
</svg>
