<script lang="ts">
	import { onMount, tick } from 'svelte';
	import { type Offer, offersFor } from '$core/methods/offer';
	import type { Diagnosis } from '$core/diagnosis/diagnosis';
	import { prepareSeries, type SeriesInput } from '$core/series/series';
	import { inMark } from '../../reader.svelte';
	import { arithmetic } from '../../browser-worker/arithmetic';
	import TextInput from '../kit/TextInput.svelte';
	import type { ItemState } from './state/item-state.svelte';

	let { itemState, close }: { itemState: ItemState; close: () => void } = $props();

	let seen = $state.raw<Diagnosis | null>(null);
	let sought = $state('');
	let active = $state(0);
	let panel: HTMLElement;
	let list: HTMLElement | undefined = $state();
	const offers = $derived(
		offersFor(
			prepareSeries(itemState.series.request as SeriesInput, itemState.series.gapRule),
			seen,
			itemState.lineUp.rows,
		),
	);
	/** What fits first, then what nothing is known of, then what does not fit; what cannot run last. */
	const place = ({ refusal, suits }: Offer) => (refusal !== null ? 3 : suits === null ? 1 : suits ? 0 : 2);
	const found = $derived.by(() => {
		// In its order from the first: nothing moves away under a hand.
		if (!seen) return [];
		const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
		return offers
			.filter(({ method }) =>
				words.every((word) => `${method.name} ${method.fits}`.toLowerCase().includes(word)),
			)
			.sort((a, b) => place(a) - place(b));
	});

	const at = $derived(found[active]);

	onMount(async () => {
		panel.querySelector('input')?.focus({ preventScroll: true });
		// Whether the season that these methods would work with is there; other lengths are Season's to find.
		const { worked, frequency, seasonLength } = itemState.series;
		seen = await arithmetic().diagnose(worked, {
			frequency,
			expected: seasonLength,
			only: seasonLength > 1,
		});
		await tick();
		panel.scrollIntoView({ block: 'start' });
	});

	/** Adds a candidate, or chooses the one that it could only repeat. */
	function add(offer: Offer | undefined) {
		if (!offer || offer.refusal !== null) return;
		const { settings, there } = offer;
		if (there === null) itemState.lineUp.add(settings);
		else itemState.lineUp.choose(there);
		close();
	}

	function walk(event: KeyboardEvent) {
		const move = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
		if (move !== 0) {
			active = Math.max(0, Math.min(found.length - 1, active + move));
			list?.children[active]?.scrollIntoView({ block: 'nearest' });
		} else if (event.key === 'Enter') add(at);
		else if (event.key === 'Escape') close();
		else return;
		event.preventDefault();
		event.stopPropagation();
	}
</script>

<section bind:this={panel} class="mx-4 mb-2 border-t border-rule" aria-label="Methods to add">
	<TextInput
		bind:value={sought}
		label="Find a method"
		placeholder="Type to find a method; Enter adds it"
		class="my-1.5 h-7 w-full"
		role="combobox"
		aria-expanded="true"
		aria-controls="methods-to-add"
		aria-activedescendant={at && `offer-${at.method.id}`}
		oninput={() => (active = 0)}
		onkeydown={walk}
	/>
	<!-- In a place of its own: a row that grew under the pointer would push the next one away. -->
	<p class="h-10 overflow-hidden text-[13px] leading-5 text-ink-2" aria-live="polite">
		{at ? `${at.method.name}: ${at.method.fits}` : ''}
	</p>
	<ul bind:this={list} id="methods-to-add" role="listbox" aria-label="Methods to add" data-offers>
		{#each found as offer, index (offer.method.id)}
			{@const { method, suits, because, refusal, there } = offer}
			<!-- svelte-ignore a11y_click_events_have_key_events (the field above takes the keys) -->
			<li
				id="offer-{method.id}"
				role="option"
				aria-selected={index === active}
				aria-disabled={refusal !== null}
				class="grid grid-cols-[14px_170px_1fr] items-baseline gap-2 border-b border-rule px-1 py-1 text-left {refusal
					? ''
					: 'cursor-pointer hover:bg-wash'} {index === active ? 'bg-wash' : ''}"
				data-offer={method.id}
				onclick={() => add(offer)}
				onmousemove={() => (active = index)}
			>
				<span aria-hidden="true" class={suits ? 'text-accent' : 'text-ink-2'}
					>{refusal ? '×' : suits === null ? '' : suits ? '●' : '○'}</span
				>
				<span class="font-medium {refusal ? 'text-ink-2' : ''}">{method.name}</span>
				<span class="text-[13px] leading-[1.35]">
					{#if refusal}<span class="text-bad">{inMark(refusal)}</span>
					{:else if there !== null}<span class="text-ink-2"
							>Already in the line-up; it has no settings that could differ.</span
						>
					{:else if because}<span class={suits ? 'text-ink' : 'text-ink-2'}>{inMark(because)}</span>{/if}
				</span>
			</li>
		{:else}
			<li class="py-1 text-ink-2">{seen ? 'No method has that name.' : 'Reading the demand…'}</li>
		{/each}
	</ul>
</section>
