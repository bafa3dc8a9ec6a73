<script lang="ts">
	import { untrack } from 'svelte';
	import { type People, type Person, type Role, ROLE_SAYS, ROLE_NAMES, ROLES } from '../../wire/access';
	import { me } from '../base/access';
	import { call } from '../base/call';
	import { Doing } from '../base/doing.svelte';
	import { moment } from '../base/format';
	import Button from '../kit/Button.svelte';
	import Choice from '../kit/Choice.svelte';
	import Notice from '../kit/Notice.svelte';
	import TextInput from '../kit/TextInput.svelte';
	import Tick from '../kit/Tick.svelte';
	import ShownOnce from './ShownOnce.svelte';

	let { known }: { known: People } = $props();

	let people = $state.raw(untrack(() => known.people));
	let demanded = $state(untrack(() => known.secondFactor));
	let name = $state('');
	let role = $state<Role>('work');
	let link = $state<{ says: string; text: string } | null>(null);
	const doing = new Doing();
	/** Whose access is about to end. */
	let leaving = $state<number | null>(null);

	const reload = async () => {
		people = (await call('GET /people', {})).people;
	};
	const shown = (whose: string, key: string) => ({
		says: `Give this link to ${whose}. It is good once, and for a day.`,
		text: `${location.origin}/invited#${key}`,
	});
	const invite = (event: SubmitEvent) => {
		event.preventDefault();
		void doing.run(async () => {
			const { key } = await call('POST /people', {}, { name: name.trim(), role });
			link = shown(name.trim(), key);
			name = '';
			await reload();
		});
	};
	const another = ({ id, name: whose }: Person) =>
		doing.run(async () => {
			link = shown(whose, (await call('POST /people/[id]/link', { id: String(id) })).key);
		});
	const give = ({ id }: Person, wanted: Role) =>
		doing
			.run(() => call('PATCH /people/[id]', { id: String(id) }, { role: wanted }).then(reload))
			.then(() => {
				// What was refused is shown as it is.
				people = [...people];
			});
	const end = ({ id }: Person) =>
		doing.run(async () => {
			await call('PATCH /people/[id]', { id: String(id) }, { left: true });
			leaving = null;
			await reload();
		});
	const demand = (wanted: boolean) =>
		doing.run(async () => {
			demanded = (await call('PUT /access', {}, { secondFactor: wanted })).secondFactor;
		});
</script>

<h1 class="text-lg font-semibold">People</h1>
{#if !me()?.signIn}
	<Notice tone="plain" class="mt-2"
		>Nobody signs in: Ventrel was started for one person on their own machine. Start it with
		VENTREL_SIGN_IN=on for several; people that are invited here can sign in then.</Notice
	>
{/if}
<dl class="mt-2 text-[13px] text-ink-2">
	{#each ROLES as each (each)}<div class="flex gap-2">
			<dt class="w-14">{each}</dt>
			<dd>{ROLE_SAYS[each]}</dd>
		</div>{/each}
</dl>
<form class="mt-4 flex flex-wrap items-end gap-3" onsubmit={invite}>
	<label class="grid w-64 gap-1"
		>Name <TextInput bind:value={name} maxlength={80} required autocomplete="off" data-person-name /></label
	>
	<label class="grid gap-1"
		>Role <Choice
			look="field"
			class="w-28"
			label="Role of the new person"
			value={role}
			names={ROLE_NAMES}
			of={ROLES}
			take={(each) => (role = each)}
		/></label
	>
	<Button look="main" type="submit" disabled={name.trim() === ''}>Invite</Button>
</form>
{#if link}<ShownOnce {...link} done={() => (link = null)} />{/if}
{#if doing.refusal}<Notice class="mt-2">{doing.refusal}</Notice>{/if}
{#if people.length === 0}
	<p class="mt-4 text-ink-2">
		Nobody was invited yet. Each person gets a link, by which they choose a password.
	</p>
{:else}
	<ul class="mt-4" data-people>
		{#each people as person (person.id)}
			{@const own = person.id === me()?.id}
			<li class="flex flex-wrap items-baseline gap-x-4 border-t border-rule py-1.5" data-person={person.name}>
				<span class="min-w-40 font-medium">{person.name}{own ? ' (you)' : ''}</span>
				<Choice
					label="Role of {person.name}"
					class="w-20"
					value={person.role}
					names={ROLE_NAMES}
					of={ROLES}
					take={(wanted) => give(person, wanted)}
				/>
				<span class="min-w-0 flex-1 truncate text-[13px] text-ink-2">
					{person.joined
						? `${person.secondFactor ? 'second factor on' : 'no second factor'}, ${person.used ? `last here ${moment(person.used)}` : 'not here yet'}`
						: `has not chosen a password yet; invited by ${person.by}, ${moment(person.at)}`}
				</span>
				{#if leaving === person.id}
					<span class="text-[13px]"
						>End the access of {person.name}? Sessions end at once; what they did stays on record.</span
					>
					<Button look="offer" onclick={() => end(person)}>end access</Button>
					<Button onclick={() => (leaving = null)}>cancel</Button>
				{:else}
					<Button
						onclick={() => another(person)}
						title="By it they choose a password again; their second factor is off then">new link</Button
					>
					{#if !own}<Button onclick={() => (leaving = person.id)}>end access…</Button>{/if}
				{/if}
			</li>
		{/each}
	</ul>
{/if}
<label class="mt-4 flex items-center gap-2 text-[13px]"
	><Tick checked={demanded} take={demand} /> Who manages needs a second factor</label
>
