<script lang="ts">
	import { onMount } from 'svelte';
	import { type Offer, offersFor } from '$core/methods/offer';
	import type { Diagnosis } from '$core/diagnosis/diagnosis';
	import { prepareSeries, type SeriesInput } from '$core/series/series';
	import { inMark } from '../../reader.svelte';
	import { arithmetic } from '../../workers/arithmetic';
	import type { ItemState } from './item-state.svelte';

	let { desk, added }: { desk: ItemState; added: () => void } = $props();

	let seen = $state.raw<Diagnosis | null>(null);
	let list: HTMLUListElement;
	const offers = $derived(
		offersFor(prepareSeries(desk.series.request as SeriesInput, desk.series.gapRule), seen, desk.candidates),
	);

	onMount(async () => {
		list.scrollIntoView({ block: 'nearest' });
		// Whether the season that these methods would work with is there; other lengths are Season's to find.
		const { worked, frequency, seasonLength } = desk.series;
		seen = await arithmetic().diagnose(worked, {
			frequency,
			expected: seasonLength,
			only: seasonLength > 1,
		});
	});

	/** Adds a candidate, or chooses the one that it could only repeat. */
	function add({ settings, there }: Offer) {
		if (there === null) desk.add(settings);
		else desk.choose(there);
		added();
	}
</script>

<ul bind:this={list} class="mx-4 mb-2 border-t border-rule" aria-label="Methods to add" data-offers>
	{#each offers as offer (offer.method.id)}
		{@const { method, suits, because, refusal, there } = offer}
		<li class="border-b border-rule" data-offer={method.id}>
			<button
				type="button"
				class="grid w-full grid-cols-[14px_150px_1fr] items-baseline gap-2 px-1 py-1 text-left enabled:hover:bg-wash"
				disabled={refusal !== null}
				onclick={() => add(offer)}
			>
				<span aria-hidden="true" class={suits ? 'text-accent' : 'text-ink-2'}
					>{refusal ? '×' : suits === null ? '' : suits ? '●' : '○'}</span
				>
				<span class="font-medium {refusal ? 'text-ink-2' : ''}">{method.name}</span>
				<span class="text-[13px] leading-[1.35]">
					{#if refusal}<span class="text-bad">{inMark(refusal)}</span>
					{:else if there !== null}<span class="text-ink-2"
							>In the line-up already; it has nothing to differ by.</span
						>
					{:else}<span class="text-ink-2">{method.fits}</span>
						{#if because}<span class={suits ? 'text-ink' : 'text-ink-2'}>
								Here: {inMark(because)}</span
							>{/if}{/if}
				</span>
			</button>
		</li>
	{/each}
</ul>
