<script lang="ts">
	import { goto } from '$app/navigation';
	import { untrack } from 'svelte';
	import {
		type About,
		HAPPENED,
		type Happened as Event,
		type HappenedAsked,
		type HappenedWindow,
	} from '../../wire/access';
	import { may } from '../base/access';
	import { call } from '../base/call';
	import { Doing } from '../base/doing.svelte';
	import { moment } from '../base/format';
	import Button from '../kit/Button.svelte';
	import Choice from '../kit/Choice.svelte';
	import Notice from '../kit/Notice.svelte';
	import { byWords, didWords, toWords } from './happened-words';

	let { asked, first }: { asked: HappenedAsked; first: HappenedWindow } = $props();

	let events = $state.raw(untrack(() => first.events));
	let next = $state(untrack(() => first.next));
	const doing = new Doing();

	const NAMES: Record<About | 'all', string> = {
		all: 'everything',
		figures: 'figures brought in and adjusted',
		forecasts: 'forecasts and sweeps',
		items: 'items renamed, planned, retired, hidden',
		access: 'sign-ins, people, tokens, settings',
		refused: 'what was refused',
	};
	const offered = $derived(
		(['all', ...HAPPENED] as const).filter(
			(about) => may('manage') || (about !== 'access' && about !== 'refused'),
		),
	);
	const people = $derived(
		Object.fromEntries([['0', 'everybody'], ...first.actors.map(({ id, name }) => [String(id), name])]),
	);

	const query = (change: { about?: About | null; by?: number | null; from?: string }) => {
		const { about, by, from } = { about: asked.about, by: asked.by, ...change };
		return { ...(about && { about }), ...(by && { by: String(by) }), ...(from && { from }) };
	};
	const show = (change: { about?: About | null; by?: number | null }) =>
		goto(`/happened?${new URLSearchParams(query(change))}`);

	const said = (event: Event) => [didWords(event), toWords(event)].filter(Boolean).join(' ');

	const more = () =>
		doing.run(async () => {
			const window = await call('GET /happened', {}, undefined, { query: query({ from: next! }) });
			events = [...events, ...window.events];
			next = window.next;
		});
</script>

<div class="flex min-h-0 w-full max-w-5xl flex-1 flex-col px-4 py-3">
	<h1 class="text-lg font-semibold">What happened</h1>
	<div class="mt-1 flex flex-wrap gap-x-6 text-[13px]">
		<span
			>Show <Choice
				label="What it is about"
				value={asked.about ?? 'all'}
				names={NAMES}
				of={offered}
				take={(about) => void show({ about: about === 'all' ? null : about })}
			/></span
		>
		<span
			>by <Choice
				label="Who did it"
				value={String(asked.by ?? 0)}
				names={people}
				of={['0', ...first.actors.map(({ id }) => String(id))]}
				take={(by) => void show({ by: by === '0' ? null : Number(by) })}
			/></span
		>
	</div>
	{#if events.length === 0}
		<p class="mt-8 text-ink-2">Nothing of this kind happened yet.</p>
	{:else}
		<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
		<div
			class="mt-3 min-h-0 flex-1 overflow-y-auto"
			tabindex="0"
			role="region"
			aria-label="What happened, the newest first"
		>
			<ul data-happened>
				{#each events as event, i (i)}
					<li class="grid grid-cols-[9.5rem_1fr] gap-x-4 border-t border-rule py-1">
						<span class="text-[13px] text-ink-2">{moment(event.at)}</span>
						<!-- In one line: spaces between are part of the sentence. -->
						<!-- prettier-ignore -->
						<span class="min-w-0"><span class="font-medium">{byWords(event)}</span> {#if event.sweep !== null}<a href="/sweeps/{event.sweep}" class="text-accent underline">{said(event)}</a>{:else if event.code !== null && event.items === 1}{didWords(event)} <a href="/items/{encodeURIComponent(event.code)}" class="text-accent underline">{event.code}</a>{:else}{said(event)}{/if}{#if event.words !== ''}<span class="text-ink-2">: {event.words}</span>{/if}</span>
					</li>
				{/each}
			</ul>
			{#if doing.refusal}<Notice class="mt-2">{doing.refusal}</Notice>{/if}
			{#if next}<p class="mt-3">
					<Button look="offer" disabled={doing.busy} onclick={more}>Show earlier</Button>
				</p>{/if}
		</div>
	{/if}
</div>
