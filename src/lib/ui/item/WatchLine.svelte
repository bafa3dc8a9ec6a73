<script lang="ts">
	import { onMount } from 'svelte';
	import { goto } from '$app/navigation';
	import { describePeriod } from '$core/series/period';
	import { periodsInWords } from '$core/series/frequency';
	import { keptWarning, PROPOSE_AGAIN, reasonWords } from '$core/words/standing';
	import { inMark } from '../../reader.svelte';
	import { messageOf } from '../call';
	import { moment } from '../format';
	import Button from '../kit/Button.svelte';
	import TextInput from '../kit/TextInput.svelte';
	import { BOUNDS } from '$core/bounds';
	import { followRound, noteDone, type Place, placeOf, takeDone } from '../round';
	import type { ItemState } from './item-state.svelte';
	import type { ViewName } from './view-names';

	let { desk, view }: { desk: ItemState; view: ViewName } = $props();

	/** Where it stands among the items that are worked through; they are kept by the tab. */
	let place = $state.raw<Place | null>(null);
	/** What was done with the item before. */
	let done = $state('');
	let pressed = $state(false);
	let refusal = $state<string | null>(null);
	let words = $state('');
	let asking = $state(false);
	let field: HTMLInputElement | undefined = $state();

	onMount(() => {
		const { code } = desk.item;
		place = placeOf(code);
		done = takeDone();
		// Without an answer the round ends here, and the list has the others.
		void followRound(code).then(
			(more) => more && (place = placeOf(code)),
			() => undefined,
		);
	});

	const { frequency } = $derived(desk.series);
	const standing = $derived(desk.item.standing);
	const reasons = $derived(standing?.reasons ?? []);
	const said = $derived(reasons.map((reason) => inMark(reasonWords(reason, frequency, desk.scale))));
	const flagged = $derived(reasons.some(({ code }) => code === 'drifts'));
	let unfolded = $state(false);
	const next = $derived(place ? ' and next' : '');

	function address(code: string): string {
		return `/items/${encodeURIComponent(code)}?view=${view}`;
	}

	function open(code: string | null) {
		if (code !== null) void goto(address(code));
	}

	/** Does something with the item, and goes on to the next one where items are worked through. */
	async function act(what: () => Promise<unknown>, saidOf: () => string) {
		if (pressed) return;
		pressed = true;
		refusal = null;
		try {
			await what();
			if (place) {
				noteDone(`${desk.item.code} ${saidOf()}`);
				if (place.after !== null) await goto(address(place.after));
				else await goto('/items');
			}
		} catch (error) {
			refusal = messageOf(error);
		}
		pressed = false;
	}

	const until = () => {
		const steps = desk.adopted?.steps ?? [];
		return `${periodsInWords(frequency, steps.length)} to ${describePeriod(frequency, steps.at(-1)?.period ?? desk.origin)}`;
	};
	const carryOn = () =>
		act(
			() => desk.carryOn(),
			() => `carried on, ${until()}`,
		);
	const adopt = () =>
		act(
			() => desk.adopt(''),
			() => `adopted, ${until()}`,
		);
	/** Methods are tried again on what came in; what is proposed joins the line-up, to be looked at and adopted. */
	async function proposeAgain() {
		if (pressed) return;
		pressed = true;
		const proposal = await desk.askProposal();
		if (proposal?.candidate) desk.takeProposal(proposal);
		else refusal = desk.problem ?? 'No method can be tried on it: it has too few figures.';
		pressed = false;
	}
	const putAside = (aside: boolean) =>
		act(
			() => desk.putAside(aside, words.trim()),
			() => 'put aside',
		);

	function key(event: KeyboardEvent) {
		const target = event.target as HTMLElement;
		if (event.altKey || event.ctrlKey || event.metaKey || target.closest('input, textarea, select, dialog'))
			return;
		if (event.key === '[') open(place?.before ?? null);
		else if (event.key === ']') open(place?.after ?? null);
		else if (event.key === 'c' && desk.canCarryOn) void carryOn();
		else if (event.key === 'a') void adopt();
		else if (event.key === 'p' && !standing?.aside) void putAside(true);
		else return;
		event.preventDefault();
	}
</script>

<svelte:window onkeydown={key} />

<div
	class="flex min-h-8 shrink-0 flex-wrap items-center gap-x-4 gap-y-0.5 border-b border-rule bg-wash px-4 py-1 text-[13px]"
	role="region"
	aria-label="How it stands"
	data-watch={reasons[0]?.code ?? 'quiet'}
