<script lang="ts">
	import Choice from '../../kit/Choice.svelte';
	import { CRITERIA } from '$core/contract/criteria';
	import { MEASURES } from '$core/accuracy/measures';
	import type { LineUpState } from '../state/line-up.svelte';

	let { lineUp, label }: { lineUp: LineUpState; label: string } = $props();
</script>

<Choice
	{label}
	value={lineUp.criterion}
	of={CRITERIA}
	names={(criterion) => MEASURES[criterion].name}
	take={(criterion) => (lineUp.criterion = criterion)}
/>
