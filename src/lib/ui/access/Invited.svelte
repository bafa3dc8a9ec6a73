<script lang="ts">
	import { onMount } from 'svelte';
	import { call } from '../base/call';
	import { Doing, leaveFor } from '../base/doing.svelte';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';
	import NewPassword from './NewPassword.svelte';

	let key = $state<string | null>(null);
	let password = $state('');
	let same = $state(false);
	const doing = new Doing();

	onMount(take);

	/** The key is behind the #, which no server and no log is told of; nor does it stay in the address. */
	function take() {
		key = location.hash.slice(1);
		if (key !== '') doing.refusal = null;
		history.replaceState(history.state, '', location.pathname);
	}

	function choose(event: SubmitEvent) {
		event.preventDefault();
		void doing.run(async () => {
			await call('POST /invited', {}, { key: key!, password }, { proves: true });
			await leaveFor('/items');
		});
	}
</script>

<!-- Another link may be opened in the same tab. -->
<svelte:window onhashchange={take} />

<div class="mx-auto mt-24 w-full max-w-sm px-6">
	<h1 class="text-xl font-semibold">Choose your password</h1>
	{#if key === ''}
		<Notice class="mt-4">This address has no key of a link. Open the whole link that you were given.</Notice>
	{:else}
		<form class="mt-5 grid gap-3" onsubmit={choose}>
			<NewPassword bind:password bind:same />
			{#if doing.refusal}<Notice>{doing.refusal}</Notice>{/if}
			<p>
				<Button look="main" type="submit" disabled={doing.busy || !same || key === null}
					>Save and sign in</Button
				>
			</p>
		</form>
	{/if}
</div>
