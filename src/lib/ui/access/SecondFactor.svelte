<script lang="ts">
	import { call } from '../base/call';
	import { Doing } from '../base/doing.svelte';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';
	import TextInput from '../kit/TextInput.svelte';

	let { on, changed }: { on: boolean; changed: () => unknown } = $props();

	let proposed = $state.raw<{ secret: string; address: string; picture: boolean[][] } | null>(null);
	let code = $state('');
	const doing = new Doing();

	const propose = () =>
		doing.run(async () => {
			const made = await call('POST /me/second-factor', {});
			const { encode } = await import('uqr');
			proposed = { ...made, picture: encode(made.address).data };
		});
	const switchOn = (event: SubmitEvent) => {
		event.preventDefault();
		void doing.run(async () => {
			await call('PUT /me/second-factor', {}, { secret: proposed!.secret, code: code.replace(/\s/g, '') });
			[proposed, code] = [null, ''];
			await changed();
		});
	};
	const switchOff = () =>
		doing.run(async () => {
			await call('POST /me/second-factor/off', {});
			await changed();
		});
	const path = $derived(
		(proposed?.picture ?? [])
			.flatMap((row, y) => row.map((dark, x) => (dark ? `M${x} ${y}h1v1h-1z` : '')))
			.join(''),
	);
</script>

{#if on}
	<p class="mt-1">It is on: signing in asks for a code of your device.</p>
	<p class="mt-2"><Button look="other" disabled={doing.busy} onclick={switchOff}>Switch it off</Button></p>
{:else if proposed}
	<form class="mt-2 flex gap-6" onsubmit={switchOn}>
		<svg
			viewBox="0 0 {proposed.picture.length} {proposed.picture.length}"
			class="on-paper size-40 shrink-0 bg-white text-ink"
			role="img"
			aria-label="The secret as a picture for an app"><path d={path} fill="currentColor" /></svg
		>
		<div class="grid content-start gap-2">
			<p>Scan this with an app for time-based codes, or type its secret there:</p>
			<p><code data-secret>{proposed.secret.replace(/(.{4})(?=.)/g, '$1 ')}</code></p>
			<label class="grid w-40 gap-1"
				>Code that it shows <TextInput
					bind:value={code}
					inputmode="numeric"
					autocomplete="one-time-code"
					required
					data-code
				/></label
			>
			<p class="flex gap-3">
				<Button look="main" type="submit" disabled={doing.busy}>Switch it on</Button>
				<Button look="other" onclick={() => (proposed = null)}>Cancel</Button>
			</p>
		</div>
	</form>
{:else}
	<p class="mt-1">
		It is off. Switched on, signing in asks for a code of your device as well, so that a password alone is not
		enough.
	</p>
	<p class="mt-2"><Button look="other" disabled={doing.busy} onclick={propose}>Switch it on…</Button></p>
{/if}
{#if doing.refusal}<Notice class="mt-2">{doing.refusal}</Notice>{/if}
