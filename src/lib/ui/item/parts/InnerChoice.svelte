<script lang="ts">
	import { type Candidate, methodOf, usualSettings } from '$core/methods/registry';
	import Choice from '../../kit/Choice.svelte';
	import type { LineUpState } from '../state/line-up.svelte';

	let { lineUp, candidate }: { lineUp: LineUpState; candidate: Extract<Candidate, { inner: unknown }> } =
		$props();

	const inside = $derived(methodOf(candidate.method).fields.find(({ inner }) => inner)!.inner!);
</script>

<Choice
	label="Inner method"
	value={candidate.inner.method}
	of={inside}
	names={(id) => methodOf(id).name}
	take={(id) => lineUp.put({ ...candidate, inner: usualSettings(methodOf(id)) } as Candidate)}
/>
