<script lang="ts">
	import Choice from '../../kit/Choice.svelte';
	import { CRITERIA } from '$core/contract/criteria';
	import { criterionName } from '$core/search/criterion';
	import type { ItemState } from '../state/item-state.svelte';

	let { desk, label }: { desk: ItemState; label: string } = $props();
</script>

<Choice
	{label}
	value={desk.criterion}
	of={CRITERIA}
	names={criterionName}
	take={(criterion) => (desk.criterion = criterion)}
/>
