<script lang="ts">
	import { onMount, tick } from 'svelte';
	import Busy from '../kit/Busy.svelte';
	import Head from '../kit/Head.svelte';
	import { methodOf } from '$core/methods/registry';
	import { distinctNames } from '$core/methods/names';
	import type { Tried } from '$core/questions/propose';
	import { percent } from '$core/words/chance';
	import { inMark } from '../../reader.svelte';
	import Button from '../kit/Button.svelte';
	import { figure } from '../base/format';
	import type { ItemState } from './state/item-state.svelte';

	let { itemState, close }: { itemState: ItemState; close: () => void } = $props();

	let list: HTMLElement;
	const proposal = $derived(itemState.answers.proposed);
	const names = $derived(
		proposal
			? distinctNames(
					proposal.tried.map(({ candidate }) => candidate),
					(id) => {
						const one = proposal.tried.find(({ candidate }) => candidate.id === id);
						return one?.ok ? one.constants : undefined;
					},
					inMark,
				)
			: null,
	);

	onMount(async () => {
		await itemState.answers.askProposal();
		await tick();
		list.scrollIntoView({ block: 'start' });
	});

	function join({ candidate }: Tried) {
		itemState.lineUp.add(candidate);
		close();
	}

	function takeAll() {
		itemState.lineUp.takeProposal(proposal!);
		close();
	}

	/** How close it came: 0.62 is 38 % closer than naive. */
	const relativeError = (one: Tried) =>
		one.ok && one.trial.relativeError !== null ? figure(one.trial.relativeError, 2) : '–';
</script>

<section bind:this={list} class="mx-4 mb-2 border-t border-rule text-[13px]" aria-label="Proposal" data-tried>
	{#if !proposal}
		<p class="py-2">
			{#if itemState.answers.proposing}<Busy words="Trying methods on past periods…" />{/if}
		</p>
	{:else}
		<div class="flex items-start gap-4 py-1.5">
			<p class="min-w-0 flex-1" data-proposal="says">
				{inMark(proposal.notes.map(({ text }) => text).join(' '))}
			</p>
			{#if proposal.candidate}
				<Button look="main" size="xs" class="shrink-0" onclick={takeAll}>Add to the line-up</Button>
			{/if}
		</div>
		<table class="w-full">
			<caption class="sr-only">All that was tried, closest first</caption>
			<thead class="text-ink-2">
				<tr class="border-b border-rule">
					<th class="py-0.5 text-left font-normal">tried</th>
					<th class="text-right font-normal"
						><Head name="relative MAE" term="relativeMae" more="Over all steps and origins." /></th
					>
					<th class="pl-4 text-right font-normal"
						><Head name="weight" more="Its share of the combination." /></th
					>
					<th class="pl-3 text-left font-normal">for and against</th>
					<th></th>
				</tr>
			</thead>
			<tbody>
				{#each proposal.tried as one, index (one.candidate.id)}
					{@const name = names?.get(one.candidate.id) ?? methodOf(one.candidate.method).name}
					<tr class="border-b border-rule align-baseline" data-tried-row={one.candidate.method}>
						<td class="py-0.5 pr-2"
							>{name}{#if index === proposal.single}<span
									class="ml-1.5 text-accent"
									title="the simplest of the best">named</span
								>{/if}</td
						>
						<td class="figures">{relativeError(one)}</td>
						<td class="figures pl-4">{one.ok && one.share > 0 ? percent(one.share) : '–'}</td>
						<td class="pl-3 {one.ok ? 'text-ink-2' : 'text-bad'}"
							>{inMark(one.notes.map(({ text }) => text).join(' '))}</td
						>
						<td class="pl-2 text-right">
							{#if one.ok}<Button aria-label="Add {name}" onclick={() => join(one)}>add</Button>{/if}
						</td>
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
</section>
