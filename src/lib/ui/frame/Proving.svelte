<script lang="ts">
	import { onMount } from 'svelte';
	import Modal from 'flowbite-svelte/Modal.svelte';
	import { me } from '../base/access';
	import { call } from '../base/call';
	import { Doing } from '../base/doing.svelte';
	import { onProofWanted, type Proof } from '../base/proving';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';
	import TextInput from '../kit/TextInput.svelte';

	/** Asks for name and password where a session has ended, and for the password before access is changed; the page waits behind it. */
	let wanted = $state<Proof | null>(null);
	let open = $state(false);
	let password = $state('');
	let code = $state('');
	let name = $state('');
	const doing = new Doing();
	let answer: (given: boolean) => void = () => undefined;

	onMount(() =>
		onProofWanted(
			(what) =>
				new Promise((given) => {
					[wanted, name, password, code] = [what, me()?.name ?? '', '', ''];
					doing.refusal = null;
					open = true;
					answer = (yes) => {
						answer = () => undefined;
						open = false;
						given(yes);
					};
				}),
		),
	);
	$effect(() => {
		if (!open) answer(false);
	});

	function prove(event: SubmitEvent) {
		event.preventDefault();
		void doing.run(async () => {
			const given = { password, ...(code !== '' && { code }) };
			if (wanted === 'password') await call('POST /me/again', {}, given, { proves: true });
			else {
				const before = me();
				const now = await call('POST /sign-in', {}, { name, ...given }, { proves: true });
				// What stands on the page may not be for somebody else.
				if (before && (before.id !== now.id || before.role !== now.role)) return location.reload();
			}
			answer(true);
		});
	}
</script>

<Modal bind:open size="sm">
	{#snippet header()}<h3 class="text-base font-semibold text-ink">
			{wanted === 'password' ? 'Your password again' : 'Your session has ended'}
		</h3>{/snippet}
	<form class="text-[13px] text-ink" onsubmit={prove} data-proof={wanted}>
		<p>
			{wanted === 'password'
				? 'This changes who has access, and your password was last given over 10 minutes ago.'
				: 'Sign in again, and go on where you were. Nothing on this page is lost.'}
		</p>
		<div class="mt-3 grid grid-cols-[6rem_1fr] items-center gap-x-3 gap-y-2">
			{#if wanted === 'sign in'}
				<label for="proof-name">Name</label>
				<TextInput id="proof-name" bind:value={name} autocomplete="username" required />
			{/if}
			<label for="proof-password">Password</label>
			<TextInput
				id="proof-password"
				type="password"
				bind:value={password}
				autocomplete="current-password"
				required
			/>
			<label for="proof-code">Code</label>
			<TextInput
				id="proof-code"
				bind:value={code}
				inputmode="numeric"
				autocomplete="one-time-code"
				placeholder="of your second factor, if it is on"
			/>
		</div>
		{#if doing.refusal}<Notice class="mt-3">{doing.refusal}</Notice>{/if}
		<p class="mt-4 flex gap-3">
			<Button look="main" type="submit" disabled={doing.busy}
				>{wanted === 'password' ? 'Go on' : 'Sign in'}</Button
			>
			<Button look="other" onclick={() => answer(false)}>Cancel</Button>
		</p>
	</form>
</Modal>
