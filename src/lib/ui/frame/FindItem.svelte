<script lang="ts">
	import { goto } from '$app/navigation';
	import type { Found } from '../../wire/list';
	import { Latest } from '../../browser-worker/latest';
	import { call } from '../base/call';
	import { figure } from '../base/format';
	import ItemName from '../kit/ItemName.svelte';
	import TextInput from '../kit/TextInput.svelte';
	import Key from '../kit/Key.svelte';

	let field: HTMLInputElement | undefined = $state();
	let typed = $state('');
	let found = $state.raw<Found | null>(null);
	let open = $state(false);
	let active = $state(0);

	const words = $derived(typed.trim());
	/** The items that are named, and behind them the list of all that fit. */
	const count = $derived(found ? found.items.length + (found.total > found.items.length ? 1 : 0) : 0);
	const finds = new Latest<string, Found>(
		(asked) => call('GET /find', {}, undefined, { query: { words: asked } }),
		(answer) => {
			// What was gone to stays chosen where it is still there: an answer may come after the key.
			const gone = active > 0 && found !== null;
			const [code, isAll] = [found?.items[active]?.code, active === found?.items.length];
			found = answer;
			if (!gone) active = 0;
			else if (isAll) active = answer.total > answer.items.length ? answer.items.length : 0;
			else
				active = Math.max(
					0,
					answer.items.findIndex((item) => item.code === code),
				);
		},
		// Without the server the list of all that fit still says so.
		() => (found = null),
	);

	export function focus() {
		field?.focus();
		field?.select();
	}

	function type() {
		open = words !== '';
		if (open) finds.put(words);
		else found = null;
	}

	function choose(at: number) {
		const item = found?.items[at];
		const address = item
			? `/items/${encodeURIComponent(item.code)}`
			: `/items?find=${encodeURIComponent(words)}`;
		typed = '';
		found = null;
		open = false;
		field?.blur();
		void goto(address);
	}

	function key(event: KeyboardEvent) {
		if (event.key === 'Escape' && open) open = false;
		else if (event.key === 'ArrowDown' && count > 0) active = (active + 1) % count;
		else if (event.key === 'ArrowUp' && count > 0) active = (active + count - 1) % count;
		else return;
		event.preventDefault();
		// The list below has arrows of its own.
		event.stopPropagation();
	}

	async function enter(event: SubmitEvent) {
		event.preventDefault();
		if (words === '') return;
		// Pressed before the answer is there, it is of what was typed.
		await finds.settled();
		choose(active);
	}
</script>

<form
	onsubmit={enter}
	role="search"
	class="relative"
	onfocusout={(event) => {
		if (!event.currentTarget.contains(event.relatedTarget as Node | null)) open = false;
	}}
>
	<TextInput
		bind:field
		bind:value={typed}
		type="search"
		label="Find an item"
		placeholder="Find an item"
		class="h-7 w-52! pr-7"
		role="combobox"
		aria-expanded={open && found !== null}
		aria-controls="found-items"
		aria-autocomplete="list"
		aria-activedescendant={open && count > 0 ? `found-${active}` : undefined}
		autocomplete="off"
		oninput={type}
		onfocus={type}
		onkeydown={key}
	/>
	<span class="pointer-events-none absolute top-[5px] right-1.5"><Key>/</Key></span>
	{#if open && found}
		<ul
			id="found-items"
			role="listbox"
			aria-label="Items found"
			class="absolute top-8 right-0 z-40 w-[26rem] rounded-md border border-edge bg-panel py-1 text-[13px] shadow-lg"
		>
			{#each found.items as { code, name, labels, retired }, at (code)}
				<li
					id="found-{at}"
					role="option"
					aria-selected={at === active}
					class="flex cursor-pointer items-baseline gap-2 px-3 py-1 {at === active ? 'bg-wash' : ''}"
					onpointermove={() => (active = at)}
					onpointerdown={(event) => event.preventDefault()}
					onclick={() => choose(at)}
					onkeydown={undefined}
				>
					<span class="min-w-0 truncate font-medium"><ItemName {code} {name} /></span>
					<span class="ml-auto max-w-[45%] shrink-0 truncate text-[12px] text-ink-2"
						>{retired ? 'retired' : labels.map(([, label]) => label).join(' · ')}</span
					>
				</li>
			{/each}
			{#if found.total === 0}
				<li class="px-3 py-1 text-ink-2" role="option" aria-selected="false" aria-disabled="true">
					No item has “{words}” in its code, name or labels.
				</li>
			{:else if found.total > found.items.length}
				<li
					id="found-{found.items.length}"
					role="option"
					aria-selected={active === found.items.length}
					class="cursor-pointer border-t border-rule px-3 py-1 text-accent {active === found.items.length
						? 'bg-wash'
						: ''}"
					onpointermove={() => (active = found!.items.length)}
					onpointerdown={(event) => event.preventDefault()}
					onclick={() => choose(found!.items.length)}
					onkeydown={undefined}
				>
					all {figure(found.total, 0)} in the list
				</li>
			{/if}
		</ul>
	{/if}
</form>
