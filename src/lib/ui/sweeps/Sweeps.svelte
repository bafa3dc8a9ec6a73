<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { inMark } from '../../reader.svelte';
	import type { Sweep } from '../../wire/sweeps';
	import { moment } from '../base/format';
	import { LiveSweeps } from './live.svelte';
	import SweepState from './SweepState.svelte';
	import { sweepKind } from '../../wire/sweep-kinds';
	import { aboutWords, ofWords } from './words';

	let { sweeps: known }: { sweeps: readonly Sweep[] } = $props();

	const live = untrack(() => new LiveSweeps(known));
	onMount(() => live.listen());
</script>

<div class="flex w-full max-w-5xl flex-col px-4 py-3">
	<h1 class="text-lg font-semibold">Sweeps</h1>
	<p class="mt-1 text-ink-2">
		What is done to many items at once. They go on while you work, and are there when you come back.
	</p>
	{#if live.all.length === 0}
		<p class="mt-8">
			No sweep yet. Select items in the <a href="/items" class="text-accent underline">list</a>, or all of
			them; then propose for each, update their forecasts, or try one item’s line-up on them.
		</p>
	{:else}
		<ul class="mt-3">
			{#each live.all as sweep (sweep.id)}
				{@const about = aboutWords(sweep)}
				<li
					class="flex flex-wrap items-baseline gap-x-4 gap-y-0.5 border-t border-rule py-2"
					data-sweep={sweep.id}
				>
					<a href="/sweeps/{sweep.id}" class="min-w-0 font-medium text-accent underline"
						>{sweepKind(sweep.kind).name}</a
					>
					<span class="min-w-0 truncate">{ofWords(sweep)}</span>
					<span class="text-[13px] text-ink-2">{sweep.by}, {moment(sweep.at)}</span>
					<span class="ml-auto text-[13px]"
						><SweepState {sweep} worker={live.worker} put={(each) => live.put(each)} /></span
					>
					{#if about}<span class="w-full truncate text-[13px] text-ink-2">{inMark(about)}</span>{/if}
				</li>
			{/each}
		</ul>
	{/if}
</div>
