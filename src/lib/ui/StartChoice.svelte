<script lang="ts">
	import type { CandidateInput, Method, StartRule } from '$core/methods/method';
	import { figure } from './format';
	import type { ItemState } from './item-state.svelte';

	interface Props {
		desk: ItemState;
		candidate: CandidateInput;
		method: Method;
	}

	let { desk, candidate, method }: Props = $props();

	const NAMES: Record<StartRule, string> = {
		first: 'the first actual',
		mean: 'a mean of the first',
		line: 'a line through the first',
		given: 'a figure given',
		optimised: 'a start searched along',
		'first-two': 'the first two',
		'first-cycle': 'the first cycle',
		decomposed: 'a decomposition',
	};
	const USUAL_SPAN = 6;

	const rule = $derived(candidate.start?.rule ?? method.starts[0]!);
	const start = $derived(desk.resultFor(candidate.id)?.start ?? null);

	function choose(next: StartRule) {
		const level = start?.level ?? desk.series.values.find((value) => value !== null) ?? 0;
		desk.set(candidate.id, {
			start:
				next === 'given'
					? { rule: next, level }
					: next === 'mean' || next === 'line'
						? { rule: next, k: Math.min(USUAL_SPAN, desk.series.values.length) }
						: { rule: next },
		});
	}

	function setNumber(key: 'k' | 'level', text: string) {
		const value = Number(text);
		if (
			text.trim() === '' ||
			!Number.isFinite(value) ||
			(key === 'k' && (value < 1 || !Number.isInteger(value)))
		)
			return;
		desk.set(candidate.id, { start: { ...candidate.start, rule, [key]: value } });
	}
</script>

<span class="flex shrink-0 items-baseline gap-1.5 whitespace-nowrap">
	<label class="flex items-baseline gap-1 text-ink-2">
		starts from
		<select
			class="h-6 [field-sizing:content] border-0 border-b border-edge bg-transparent py-0 pr-6 pl-0 text-[13px] text-ink"
			value={rule}
			onchange={(event) => choose(event.currentTarget.value as StartRule)}
		>
			{#each method.starts as name (name)}<option value={name}>{NAMES[name]}</option>{/each}
		</select>
	</label>
	{#if rule === 'mean' || rule === 'line'}
		<input
			type="number"
			min="1"
			class="figures h-6 w-12 border-0 border-b border-edge bg-transparent p-0 text-[13px]"
			aria-label="How many first periods"
			value={candidate.start?.k}
			onchange={(event) => setNumber('k', event.currentTarget.value)}
		/>
	{/if}
	{#if rule === 'given'}
		<input
			type="number"
			step="any"
			class="figures h-6 w-20 border-0 border-b border-edge bg-transparent p-0 text-[13px]"
			aria-label="Starting forecast"
			value={candidate.start?.level}
			onchange={(event) => setNumber('level', event.currentTarget.value)}
		/>
	{:else if start}
		<span class="figures text-[13px]">{figure(start.level, desk.decimals)}</span>
	{/if}
</span>
