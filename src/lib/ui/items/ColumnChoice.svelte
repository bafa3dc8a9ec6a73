<script lang="ts">
	import { LIST_KEYS, listColumn } from '../../wire/list-columns';
	import Tick from '../kit/Tick.svelte';
	import { shownColumns } from './list-columns.svelte';
</script>

<fieldset class="flex w-full flex-wrap items-center gap-x-4 gap-y-1 text-[13px]" data-column-choice>
	<legend class="float-left mr-4 text-ink-2">Columns:</legend>
	{#each LIST_KEYS as key (key)}
		<label class="inline-flex items-center gap-1.5" title={listColumn(key).is}>
			<Tick checked={shownColumns.keys.includes(key)} take={(shown) => shownColumns.set(key, shown)} />
			{listColumn(key).name}
		</label>
	{/each}
</fieldset>
