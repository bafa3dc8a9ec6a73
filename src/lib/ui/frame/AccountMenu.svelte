<script lang="ts">
	import Dropdown from 'flowbite-svelte/Dropdown.svelte';
	import DropdownItem from 'flowbite-svelte/DropdownItem.svelte';
	import { may, me } from '../base/access';
	import { call } from '../base/call';
	import { leaveFor } from '../base/doing.svelte';
	import Button from '../kit/Button.svelte';

	/** Whose workspace this is, who looks at it, and what concerns them rather than items. */
	let { workspace }: { workspace: string } = $props();

	let open = $state(false);
	const who = $derived(me());
	const ITEM = 'block w-full px-3 py-1.5 text-left text-[13px] text-ink hover:bg-wash dark:text-ink';

	async function signOut() {
		await call('POST /sign-out', {}, undefined, { proves: true }).catch(() => undefined);
		await leaveFor('/sign-in');
	}
</script>

{#if who}
	<Button
		id="account-menu"
		class="ml-auto min-w-0 truncate"
		aria-haspopup="menu"
		aria-expanded={open}
		data-account>{who.kind === 'person' ? `${who.name} · ` : ''}{workspace} ▾</Button
	>
	<Dropdown
		simple
		triggeredBy="#account-menu"
		placement="bottom-end"
		bind:isOpen={open}
		class="z-20 w-60 divide-y-0 border border-edge bg-panel dark:bg-panel"
	>
		<li class="border-b border-rule px-3 py-1.5 text-[13px] text-ink-2">
			{who.kind === 'person'
				? `${who.name}, role “${who.role}”`
				: `Nobody signs in: ${who.name}, this machine`}
		</li>
		{#if who.kind === 'person'}<DropdownItem class={ITEM} href="/account" onclick={() => (open = false)}
				>Your account</DropdownItem
			>{/if}
		<DropdownItem class={ITEM} href="/happened" onclick={() => (open = false)}>What happened</DropdownItem>
		{#if may('manage')}<DropdownItem class={ITEM} href="/people" onclick={() => (open = false)}
				>People and tokens</DropdownItem
			>{/if}
		{#if may('manage')}<DropdownItem class={ITEM} href="/settings" onclick={() => (open = false)}
				>Settings</DropdownItem
			>{/if}
		<DropdownItem class={ITEM} href="/api" onclick={() => (open = false)}>Interface for programs</DropdownItem
		>
		{#if who.kind === 'person'}<DropdownItem class={ITEM} onclick={signOut}>Sign out</DropdownItem>{/if}
	</Dropdown>
{/if}