>
	{#if place}
		<span class="flex items-baseline gap-2 whitespace-nowrap" data-place>
			<Button
				disabled={place.before === null}
				aria-label="The one before"
				title="The one before"
				onclick={() => open(place?.before ?? null)}><span class="keycap">[</span></Button
			>
			<span>{place.name}: {place.at} of {place.of}</span>
			<Button
				disabled={place.after === null}
				aria-label="The next one"
				title="The next one"
				onclick={() => open(place?.after ?? null)}><span class="keycap">]</span></Button
			>
		</span>
	{/if}
	<span class="min-w-0 flex-1 {standing?.aside ? 'text-ink-2' : ''}" data-standing>
		{#if desk.item.retiredAt !== null}
			<span class="text-ink-2">– retired</span>
		{:else if standing?.aside}
			– put aside by {standing.aside.by}, {moment(standing.aside.at)}{standing.aside.words
				? `, “${standing.aside.words}”`
				: ''}, until its next figure: {said[0] ?? 'nothing to look at'}
		{:else if said.length > 0}
			<span class="text-bad">◆ {said[0]}</span>
			{#if said.length > 1}
				<Button look="link" aria-expanded={unfolded} onclick={() => (unfolded = !unfolded)}
					>{unfolded ? 'less' : `and ${said.length - 1} more`}</Button
				>
				{#if unfolded}{#each said.slice(1) as more, i (i)}<span class="block">◆ {more}</span>{/each}{/if}
			{/if}
		{:else if desk.adopted}
			<span class="text-accent">● adopted: {desk.adopted.label}</span>
			{#if standing?.newest?.ranged}
				<span class="text-ink-2">
					{describePeriod(frequency, standing.newest.period)}
					{standing.newest.inside === null
						? 'outside its range'
						: `inside its ${Math.round(100 * standing.newest.inside)} % range`}
				</span>
			{/if}
		{/if}
		{#if done}<span class="ml-3 text-ink-2" role="status">Before: {done}.</span>{/if}
	</span>
	{#if desk.item.retiredAt === null}
		<span class="flex items-center gap-3 whitespace-nowrap">
			{#if desk.adopted}
				<Button
					look="offer"
					disabled={pressed || !desk.canCarryOn}
					title={desk.canCarryOn
						? `${desk.adopted.label} again, on what came in since; ${desk.item.plan.carry === 'keep' ? `constants kept. ${keptWarning(desk.adopted.candidate)}` : 'constants searched anew'}`
						: 'Nothing came in since it was adopted'}
					onclick={carryOn}>Carry on{next} <span class="keycap">c</span></Button
				>
			{/if}
			{#if flagged}
				<Button
					look="offer"
					disabled={pressed}
					title={PROPOSE_AGAIN}
					onclick={proposeAgain}
					data-propose-again>Propose again</Button
				>
			{/if}
			<Button
				look="offer"
				disabled={pressed}
				title="Adopts what is chosen in the line-up, as Ahead shows it"
				onclick={adopt}>Adopt{next} <span class="keycap">a</span></Button
			>
			{#if standing?.aside}
				<Button look="offer" disabled={pressed} onclick={() => putAside(false)}>Take it up again</Button>
			{:else if asking}
				<form
					class="flex items-center gap-2"
					onsubmit={(event) => {
						event.preventDefault();
						asking = false;
						void putAside(true);
					}}
				>
					<TextInput
						bind:value={words}
						bind:field
						look="line"
						maxlength={BOUNDS.reason}
						label="Why it is put aside"
						placeholder="why, if you like"
						class="w-40"
					/>
					<Button look="offer" type="submit" disabled={pressed}>Put aside{next}</Button>
				</form>
			{:else}
				<Button
					look="offer"
					disabled={pressed}
					title="Seen, until its next figure"
					onclick={() => {
						asking = true;
						queueMicrotask(() => field?.focus());
					}}>Put aside{next} <span class="keycap">p</span></Button
				>
			{/if}
		</span>
	{/if}
	{#if refusal}
		<div class="w-full text-bad" role="alert">
			{inMark(refusal)}
			{#if desk.between.length > 0}
				<Button size="xs" look="other" onclick={() => desk.putMineOnTop().then(() => (refusal = null))}
					>Show it with what came in</Button
				>
			{/if}
		</div>
	{/if}
</div>
