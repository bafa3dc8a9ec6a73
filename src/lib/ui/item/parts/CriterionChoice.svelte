<script lang="ts">
	import Choice from '../../kit/Choice.svelte';
	import { CRITERIA } from '$core/contract/criteria';
	import { MEASURES } from '$core/accuracy/measures';
	import type { ItemState } from '../state/item-state.svelte';

	let { desk, label }: { desk: ItemState; label: string } = $props();
</script>

<Choice
	{label}
	value={desk.criterion}
	of={CRITERIA}
	names={(criterion) => MEASURES[criterion].name}
	take={(criterion) => (desk.criterion = criterion)}
/>
