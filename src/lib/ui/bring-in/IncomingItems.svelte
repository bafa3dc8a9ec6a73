<script lang="ts">
	import { spanOf } from '../../reading/read';
	import type { BringInState } from './bring-in-state.svelte';
	import { comparisonWords } from './compare';
	import Sparkline from '../kit/Sparkline.svelte';

	let { desk }: { desk: BringInState } = $props();

	const ROW = 38;
	const SPARE = 6;
	let scrolled = $state(0);
	let height = $state(300);
	const from = $derived(Math.max(0, Math.floor(scrolled / ROW) - SPARE));
	const visible = $derived(desk.incoming.slice(from, Math.ceil((scrolled + height) / ROW) + SPARE));
	const frequency = $derived(desk.reading!.frequency);
</script>

<div class="flex items-baseline gap-4 border-t border-rule py-1 text-[13px] text-ink-2">
	<span data-taken>{desk.takenItems.length} of {desk.incoming.length} items taken</span>
	<button type="button" class="quiet" onclick={() => desk.skipAll(false)}>take all</button>
	<button type="button" class="quiet" onclick={() => desk.skipAll(true)}>take none</button>
</div>
<!-- svelte-ignore a11y_no_noninteractive_tabindex (scrolled with the keyboard) -->
<div
	class="min-h-24 flex-1 overflow-y-auto border border-rule bg-panel text-[13px]"
	tabindex="0"
	role="region"
	aria-label="Items of the table"
	bind:clientHeight={height}
	onscroll={(event) => (scrolled = event.currentTarget.scrollTop)}
>
	<div class="relative" style:height="{desk.incoming.length * ROW}px">
		{#each visible as { item, code, name, stored, comparison, problem, taken }, i (item.code)}
			<div
				class="line absolute inset-x-0 border-b border-rule px-2 {desk.chosen?.item.code === item.code
					? 'bg-wash'
					: ''}"
				style:top="{(from + i) * ROW}px"
				style:height="{ROW}px"
				data-incoming={item.code}
			>
				<input
					type="checkbox"
					class="rounded-sm border-edge text-accent"
					aria-label="Take {code}"
					checked={taken}
					disabled={problem !== null}
					onchange={(event) => desk.pick(item.code, { skipped: !event.currentTarget.checked })}
				/>
				<input
					class="h-7 w-full rounded-sm border border-transparent bg-transparent px-1 py-0 text-[13px] hover:border-edge focus:border-edge"
					aria-label="Code of {item.code}"
					value={code}
					onfocus={() => (desk.selected = item.code)}
					onchange={(event) => desk.pick(item.code, { code: event.currentTarget.value })}
				/>
				<input
					class="h-7 w-full rounded-sm border border-transparent bg-transparent px-1 py-0 text-[13px] hover:border-edge focus:border-edge"
					aria-label="Name of {item.code}"
					value={name}
					onfocus={() => (desk.selected = item.code)}
					onchange={(event) => desk.pick(item.code, { name: event.currentTarget.value })}
				/>
				<button
					type="button"
					class="flex min-w-0 items-center gap-2 text-left"
					onclick={() => (desk.selected = item.code)}
				>
					<Sparkline values={item.values.slice(-60)} width={84} height={26} />
					<span class="min-w-0 leading-4">
						{#if problem}
							<span class="block truncate text-bad" title={problem}>✕ {problem}</span>
						{:else}
							<span class="block truncate {comparison.corrected.length > 0 ? 'text-warn' : ''}"
								>{comparison.corrected.length > 0 ? '◆ ' : ''}{comparisonWords(
									comparison,
									!stored,
									frequency,
								)}</span
							>
						{/if}
						<span class="block truncate text-[12px] text-ink-2"
							>{spanOf(frequency, item)}{item.remarks.length > 0 ? `; ${item.remarks[0]}` : ''}</span
						>
					</span>
				</button>
			</div>
		{/each}
	</div>
</div>

<style>
	.line {
		display: grid;
		grid-template-columns: 20px minmax(64px, 0.8fr) minmax(80px, 1.2fr) minmax(0, 3.4fr);
		gap: 8px;
		align-items: center;
	}
</style>
