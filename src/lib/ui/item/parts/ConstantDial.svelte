<script lang="ts">
	import type { Constant } from '$core/contract/candidate';
	import { type Candidate, searchAsked } from '$core/methods/registry';
	import Dial from '../../kit/Dial.svelte';
	import type { LineUpState } from '../state/line-up.svelte';

	interface Props {
		lineUp: LineUpState;
		candidate: Candidate;
		constant: Constant;
		/** What it is called where it cannot be seen. */
		label: string;
		narrow?: boolean;
	}

	let { lineUp, candidate, constant, label, narrow = false }: Props = $props();

	const optimise = $derived(searchAsked(candidate));
	/** Searched and not held: what it stands at was found. */
	const found = $derived(optimise !== undefined && optimise.hold?.[constant.key] === undefined);
</script>

<!-- A constant of a candidate, turned by hand. -->
<Dial
	{label}
	symbol={constant.symbol}
	value={lineUp.constantOf(candidate, constant)}
	min={constant.bounds[0]}
	max={constant.bounds[1]}
	step={0.01}
	decimals={2}
	{narrow}
	{found}
	onchange={(value) => lineUp.turn(candidate, { [constant.key]: value })}
	onlift={() => lineUp.lift()}
/>
