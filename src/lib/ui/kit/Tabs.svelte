<script lang="ts" generics="Id extends string">
	interface Props {
		label: string;
		tabs: readonly { id: Id; name: string }[];
		at: Id;
		/** Id of the element that shows what is chosen; its tabs are `tab-` with their ids. */
		panel: string;
	}

	let { label, tabs, at = $bindable(), panel }: Props = $props();

	/** As the pattern of tabs has it: one of them takes the focus, arrows go around. */
	function walk(event: KeyboardEvent) {
		const place = tabs.findIndex(({ id }) => id === at);
		const moves: Record<string, number> = {
			ArrowRight: place + 1,
			ArrowLeft: place - 1 + tabs.length,
			Home: 0,
			End: tabs.length - 1,
		};
		const to = moves[event.key];
		if (to === undefined) return;
		event.preventDefault();
		event.stopPropagation();
		at = tabs[to % tabs.length]!.id;
		document.getElementById(`tab-${at}`)?.focus();
	}
</script>

<div role="tablist" aria-label={label} class="flex flex-wrap gap-x-6 border-b border-rule px-4 pt-2">
	{#each tabs as { id, name } (id)}
		<button
			type="button"
			role="tab"
			id="tab-{id}"
			aria-selected={at === id}
			aria-controls={panel}
			tabindex={at === id ? 0 : -1}
			class="-mb-px border-b-2 pb-1.5 {at === id
				? 'border-accent font-semibold'
				: 'border-transparent text-ink-2 hover:text-ink'}"
			onclick={() => (at = id)}
			onkeydown={walk}>{name}</button
		>
	{/each}
</div>
