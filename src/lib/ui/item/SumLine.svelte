<script lang="ts">
	import { besideWords, closerSentence, CYCLE_WARNING, sumSentences } from '$core/words/sum';
	import { ASKED_ALL, askedWords, paramsOf } from '../../wire/asked';
	import { inMark } from '../../reader.svelte';
	import { type ItemParts } from '../../wire/groups';
	import { SHARES } from '../../wire/sweep-kinds';
	import { call, messageOf } from '../base/call';
	import { Doing } from '../base/doing.svelte';
	import { figure } from '../base/format';
	import Allowed from '../kit/Allowed.svelte';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';
	import Choice from '../kit/Choice.svelte';
	import { beginSweep } from '../lists/begin';
	import type { ItemState } from './state/item-state.svelte';

	/** What a sum is made of, what its items' own forecasts come to, and how its own is shared among them. */
	let { itemState, sumOf }: { itemState: ItemState; sumOf: NonNullable<ItemState['item']['sumOf']> } =
		$props();

	const SHARE_NAMES = { forecasts: 'their own forecasts', cycle: 'demand of the last cycle' } as const;
	let parts = $state.raw<ItemParts | null>(null);
	let by = $state<(typeof SHARES)[number]>('forecasts');
	const sharing = new Doing();

	// Looked up anew where its own figures or its record are other ones.
	$effect(() => {
		void [itemState.item.seen, itemState.record.adopted?.id];
		call('GET /items/[code]/parts', { code: itemState.item.code }).then(
			(found) => {
				parts = found;
				itemState.record.itsItems = found.ahead;
			},
			(error) => (sharing.refusal = messageOf(error)),
		);
	});

	/** Which is closer, or why that is not told; null while it is being tried. */
	let closer = $state<string | null>(null);
	const adoptedId = $derived(itemState.record.adopted?.id ?? null);
	$effect(() => {
		closer = null;
		if (adoptedId === null) return;
		const { code, seen } = itemState.item;
		call('GET /items/[code]/closer', { code }).then(
			(found) => {
				if (itemState.item.seen === seen) closer = closerSentence(found, frequency);
			},
			(error) => (closer = messageOf(error)),
		);
	});

	const { frequency } = $derived(itemState.series);
	const next = $derived(itemState.origin + 1);
	const adoptedNext = $derived(
		itemState.record.adopted?.steps.find(({ period }) => period === next)?.final ?? null,
	);
	const said = $derived.by(() => {
		if (!parts) return [];
		const beside = besideWords(parts, frequency, next, adoptedNext, itemState.scale);
		return [...(beside ? [beside] : []), ...sumSentences(parts, frequency, itemState.origin)].map(inMark);
	});
	const asked = $derived({ ...ASKED_ALL, labels: sumOf.labels });
	const which = $derived(askedWords(asked));

	async function share() {
		if (sharing.busy) return;
		await sharing.run(() =>
			beginSweep({ kind: 'share', items: { partsOf: itemState.item.code }, settings: { share: by } }),
		);
	}
</script>

<div
	class="flex min-h-8 shrink-0 flex-wrap items-center gap-x-4 gap-y-0.5 border-b border-rule px-4 py-1 text-[13px]"
	role="region"
	aria-label="What it is the sum of"
	data-sum={parts?.items ?? ''}
>
	<a href="/items?{paramsOf(asked)}" class="text-accent underline"
		>Σ {parts ? figure(parts.items, 0) : '…'}
		{parts?.items === 1 ? 'item' : 'items'}{which ? `: ${which}` : ''}{sumOf.unit
			? `, in ${sumOf.unit}`
			: ''}</a
	>
	<span class="min-w-0 flex-1" data-sum-says>{said.join(' ')}</span>
	{#if adoptedId !== null}
		<p class="w-full" data-sum-closer={closer === null ? 'trying' : 'told'} aria-live="polite">
			{closer === null ? 'Comparing the group’s forecast with the sum of its items’…' : inMark(closer)}
		</p>
	{/if}
	{#if itemState.record.adopted && itemState.item.retiredAt === null}
		<Allowed does="Sharing a forecast"
			><span class="flex items-center gap-2 whitespace-nowrap">
				<Button
					look="offer"
					disabled={sharing.busy}
					title="Splits the group’s forecast among its items, as changes by hand; you check them before they are adopted"
					onclick={share}>Share among them</Button
				>
				<span class="text-ink-2">by</span>
				<Choice
					label="Shared by"
					value={by}
					of={SHARES}
					names={(of) => SHARE_NAMES[of]}
					take={(of) => (by = of)}
				/>
			</span></Allowed
		>
	{/if}
	{#if by === 'cycle'}<p class="w-full text-bad" data-share-warning>{inMark(CYCLE_WARNING)}</p>{/if}
	{#if sharing.refusal}<Notice class="w-full">{inMark(sharing.refusal)}</Notice>{/if}
</div>
