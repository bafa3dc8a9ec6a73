<script lang="ts">
	import Button from '../kit/Button.svelte';
	import FigureInput from '../kit/FigureInput.svelte';
	import Head from '../kit/Head.svelte';
	import type { ItemState } from './state/item-state.svelte';

	let { desk }: { desk: ItemState } = $props();

	const n = $derived(desk.series.values.length);
	const P = $derived(desk.series.seasonLength);
	const choices = $derived(
		[
			{ name: 'one cycle', periods: P },
			{ name: 'a fifth', periods: Math.floor(n / 5) },
		].filter(
			({ periods }, i) => periods > 1 && periods <= desk.answers.mostHeld && (i === 0 || periods !== P),
		),
	);
</script>

{#if desk.answers.mostHeld >= 1}
	<span class="flex items-baseline gap-2 text-ink-2" data-hold-back>
		<label class="flex items-baseline gap-1.5">
			<Head name="holdout" term="holdout" />
			<FigureInput
				label="Periods of the holdout"
				value={desk.answers.holdout}
				whole
				least={0}
				most={Math.floor(desk.answers.mostHeld)}
				take={(value) => desk.answers.holdBack(value!)}
				class="typed h-5 w-10"
			/>
		</label>
		{#each choices as { name, periods } (name)}
			<Button aria-pressed={desk.answers.holdout === periods} onclick={() => desk.answers.holdBack(periods)}
				>{name}</Button
			>
		{/each}
		{#if desk.answers.holdout > 0}<Button onclick={() => desk.answers.holdBack(0)}>none</Button>{/if}
	</span>
{/if}
