<script lang="ts">
	import { untrack } from 'svelte';
	import { type Role, ROLE_NAMES, ROLES, type Token, TOKEN_DAYS } from '../../wire/access';
	import { call } from '../base/call';
	import { Doing } from '../base/doing.svelte';
	import { moment } from '../base/format';
	import Button from '../kit/Button.svelte';
	import Choice from '../kit/Choice.svelte';
	import FigureInput from '../kit/FigureInput.svelte';
	import Notice from '../kit/Notice.svelte';
	import TextInput from '../kit/TextInput.svelte';
	import ShownOnce from './ShownOnce.svelte';

	let { known }: { known: readonly Token[] } = $props();

	let tokens = $state.raw(untrack(() => known));
	let name = $state('');
	let role = $state<Role>('look');
	let days = $state(90);
	let made = $state<{ says: string; text: string } | null>(null);
	const doing = new Doing();

	const make = (event: SubmitEvent) => {
		event.preventDefault();
		void doing.run(async () => {
			const { token } = await call('POST /tokens', {}, { name: name.trim(), role, days });
			made = { says: `The token of ${name.trim()}, sent as “Authorization: Bearer …”.`, text: token };
			name = '';
			tokens = await call('GET /tokens', {});
		});
	};
	const revoke = ({ id }: Token) =>
		doing.run(async () => {
			tokens = await call('POST /tokens/[id]/revoked', { id: String(id) });
		});
</script>

<h2 class="mt-8 text-lg font-semibold">Tokens for programs</h2>
<p class="mt-1 text-[13px] text-ink-2">
	A program calls the <a href="/api" class="text-accent underline">interface</a> with a token, by its role. Tokens
	change no people, tokens or roles.
</p>
<form class="mt-3 flex flex-wrap items-end gap-3" onsubmit={make}>
	<label class="grid w-64 gap-1"
		>Name <TextInput
			bind:value={name}
			maxlength={80}
			required
			autocomplete="off"
			placeholder="Stock planning"
			data-token-name
		/></label
	>
	<label class="grid gap-1"
		>Role <Choice
			look="field"
			class="w-28"
			label="Role of the new token"
			value={role}
			names={ROLE_NAMES}
			of={ROLES}
			take={(each) => (role = each)}
		/></label
	>
	<label class="grid gap-1"
		>Days <FigureInput
			label="Days that it lasts"
			value={days}
			whole
			least={1}
			most={TOKEN_DAYS}
			take={(value) => (days = value ?? days)}
			class="field w-20"
		/></label
	>
	<Button look="main" type="submit" disabled={name.trim() === ''}>Make a token</Button>
</form>
{#if made}<ShownOnce {...made} done={() => (made = null)} />{/if}
{#if doing.refusal}<Notice class="mt-2">{doing.refusal}</Notice>{/if}
<ul class="mt-4" data-tokens>
	{#each tokens as token (token.id)}
		<li class="flex flex-wrap items-baseline gap-x-4 border-t border-rule py-1.5" data-token={token.name}>
			<span class="min-w-40 font-medium">{token.name}</span>
			<span>{token.role}</span>
			<span class="min-w-0 flex-1 truncate text-[13px] text-ink-2"
				>by {token.by}, ends {moment(token.ends)}, {token.used
					? `last used ${moment(token.used)}`
					: 'never used'}</span
			>
			<Button onclick={() => revoke(token)} title="It is no longer good, at once">revoke</Button>
		</li>
	{/each}
</ul>
