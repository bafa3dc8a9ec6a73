<script lang="ts">
	import { BOUNDS } from '$core/bounds';
	import { CARRIES } from '$core/grading/reasons';
	import type { GapRule } from '$core/series/gaps';
	import { RULE_WORDS } from '$core/words/layers';
	import type { NamedItems, Overview, Several } from '../../wire/list';
	import { call } from '../base/call';
	import { Doing } from '../base/doing.svelte';
	import { figure } from '../base/format';
	import Allowed from '../kit/Allowed.svelte';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';
	import Choice from '../kit/Choice.svelte';
	import FigureInput from '../kit/FigureInput.svelte';
	import TextInput from '../kit/TextInput.svelte';
	import { OFFERED_KINDS, type OfferedKind, SWEEP_KINDS } from '../../wire/sweep-kinds';
	import { beginSweep } from '../lists/begin';

	interface Props {
		count: number;
		items: () => NamedItems;
		labels: Overview['labels'];
		/** Something was done to them, in words. */
		done: (words: string) => void;
		/** Ticks nothing any more. */
		clear: () => void;
	}
	let { count, items, labels, done, clear }: Props = $props();

	const SETTINGS = {
		season: 'season length…',
		lead: 'lead time…',
		gaps: 'gap rule…',
		carry: 'constants when updated…',
		label: 'label…',
		hidden: 'hide until the next actual…',
		back: 'show again',
		retire: 'retire…',
	} as const;
	type Setting = keyof typeof SETTINGS;
	const CARRY = { search: 'searched again', keep: 'kept' } as const satisfies Record<
		(typeof CARRIES)[number],
		string
	>;

	/** What is asked for before it is done: a setting, or what a sweep is told. */
	let setting = $state<Setting | OfferedKind | null>(null);
	let words = $state('');
	let number = $state<number | null>(null);
	let gapRule = $state<GapRule>('skip');
	let carry = $state<(typeof CARRIES)[number]>('search');
	let of = $state('');
	let is = $state('');
	let model = $state('');
	let percentage = $state(95);
	const bar = new Doing();

	const kinds = $derived([...new Set(labels.map((label) => label.of))]);
	const them = $derived(`${figure(count, 0)} ${count === 1 ? 'item' : 'items'}`);

	async function doing(what: () => Promise<void>) {
		if (!bar.busy) await bar.run(what);
	}

	/** Begins a sweep, or asks first for what it is told. */
	function offer(kind: OfferedKind) {
		bar.refusal = null;
		if (SWEEP_KINDS[kind].told === null) sweep(kind);
		else setting = kind;
	}

	const sweep = (kind: OfferedKind) =>
		void doing(async () => {
			const lineUp =
				kind === 'try' ? (await call('GET /items/[code]', { code: model.trim() })).lineUp.candidates : [];
			if (kind === 'try' && lineUp.length === 0) {
				bar.refusal = `${model.trim()} has no line-up of its own yet. Open it, put methods beside each other, and come back.`;
				return;
			}
			const service = kind === 'stock' ? percentage / 100 : null;
			await beginSweep({ kind, items: items(), settings: { lineUp, service } });
		});

	const change = (what: Several['change'], said: string) =>
		doing(async () => {
			const { items: changed } = await call(
				'POST /several',
				{},
				{ items: items(), change: what, reason: words.trim() },
			);
			setting = null;
			words = '';
			done(`${figure(changed, 0)} ${changed === 1 ? 'item' : 'items'}: ${said}`);
		});

	function choose(chosen: Setting) {
		bar.refusal = null;
		number = null;
		if (chosen === 'back') void change({ hidden: false }, 'shown again');
		else setting = chosen;
	}

	function submit(event: SubmitEvent) {
		event.preventDefault();
		switch (setting) {
			case 'try':
			case 'stock':
				return sweep(setting);
			case 'season':
				return void change(
					{ seasonLength: number },
					number === null ? 'season length left to the calendar' : `season length ${number}`,
				);
			case 'lead':
				return void change(
					{ leadTime: number },
					number === null ? 'lead time of one period' : `lead time ${number}`,
				);
			case 'gaps':
				return void change({ gapRule }, `a missing figure ${RULE_WORDS[gapRule]}`);
			case 'carry':
				return void change({ carry }, `constants ${CARRY[carry]} when updated`);
			case 'label':
				if (of.trim() === '') return;
				return void change(
					{ label: { of: of.trim(), is: is.trim() } },
					is.trim() === '' ? `no ${of.trim()} any more` : `${of.trim()} is ${is.trim()}`,
				);
			case 'hidden':
				return void change({ hidden: true }, 'hidden until their next actual');
			case 'retire':
				return void change({ retired: true }, 'retired');
		}
	}
