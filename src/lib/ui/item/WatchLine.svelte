<script lang="ts">
	import { takesLetters } from '../base/keys';
	import { onMount } from 'svelte';
	import { goto } from '$app/navigation';
	import { describePeriod } from '$core/series/period';
	import { periodsInWords } from '$core/series/frequency';
	import { percent } from '$core/words/chance';
	import { keptWarning, PROPOSE_AGAIN, reasonChance, reasonWords } from '$core/words/status';
	import { inMark } from '../../reader.svelte';
	import { Doing } from '../base/doing.svelte';
	import { moment } from '../base/format';
	import { may } from '../base/access';
	import Allowed from '../kit/Allowed.svelte';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';
	import Key from '../kit/Key.svelte';
	import TextInput from '../kit/TextInput.svelte';
	import { BOUNDS } from '$core/bounds';
	import { followRound, noteDone, type Place, placeOf, takeDone } from '../base/round';
	import type { ItemState } from './state/item-state.svelte';
	import type { ViewName } from '../base/view-names';

	let { itemState, view }: { itemState: ItemState; view: ViewName } = $props();

	/** Where it stands among the items that are worked through; they are kept by the tab. */
	let place = $state.raw<Place | null>(null);
	/** What was done with the item before. */
	let done = $state('');
	const doing = new Doing();
	let words = $state('');
	let asking = $state(false);
	let field: HTMLInputElement | undefined = $state();

	onMount(() => {
		const { code } = itemState.item;
		place = placeOf(code);
		done = takeDone();
		// Without an answer the round ends here, and the list has the others.
		void followRound(code).then(
			(more) => more && (place = placeOf(code)),
			() => undefined,
		);
	});

	const { frequency } = $derived(itemState.series);
	const status = $derived(itemState.item.status);
	const reasons = $derived(status?.reasons ?? []);
	const said = $derived(
		reasons.map((reason) => inMark(reasonWords(reason, frequency, itemState.scale, itemState.item.unit))),
	);
	const chances = $derived(reasons.map((reason) => inMark(reasonChance(reason, frequency) ?? '')));
	const flagged = $derived(reasons.some(({ code }) => code === 'drifts'));
	let unfolded = $state(false);
	const next = $derived(place ? ' and next' : '');

	function address(code: string): string {
		return `/items/${encodeURIComponent(code)}?view=${view}`;
	}

	function open(code: string | null) {
		if (code !== null) void goto(address(code));
	}

	/** Does something with the item, and goes on to the next one where a list is gone through. */
	async function act(what: () => Promise<unknown>, saidOf: () => string) {
		if (doing.busy) return;
		await doing.run(async () => {
			await what();
			if (!place) return;
			noteDone(`${itemState.item.code} ${saidOf()}`);
			await goto(place.after === null ? '/items' : address(place.after));
		});
	}

	const until = () => {
		const steps = itemState.record.adopted?.steps ?? [];
		return `${periodsInWords(frequency, steps.length)} to ${describePeriod(frequency, steps.at(-1)?.period ?? itemState.origin)}`;
	};
	const update = () =>
		act(
			() => itemState.record.updateAdopted(),
			() => `updated, ${until()}`,
		);
	const adopt = () =>
		act(
			() => itemState.record.adopt(''),
			() => `adopted, ${until()}`,
		);
	/** Methods are tried again on what came in; what is proposed joins the line-up, to be looked at and adopted. */
	async function proposeAgain() {
		if (doing.busy) return;
		await doing.run(async () => {
			const proposal = await itemState.answers.askProposal();
			if (!proposal?.candidate)
				throw new Error(itemState.answers.problem ?? 'No method can be tried: the item has too few actuals.');
			itemState.lineUp.takeProposal(proposal);
		});
	}
	const hide = (hidden: boolean) =>
		act(
			() => itemState.hide(hidden, words.trim()),
			() => 'hidden',
		);

	function key(event: KeyboardEvent) {
		if (event.altKey || event.ctrlKey || event.metaKey || takesLetters(event.target)) return;
		if (event.key === '[') open(place?.before ?? null);
		else if (event.key === ']') open(place?.after ?? null);
		else if (!may('work')) return;
		else if (event.key === 'c' && itemState.record.canUpdate) void update();
		else if (event.key === 'a') void adopt();
		else if (event.key === 'p' && !status?.hidden) void hide(true);
		else return;
		event.preventDefault();
	}
</script>

<svelte:window onkeydown={key} />

<div
	class="flex min-h-8 shrink-0 flex-wrap items-center gap-x-4 gap-y-0.5 border-b border-rule bg-wash px-4 py-1 text-[13px]"
	role="region"
	aria-label="Status"
	data-watch={reasons[0]?.code ?? 'quiet'}
