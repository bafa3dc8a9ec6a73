<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import { untrack } from 'svelte';
	import { ROLE_SAYS, type Session } from '../../wire/access';
	import { me } from '../base/access';
	import { call } from '../base/call';
	import { Doing } from '../base/doing.svelte';
	import { moment } from '../base/format';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';
	import TextInput from '../kit/TextInput.svelte';
	import NewPassword from './NewPassword.svelte';
	import SecondFactor from './SecondFactor.svelte';

	let { sessions: known }: { sessions: readonly Session[] } = $props();

	let sessions = $state.raw(untrack(() => known));
	let current = $state('');
	let password = $state('');
	let same = $state(false);
	let said = $state<string | null>(null);
	const changing = new Doing();
	const ending = new Doing();
	const who = $derived(me()!);

	function changePassword(event: SubmitEvent) {
		event.preventDefault();
		said = null;
		void changing.run(async () => {
			await call('PUT /me/password', {}, { current, password });
			[current, password] = ['', ''];
			said = 'The password is changed. Your other sessions have ended.';
			sessions = await call('GET /sessions', {});
		});
	}

	const end = (id: number) =>
		ending.run(async () => {
			sessions = await call('POST /sessions/[id]/ended', { id: String(id) }, undefined);
		});
</script>

<div class="w-full max-w-2xl px-4 py-3">
	<h1 class="text-lg font-semibold">{who.name}</h1>
	<p class="mt-1 text-ink-2">Role “{who.role}”: {ROLE_SAYS[who.role]}.</p>
	{#if who.secondFactorWanted}<Notice tone="warn" class="mt-3"
			>Managing needs a second factor. Until you switch it on here, your role is “work”.</Notice
		>{/if}

	<section class="mt-6 border-t border-rule pt-3" aria-label="Second factor">
		<h2 class="font-semibold">Second factor</h2>
		<SecondFactor on={who.secondFactor} changed={() => invalidateAll()} />
	</section>

	<section class="mt-6 border-t border-rule pt-3" aria-label="Password">
		<h2 class="font-semibold">Password</h2>
		<form class="mt-2 grid max-w-sm gap-3" onsubmit={changePassword}>
			<label class="grid gap-1"
				>Password now <TextInput
					type="password"
					bind:value={current}
					autocomplete="current-password"
					required
					data-current
				/></label
			>
			<NewPassword bind:password bind:same />
			{#if changing.refusal}<Notice>{changing.refusal}</Notice>{/if}
			<p class="flex items-baseline gap-4">
				<Button look="other" type="submit" disabled={changing.busy || !same || current === ''}
					>Change the password</Button
				>
				<span role="status" class="text-[13px] text-ink-2">{said}</span>
			</p>
		</form>
	</section>

	<section class="mt-6 border-t border-rule pt-3" aria-label="Sessions">
		<h2 class="font-semibold">Where you are signed in</h2>
		<p class="text-[13px] text-ink-2">
			A session ends after 12 hours without use, and after 14 days in any case.
		</p>
		{#if ending.refusal}<Notice class="mt-2">{ending.refusal}</Notice>{/if}
		<ul class="mt-2" data-sessions>
			{#each sessions as { id, browser, at, used, own } (id)}
				<li class="flex items-baseline gap-4 border-t border-rule py-1.5">
					<span class="min-w-0 flex-1 truncate">{browser}{own ? ', this one' : ''}</span>
					<span class="text-[13px] text-ink-2">since {moment(at)}, last used {moment(used)}</span>
					{#if !own}<Button
							disabled={ending.busy}
							onclick={() => end(id)}
							aria-label="End the session of {browser}">end</Button
						>{/if}
				</li>
			{/each}
		</ul>
	</section>
</div>
