<script lang="ts">
	import type { Constant } from '$core/contract/candidate';
	import type { Candidate } from '$core/methods/registry';
	import { figure } from '../../base/format';
	import FigureInput from '../../kit/FigureInput.svelte';
	import Tick from '../../kit/Tick.svelte';
	import type { LineUpState } from '../state/line-up.svelte';

	interface Props {
		lineUp: LineUpState;
		candidate: Candidate;
		constants: readonly Constant[];
	}

	let { lineUp, candidate, constants }: Props = $props();

	function hold(name: string) {
		const { hold } = lineUp.limitsOf(candidate.id);
		lineUp.limit(candidate.id, {
			hold: hold.includes(name) ? hold.filter((other) => other !== name) : [...hold, name],
		});
	}

	function bound(constant: Constant, end: 0 | 1, value: number): string | undefined {
		const { bounds } = lineUp.limitsOf(candidate.id);
		const now = [...(bounds[constant.key] ?? constant.searched)] as [number, number];
		now[end] = value;
		if (now[0] > now[1]) return `The lowest ${constant.symbol} searched is not above the highest.`;
		lineUp.limit(candidate.id, { bounds: { ...bounds, [constant.key]: now } });
	}
</script>

<!-- What a search of the candidate may move, and how far. -->
<table class="mt-1.5 w-full border-t border-rule">
	<caption class="sr-only">What a search may move</caption>
	<thead>
		<tr class="text-[12px] text-ink-2">
			<th class="pt-0.5"><span class="sr-only">constant</span></th>
			<th class="text-left font-normal">fix at</th>
			<th class="text-right font-normal">search between</th>
		</tr>
	</thead>
	<tbody>
		{#each constants as constant (constant.key)}
			{@const limits = lineUp.limitsOf(candidate.id)}
			{@const [low, high] = limits.bounds[constant.key] ?? constant.searched}
			<tr class="border-b border-rule">
				<td class="w-5 py-0.5" title={constant.meaning}>{constant.symbol}</td>
				<td>
					<label class="flex items-center gap-1.5 text-ink-2"
						><Tick
							label="Fix {constant.name}"
							checked={limits.hold.includes(constant.key)}
							take={() => hold(constant.key)}
						/>
						{figure(lineUp.constantOf(candidate, constant), 2)}</label
					>
				</td>
				<td class="text-right whitespace-nowrap text-ink-2">
					{#each [low, high] as end, i (i)}
						{#if i === 1}<span class="px-0.5">and</span>{/if}
						<FigureInput
							label="{constant.name}, {i === 0 ? 'lowest' : 'highest'} searched"
							value={end}
							least={constant.bounds[0]}
							most={constant.bounds[1]}
							take={(value) => bound(constant, i as 0 | 1, value!)}
							class="typed h-5 w-9"
						/>
					{/each}
				</td>
			</tr>
		{/each}
	</tbody>
</table>
