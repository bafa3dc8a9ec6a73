<script lang="ts">
	import type { BroughtIn } from '../../wire/bring-in';
	import { figure } from '../base/format';
	import LongList from '../kit/LongList.svelte';
	import Afterwards from './Afterwards.svelte';

	/** What became of a table: each of its items, those with corrections first, and what to look at next. */
	let { brought }: { brought: readonly BroughtIn[] } = $props();

	const ROW = 26;
	const COLUMNS = 'minmax(110px, 260px) 90px 90px 90px';
	const total = (of: (item: BroughtIn) => number) => brought.reduce((sum, item) => sum + of(item), 0);
	const rows = $derived(
		brought.toSorted((a, b) => b.corrected - a.corrected || Number(b.created) - Number(a.created)),
	);
</script>

<section class="flex min-h-0 flex-col" aria-labelledby="brought-title">
	<h2 id="brought-title" class="pb-1 font-semibold">What came in</h2>
	<div class="border-t border-rule pt-2">
		<p data-brought>
			<span class="font-semibold">Brought in:</span>
			{figure(brought.length, 0)} items ({figure(
				total(({ created }) => Number(created)),
				0,
			)} new), {figure(
				total(({ added }) => added),
				0,
			)} figures added, {figure(
				total(({ corrected }) => corrected),
				0,
			)} corrected.
		</p>
		<Afterwards />
	</div>
	<div
		class="mt-3 grid gap-x-3 border-y border-rule py-1 text-[13px] text-ink-2"
		style:grid-template-columns={COLUMNS}
	>
		<span>item</span>
		<span class="text-right">figures added</span>
		<span class="text-right">corrected</span>
		<span class="text-right">the same</span>
	</div>
	<LongList count={rows.length} row={ROW} class="min-h-56 flex-1" aria-label="Items that came in">
		{#snippet children(index, where)}
			{@const { code, created, added, corrected, same } = rows[index]!}
			<div
				class="absolute right-0 left-0 grid items-center gap-x-3 border-b border-rule text-[13px]"
				style="{where}; grid-template-columns: {COLUMNS}"
			>
				<span class="truncate"
					><a
						class="underline decoration-rule hover:decoration-accent"
						href="/items/{encodeURIComponent(code)}">{code}</a
					>
					{#if created}<span class="text-ink-2">– new</span>{/if}</span
				>
				<span class="figures">{figure(added, 0)}</span>
				<span class="figures {corrected > 0 ? 'font-semibold' : ''}">{figure(corrected, 0)}</span>
				<span class="figures">{figure(same, 0)}</span>
			</div>
		{/snippet}
	</LongList>
</section>
