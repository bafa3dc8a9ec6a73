<script lang="ts">
	import type { NewestSaid } from '$core/words/status';
	import { Doing } from '../base/doing.svelte';
	import { figure } from '../base/format';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';
	import type { ItemRow } from '../../wire/list';
	import type { EnteredFigures, Pasted } from './entered-figures.svelte';

	interface Props {
		entered: EnteredFigures;
		/** How the newest period of its frequency stands; null while it is not known. */
		newest: NewestSaid | null;
		/** What became of what was pasted last. */
		pasted: Pasted | null;
		/** All rows that are listed. */
		rows: () => Promise<ItemRow[]>;
		/** It was brought in. */
		done: (said: string) => void;
		close: () => void;
	}
	let { entered, newest, pasted, rows, done, close }: Props = $props();
	/** Codes that are shown of those that lack a figure. */
	const SHOWN = 60;

	const doing = new Doing();
	/** Items that lack a figure, once they are asked for. */
	let missing = $state.raw<ItemRow[] | null>(null);
	const without = $derived(
		newest === null
			? null
			: Math.max(
					0,
					newest.items -
						(newest.period === entered.period ? newest.have : entered.brought) -
						entered.figures.size,
				),
	);
	const figures = (count: number) => `${figure(count, 0)} ${count === 1 ? 'figure' : 'figures'}`;

	const list = () =>
		doing.run(async () => {
			missing = missing
				? null
				: (await rows()).filter((row) => entered.canTake(row) && !entered.figures.has(row.code));
		});

	const bringIn = () =>
		doing.run(async () => {
			const { name } = entered;
			const brought = await entered.bringIn();
			missing = null;
			done(`${figures(brought.length)} of ${name} brought in`);
		});
</script>

<div
	class="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-y border-rule bg-panel px-4 py-1.5 text-[13px]"
	data-entry
>
	<span class="flex items-baseline gap-2">
		<Button aria-label="One period earlier" onclick={() => entered.move(-1)}>‹</Button>
		<b data-entry-period>{entered.name}</b>
		<Button aria-label="One period later" onclick={() => entered.move(1)}>›</Button>
	</span>
	<span class="text-ink-2" data-entry-count
		>{figures(entered.figures.size)} entered{without === null
			? ''
			: without === 0
				? ', no item lacks one'
				: `, ${figure(without, 0)} ${without === 1 ? 'item has' : 'items have'} none`}</span
	>
	{#if without !== null && without > 0}
		<Button aria-expanded={missing !== null} onclick={() => void list()}>which?</Button>
	{/if}
	<span class="text-ink-2 max-wide:hidden"
		>Type down the last column: Enter goes to the next item. Pasted figures go down, codes with figures find
		their items.</span
	>
	<span class="ml-auto flex items-baseline gap-4">
		<Button
			look="main"
			size="xs"
			disabled={entered.figures.size === 0 || entered.sending}
			onclick={() => void bringIn()}
			>{entered.sending ? 'Bringing in…' : `Bring in ${figures(entered.figures.size)}`}</Button
		>
		<Button onclick={close}>close</Button>
	</span>
	{#if pasted}
		<p class="w-full" role="status" data-entry-pasted>
			{#if pasted.problem}<span class="text-bad">{pasted.problem}</span>{:else}{figures(pasted.taken)} taken.{/if}
			{#if pasted.unknown.length > 0}<span class="text-bad"
					>Not in the list: {pasted.unknown.slice(0, 6).join(', ')}{pasted.unknown.length > 6
						? ` and ${pasted.unknown.length - 6} more`
						: ''}.</span
				>{/if}
		</p>
	{/if}
	{#if missing}
		<p class="max-h-24 w-full overflow-y-auto" data-entry-missing>
			<span class="text-ink-2">Without {entered.name}:</span>
			{#each missing.slice(0, SHOWN) as { code, name } (code)}
				<a class="mr-3 inline-block" href="/items/{encodeURIComponent(code)}?view=demand" title={name}
					>{code}</a
				>
			{/each}
			{missing.length > SHOWN ? `and ${figure(missing.length - SHOWN, 0)} more` : ''}
		</p>
	{/if}
	{#if doing.refusal}<Notice class="w-full">{doing.refusal}</Notice>{/if}
</div>
