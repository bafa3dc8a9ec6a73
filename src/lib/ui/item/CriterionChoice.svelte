<script lang="ts">
	import { CRITERIA, type Criterion } from '$core/contract/criteria';
	import { criterionName } from '$core/search/criterion';
	import type { ItemState } from './item-state.svelte';

	let { desk, label }: { desk: ItemState; label: string } = $props();
</script>

<select
	class="h-6 [field-sizing:content] border-0 bg-transparent py-0 pr-6 pl-1 text-[13px] text-ink"
	aria-label={label}
	value={desk.criterion}
	onchange={(event) => (desk.criterion = event.currentTarget.value as Criterion)}
>
	{#each CRITERIA as name (name)}<option value={name}>{criterionName(name)}</option>{/each}
</select>
