<script lang="ts">
	import Button from '../kit/Button.svelte';
	import FigureInput from '../kit/FigureInput.svelte';
	import Head from '../kit/Head.svelte';
	import type { ItemState } from './state/item-state.svelte';

	let { itemState }: { itemState: ItemState } = $props();

	const n = $derived(itemState.series.values.length);
	const P = $derived(itemState.series.seasonLength);
	const choices = $derived(
		[
			{ name: 'one cycle', periods: P },
			{ name: 'a fifth', periods: Math.floor(n / 5) },
		].filter(
			({ periods }, i) => periods > 1 && periods <= itemState.answers.mostHeld && (i === 0 || periods !== P),
		),
	);
</script>

{#if itemState.answers.mostHeld >= 1}
	<span class="flex items-baseline gap-2 text-ink-2" data-hold-back>
		<label class="flex items-baseline gap-1.5">
			<Head name="holdout" term="holdout" />
			<FigureInput
				label="Periods of the holdout"
				value={itemState.answers.holdout}
				whole
				least={0}
				most={Math.floor(itemState.answers.mostHeld)}
				take={(value) => itemState.answers.holdBack(value!)}
				class="typed h-5 w-10"
			/>
		</label>
		{#each choices as { name, periods } (name)}
			<Button
				aria-pressed={itemState.answers.holdout === periods}
				onclick={() => itemState.answers.holdBack(periods)}>{name}</Button
			>
		{/each}
		{#if itemState.answers.holdout > 0}<Button onclick={() => itemState.answers.holdBack(0)}>none</Button
			>{/if}
	</span>
{/if}
