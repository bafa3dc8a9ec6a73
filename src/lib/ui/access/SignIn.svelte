<script lang="ts">
	import { call } from '../base/call';
	import { Doing, leaveFor } from '../base/doing.svelte';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';
	import TextInput from '../kit/TextInput.svelte';

	/** @prop to the page that was asked for; @prop anybody whether somebody could sign in */
	let { to, anybody }: { to: string; anybody: boolean } = $props();

	let name = $state('');
	let password = $state('');
	let code = $state('');
	const doing = new Doing();

	function signIn(event: SubmitEvent) {
		event.preventDefault();
		void doing.run(async () => {
			await call('POST /sign-in', {}, { name, password, ...(code !== '' && { code }) }, { proves: true });
			await leaveFor(to);
		});
	}
</script>

<div class="mx-auto mt-24 w-full max-w-sm px-6">
	<h1 class="text-xl font-semibold">Sign in to Ventrel</h1>
	{#if anybody}
		<form class="mt-5 grid gap-3" onsubmit={signIn}>
			<label class="grid gap-1"
				>Name <TextInput bind:value={name} autocomplete="username" required autofocus maxlength={80} /></label
			>
			<label class="grid gap-1"
				>Password <TextInput
					type="password"
					bind:value={password}
					autocomplete="current-password"
					required
				/></label
			>
			<label class="grid gap-1"
				><span>Code <span class="text-ink-2">of your second factor, if it is on</span></span>
				<TextInput bind:value={code} inputmode="numeric" autocomplete="one-time-code" maxlength={8} /></label
			>
			{#if doing.refusal}<Notice>{doing.refusal}</Notice>{/if}
			<p><Button look="main" type="submit" disabled={doing.busy}>Sign in</Button></p>
		</form>
		<p class="mt-6 text-[13px] text-ink-2">
			No password, or none that you remember? Someone who manages makes you a link for a new one.
		</p>
	{:else}
		<p class="mt-4">Nobody can sign in yet. On the machine that serves Ventrel, invite the first person:</p>
		<pre class="mt-2 border-l-[3px] border-edge pl-3"><code
				>npm run person -- add "Your name" --role manage</code
			></pre>
		<p class="mt-2">It prints a link by which that person chooses a password.</p>
	{/if}
</div>
