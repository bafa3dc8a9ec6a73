<script lang="ts">
	import Tick from '../kit/Tick.svelte';
	import Choice from '../kit/Choice.svelte';
	import { membersField, weightingField } from '$core/methods/combination';
	import { type Candidate, madeFrom } from '$core/methods/registry';
	import CandidateMark from './CandidateMark.svelte';
	import { percent } from '$core/words/chance';
	import Button from '../kit/Button.svelte';
	import { figure } from '../base/format';
	import type { ItemState } from './state/item-state.svelte';
	import FigureInput from '../kit/FigureInput.svelte';

	let {
		itemState,
		candidate,
	}: { itemState: ItemState; candidate: Extract<Candidate, { method: 'combination' }> } = $props();

	const members = $derived(membersField.read(candidate));
	const weighting = $derived(weightingField.read(candidate));
	const parts = $derived(itemState.answers.resultFor(candidate.id)?.parts ?? []);
	/** Those it may be made from: not itself, and none that is made from it. */
	const others = $derived(
		[
			...itemState.lineUp.rows,
			...itemState.lineUp.candidates.filter(({ id }) => itemState.lineUp.folded.includes(id)),
		]
			.map((other) => ({ other, place: itemState.lineUp.rows.indexOf(other) }))
			.filter(
				({ other }) =>
					other.id !== candidate.id &&
					!madeFrom(other, itemState.lineUp.candidates).some(({ id }) => id === candidate.id),
			),
	);
	/** Parts that stand behind it are a line, until their weights are to be changed. */
	const ranked = $derived(parts.toSorted((a, b) => b.share - a.share));
	/** So many are named; the others are counted. */
	const LISTED = 4;
	const folded = $derived(members.some((id) => itemState.lineUp.folded.includes(id)));
	let editing = $state(false);
	const weightOf = (id: string) => (Array.isArray(weighting) ? (weighting[members.indexOf(id)] ?? 0) : null);

	function pick(id: string, picked: boolean) {
		const of = picked ? [...members, id] : members.filter((member) => member !== id);
		if (of.length === 0) return;
		const own = Array.isArray(weighting) ? of.map((member) => weightOf(member) || 1) : weighting;
		itemState.lineUp.set(candidate, { of, weights: own });
	}

	function weigh(how: 'equal' | 'inverse-mse' | 'given') {
		const shares = members.map((id) => {
			const share = parts.find((part) => part.id === id)?.share ?? 1 / members.length;
			return Number((100 * share).toFixed(0));
		});
		itemState.lineUp.set(candidate, { weights: how === 'given' ? shares : how });
	}

	function setWeight(id: string, value: number): string | undefined {
		if (!Array.isArray(weighting)) return;
		const weights = weighting.with(members.indexOf(id), value);
		if (!weights.some((weight) => weight > 0)) return 'At least one weight must be above 0.';
		itemState.lineUp.set(candidate, { weights });
	}
</script>

{#if folded && !editing}
	<p class="w-full text-ink-2" data-members>
		{#each ranked.slice(0, LISTED) as { id, share }, i (id)}{i > 0 ? ', ' : ''}<Button
				title="Add it to the line-up"
				onclick={() => itemState.lineUp.toggleHidden(id)}>{itemState.answers.names.get(id)}</Button
			>
			<span class="figures">{percent(share)}</span
			>{/each}{#if ranked.length > LISTED}{` and ${ranked.length - LISTED} more`}{/if}
		<Button look="link" class="ml-1" onclick={() => (editing = true)}>weights…</Button>
	</p>
{:else}
	<div class="flex w-full flex-wrap items-center gap-x-3 gap-y-0.5" data-members>
		<label class="text-ink-2"
			>weighted
			<Choice
				label="How the candidates are weighted"
				value={Array.isArray(weighting) ? 'given' : weighting}
				names={{ equal: 'equally', 'inverse-mse': 'by their squared errors', given: 'by my own weights' }}
				take={weigh}
			/></label
		>
		{#each others as { other, place } (other.id)}
			{@const name = itemState.answers.names.get(other.id)}
			{@const share = parts.find(({ id }) => id === other.id)?.share}
			<label class="flex items-center gap-1">
				<Tick
					label="Combine {name}"
					checked={members.includes(other.id)}
					take={(picked) => pick(other.id, picked)}
				/>
				{#if place >= 0}<CandidateMark {place} />{/if}
				{name}
				{#if members.includes(other.id)}
					{#if Array.isArray(weighting)}
						<FigureInput
							label="Weight of {name}"
							value={weightOf(other.id)}
							least={0}
							take={(value) => setWeight(other.id, value!)}
							class="typed h-5 w-9"
						/>
					{:else if share !== undefined}<span class="figures text-ink-2">{figure(100 * share, 0)} %</span
						>{/if}
				{/if}
			</label>
		{/each}
		{#if folded}<Button look="link" onclick={() => (editing = false)}>done</Button>{/if}
	</div>
{/if}