</script>

<div
	class="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-y border-edge bg-wash px-4 py-1.5 text-[13px]"
	role="toolbar"
	aria-label="With the items that are selected"
	data-ticked={count}
>
	<span class="font-semibold">{them} selected</span>
	<Allowed does="Sweeping and changing them"
		><span class="flex items-baseline gap-3" role="group" aria-label="Sweep them">
			{#each OFFERED_KINDS as kind (kind)}
				{@const { name, does } = SWEEP_KINDS[kind].offer}
				<Button look="offer" disabled={bar.busy} title={does} onclick={() => offer(kind)}>{name}</Button>
			{/each}
		</span>
		<Choice
			label="Change all that are selected"
			value=""
			of={['', ...(Object.keys(SETTINGS) as Setting[])]}
			names={(each) => (each === '' ? 'change…' : SETTINGS[each])}
			take={(each) => each !== '' && choose(each)}
		/></Allowed
	>
	{#if setting}
		<form class="flex flex-wrap items-baseline gap-x-2" onsubmit={submit}>
			{#if setting === 'try'}
				<label class="flex items-baseline gap-1.5"
					>the line-up of
					<TextInput
						bind:value={model}
						look="line"
						label="Item whose line-up is tried"
						placeholder="code"
						class="h-6 w-28"
					/></label
				>
			{:else if setting === 'stock'}
				<label class="flex items-baseline gap-1.5"
					>service level
					<FigureInput
						label="Service level, %"
						value={percentage}
						least={50}
						most={99.9}
						live
						take={(value) => (percentage = value!)}
						class="typed h-6 w-14"
					/> %</label
				>
			{:else if setting === 'season' || setting === 'lead'}
				<FigureInput
					label={setting === 'season' ? 'Season length' : 'Lead time'}
					value={number}
					whole
					least={1}
					most={setting === 'season' ? BOUNDS.seasonLength : BOUNDS.horizon}
					empties
					live
					placeholder={setting === 'season' ? 'by the calendar' : 'one'}
					take={(given) => (number = given)}
					class="typed h-6 w-28"
				/> periods
			{:else if setting === 'gaps'}
				<Choice label="Gap rule" value={gapRule} names={RULE_WORDS} take={(rule) => (gapRule = rule)} />
			{:else if setting === 'carry'}
				<Choice label="Constants" value={carry} names={CARRY} take={(way) => (carry = way)} />
			{:else if setting === 'label'}
				<TextInput
					bind:value={of}
					look="line"
					label="What the label is of"
					placeholder="Family"
					list="label-kinds"
					maxlength={BOUNDS.label}
					class="h-6 w-28"
				/>
				<datalist id="label-kinds"
					>{#each kinds as kind (kind)}<option value={kind}></option>{/each}</datalist
				>
				is
				<TextInput
					bind:value={is}
					look="line"
					label="The label"
					placeholder="empty deletes it"
					maxlength={BOUNDS.labelValue}
					class="h-6 w-40"
				/>
			{/if}
			{#if !(setting in SWEEP_KINDS) && setting !== 'season' && setting !== 'gaps'}
				<TextInput
					bind:value={words}
					look="line"
					label="Reason"
					placeholder="why"
					maxlength={BOUNDS.reason}
					class="h-6 w-44"
				/>
			{/if}
			<Button type="submit" look="offer" disabled={bar.busy}
				>{setting === 'retire'
					? `retire ${them}`
					: setting === 'hidden'
						? `hide ${them}`
						: setting in SWEEP_KINDS
							? `begin for ${them}`
							: `set for ${them}`}</Button
			>
			<Button aria-label="Cancel" onclick={() => (setting = null)}>✕</Button>
		</form>
	{/if}
	<Button class="ml-auto" title="Esc" onclick={clear}>select none</Button>
	{#if bar.refusal}<Notice class="w-full">{bar.refusal}</Notice>{/if}
</div>