>
	{#if place}
		<span class="flex items-baseline gap-2 whitespace-nowrap" data-place>
			<Button
				disabled={place.before === null}
				aria-label="The one before"
				title="The one before"
				onclick={() => open(place?.before ?? null)}><Key>[</Key></Button
			>
			<span>{place.name}: {place.at} of {place.of}</span>
			<Button
				disabled={place.after === null}
				aria-label="The next one"
				title="The next one"
				onclick={() => open(place?.after ?? null)}><Key>]</Key></Button
			>
		</span>
	{/if}
	<span class="min-w-0 flex-1 {status?.hidden ? 'text-ink-2' : ''}" data-status>
		{#if itemState.item.retiredAt !== null}
			<span class="text-ink-2">– retired</span>
		{:else if status?.hidden}
			– hidden by {status.hidden.by}, {moment(status.hidden.at)}{status.hidden.words
				? `, “${status.hidden.words}”`
				: ''}, until its next actual: {said[0] ?? 'nothing to check'}
		{:else if said.length > 0}
			<span class="text-bad" title={chances[0]}>◆ {said[0]}</span>
			{#if said.length > 1}
				<Button look="link" aria-expanded={unfolded} onclick={() => (unfolded = !unfolded)}
					>{unfolded ? 'less' : `and ${said.length - 1} more`}</Button
				>
				{#if unfolded}{#each said.slice(1) as more, i (i)}<span class="block" title={chances[i + 1]}
							>◆ {more}</span
						>{/each}{/if}
			{/if}
		{:else if itemState.record.adopted}
			<span class="text-accent">● adopted: {itemState.record.adopted.label}</span>
			{#if status?.newest?.ranged}
				<span class="text-ink-2">
					{describePeriod(frequency, status.newest.period)}
					{status.newest.inside === null
						? 'outside its range'
						: `inside its ${percent(status.newest.inside)} range`}
				</span>
			{/if}
		{/if}
		{#if itemState.item.lineUp.version === 0 && !itemState.record.adopted && itemState.item.retiredAt === null}
			<span class="ml-3 text-ink-2" data-steps
				>{may('work')
					? '1 Compare the candidates. 2 Choose one. 3 Check Ahead. 4 Adopt.'
					: 'Try what you like: nothing is saved.'}</span
			>
		{/if}
		{#if done}<span class="ml-3 text-ink-2" role="status">Before: {done}.</span>{/if}
	</span>
	{#if itemState.item.retiredAt === null}
		<Allowed does="Saving, adopting and hiding"
			><span class="flex items-center gap-3 whitespace-nowrap">
				{#if itemState.record.adopted}
					<Button
						look="offer"
						disabled={doing.busy || !itemState.record.canUpdate}
						title={itemState.record.canUpdate
							? `${itemState.record.adopted.label} again, on newer actuals; ${itemState.item.plan.carry === 'keep' ? `constants kept. ${keptWarning(itemState.record.adopted.candidate)}` : 'constants searched again'}`
							: 'There are no new actuals since it was adopted'}
						onclick={update}>Update{next} <Key>c</Key></Button
					>
				{/if}
				{#if flagged}
					<Button
						look="offer"
						disabled={doing.busy}
						title={PROPOSE_AGAIN}
						onclick={proposeAgain}
						data-propose-again>Propose again</Button
					>
				{/if}
				<Button
					look="offer"
					disabled={doing.busy}
					title="Records the chosen candidate’s forecast for good, as Ahead shows it"
					onclick={adopt}>Adopt{next} <Key>a</Key></Button
				>
				{#if status?.hidden}
					<Button look="offer" disabled={doing.busy} onclick={() => hide(false)}>Show it again</Button>
				{:else if asking}
					<form
						class="flex items-center gap-2"
						onsubmit={(event) => {
							event.preventDefault();
							asking = false;
							void hide(true);
						}}
					>
						<TextInput
							bind:value={words}
							bind:field
							look="line"
							maxlength={BOUNDS.reason}
							label="Why it is hidden"
							placeholder="reason (optional)"
							class="w-40"
						/>
						<Button look="offer" type="submit" disabled={doing.busy}>Hide{next}</Button>
					</form>
				{:else}
					<Button
						look="offer"
						disabled={doing.busy}
						title="Hides it from the list until its next actual"
						onclick={() => {
							asking = true;
							queueMicrotask(() => field?.focus());
						}}>Hide{next} <Key>p</Key></Button
					>
				{/if}
			</span></Allowed
		>
	{/if}
	{#if doing.refusal}
		<Notice class="w-full">
			{inMark(doing.refusal)}
			{#if itemState.saved.between.length > 0}
				<Button size="xs" look="other" onclick={() => doing.run(() => itemState.saved.putMineOnTop())}
					>Show it with what came in</Button
				>
			{/if}
		</Notice>
	{/if}
</div>
