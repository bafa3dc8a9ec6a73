<script lang="ts">
	import TextInput from '../kit/TextInput.svelte';
	import Tick from '../kit/Tick.svelte';
	import LongList from '../kit/LongList.svelte';
	import Button from '../kit/Button.svelte';
	import { spanOf } from '../../reading/read';
	import type { BringInState } from './bring-in-state.svelte';
	import { comparisonWords } from './compare';
	import Sparkline from '../kit/Sparkline.svelte';

	let { intake }: { intake: BringInState } = $props();

	const ROW = 38;
	const frequency = $derived(intake.reading!.frequency);
</script>

<div class="flex items-baseline gap-4 border-t border-rule py-1 text-[13px] text-ink-2">
	<span data-taken>{intake.takenItems.length} of {intake.incoming.length} items taken</span>
	<Button onclick={() => intake.skipAll(false)}>take all</Button>
	<Button onclick={() => intake.skipAll(true)}>take none</Button>
</div>
<LongList
	count={intake.incoming.length}
	row={ROW}
	key={(index) => intake.incoming[index]!.item.code}
	class="min-h-24 flex-1 border border-rule bg-panel text-[13px]"
	aria-label="Items of the table"
>
	{#snippet children(index, where)}
		{@const { item, code, name, stored, comparison, problem, taken } = intake.incoming[index]!}
		<div
			class="line absolute inset-x-0 border-b border-rule px-2 {intake.chosen?.item.code === item.code
				? 'bg-wash'
				: ''}"
			style={where}
			data-incoming={item.code}
		>
			<Tick
				label="Take {code}"
				checked={taken}
				disabled={problem !== null}
				take={(wanted) => intake.pick(item.code, { skipped: !wanted })}
			/>
			<TextInput
				look="cell"
				label="Code of {item.code}"
				value={code}
				onfocus={() => (intake.selected = item.code)}
				onchange={(event) => intake.pick(item.code, { code: event.currentTarget.value })}
			/>
			<TextInput
				look="cell"
				label="Name of {item.code}"
				value={name}
				onfocus={() => (intake.selected = item.code)}
				onchange={(event) => intake.pick(item.code, { name: event.currentTarget.value })}
			/>
			<button
				type="button"
				class="flex min-w-0 items-center gap-2 text-left"
				onclick={() => (intake.selected = item.code)}
			>
				<span class="shrink-0"><Sparkline values={item.values.slice(-60)} width={84} height={26} /></span>
				<span class="min-w-0 leading-4">
					{#if problem}
						<span class="block truncate text-bad" title={problem}>✕ {problem}</span>
					{:else}
						{@const words = comparisonWords(comparison, !stored, frequency)}
						<span class="block truncate {comparison.corrected.length > 0 ? 'text-warn' : ''}" title={words}
							>{comparison.corrected.length > 0 ? '◆ ' : ''}{words}</span
						>
					{/if}
					<span class="block truncate text-[12px] text-ink-2"
						>{spanOf(frequency, item)}{item.labels.some(Boolean)
							? ` · ${item.labels.filter(Boolean).join(' · ')}`
							: ''}{item.remarks.length > 0 ? `; ${item.remarks[0]}` : ''}</span
					>
				</span>
			</button>
		</div>
	{/snippet}
</LongList>

<style>
	.line {
		display: grid;
		grid-template-columns: 20px minmax(64px, 0.8fr) minmax(80px, 1.2fr) minmax(0, 3.4fr);
		gap: 8px;
		align-items: center;
	}
</style>
