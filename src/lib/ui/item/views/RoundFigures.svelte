<script lang="ts">
	import { BOUNDS } from '$core/bounds';
	import Choice from '../../kit/Choice.svelte';
	import FigureInput from '../../kit/FigureInput.svelte';
	import type { HandedOver } from '../state/handed-over.svelte';

	let { handed }: { handed: HandedOver } = $props();

	const rounding = $derived(handed.rounding);
</script>

<div
	class="flex shrink-0 flex-wrap items-baseline gap-x-4 gap-y-1 border-y border-rule bg-wash px-4 py-1.5 text-[13px]"
	role="group"
	aria-label="Rounding"
>
	<label class="whitespace-nowrap">
		to whole packs of <FigureInput
			label="Units in a pack"
			value={rounding.pack}
			empties
			least={1e-9}
			most={BOUNDS.figure}
			take={(pack) => (handed.rounding = { ...rounding, pack })}
			class="typed w-14"
		/>
	</label>
	<Choice
		label="Which way"
		value={rounding.way}
		names={{ nearest: 'the nearest', up: 'up' }}
		take={(way) => (handed.rounding = { ...rounding, way })}
	/>
	<label class="whitespace-nowrap">
		never below <FigureInput
			label="Never below"
			value={rounding.floor}
			empties
			take={(floor) => (handed.rounding = { ...rounding, floor })}
			class="typed w-14"
		/>
	</label>
	<span class="text-ink-2">1 for whole units; empty for none. Changes by hand are rounded too.</span>
</div>
