<script lang="ts">
	import { keptWarning } from '$core/words/status';
	import { type Labels, labelsInWords, withLabel } from '../../wire/labels';
	import TextInput from '../kit/TextInput.svelte';
	import { goto } from '$app/navigation';
	import Modal from 'flowbite-svelte/Modal.svelte';
	import Allowed from '../kit/Allowed.svelte';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';
	import Choice from '../kit/Choice.svelte';
	import FigureInput from '../kit/FigureInput.svelte';
	import { periodWord } from '$core/series/frequency';
	import { BOUNDS } from '$core/bounds';
	import { Doing } from '../base/doing.svelte';
	import { moment } from '../base/format';
	import type { ItemState } from './state/item-state.svelte';

	let { itemState, open = $bindable(false) }: { itemState: ItemState; open?: boolean } = $props();

	const item = $derived(itemState.item);
	// Begin with what it is called, each time it is opened.
	let code = $derived(open ? item.code : '');
	let name = $derived(open ? item.name : '');
	let unit = $derived(open ? item.unit : '');
	let reason = $state('');
	const doing = new Doing();

	const retired = $derived(item.retiredAt !== null);
	const WORDS = {
		renamed: 'was called',
		retired: 'retired',
		returned: 'brought back',
		planned: 'was planned with',
		labelled: 'was labelled',
	};
	// Begins with how it is planned with, each time it is opened.
	let plan = $derived(open ? item.plan : item.plan);
	const planWords = ({ carry, leadTime, price }: typeof item.plan) =>
		[
			`constants ${carry === 'keep' ? 'kept' : 'searched again'}`,
			leadTime === null ? 'no lead time' : `a lead time of ${leadTime}`,
			price === null ? 'no price' : `a price of ${price}`,
		].join(', ');

	// Begins with its labels, and room for one more.
	let labels = $derived(open ? rowsOf(item.labels) : []);
	function rowsOf(kept: typeof item.labels) {
		return [...kept, ['', '']].map(([of, label]) => ({ of: of!, label: label! }));
	}
	// Of two of a kind the one that was typed last.
	const given = $derived(
		labels
			.map(({ of, label }) => [of.trim(), label.trim()] as const)
			.filter(([of, label]) => of !== '' && label !== '')
			.reduce<Labels>((all, [of, label]) => withLabel(all, of, label), []),
	);
	const labelWords = (of: Labels) => labelsInWords(of) || 'nothing';
	function typeLabel(at: number, change: Partial<(typeof labels)[number]>) {
		const typed = labels.map((row, i) => (i === at ? { ...row, ...change } : row));
		const last = typed.at(-1)!;
		labels = last.of === '' && last.label === '' ? typed : [...typed, { of: '', label: '' }];
	}

	const renamed = $derived(
		code.trim() !== item.code || name.trim() !== item.name || unit.trim() !== item.unit,
	);
	const replanned = $derived(
		planWords(plan) !== planWords(item.plan) || labelWords(given) !== labelWords(item.labels),
	);
	const change = (wanted: Parameters<ItemState['change']>[0]) =>
		doing.run(async () => {
			const before = item.code;
			await itemState.change({ ...wanted, reason });
			reason = '';
			open = false;
			if (itemState.item.code !== before)
				await goto(`/items/${encodeURIComponent(itemState.item.code)}${location.search}`, {
					replaceState: true,
				});
		});
</script>

<Modal bind:open size="sm" outsideclose>
	{#snippet header()}<h3 class="text-base font-semibold text-ink">
			Settings: name, labels, lead time, or retire
		</h3>{/snippet}
	<form
		class="grid grid-cols-[5rem_1fr] items-center gap-x-3 gap-y-2 text-[13px] text-ink"
		onsubmit={(event) => {
			event.preventDefault();
			void change({ code: code.trim(), name: name.trim(), unit: unit.trim(), plan, labels: given });
		}}
	>
		<label for="naming-code">Code</label>
		<TextInput id="naming-code" bind:value={code} maxlength={BOUNDS.code} required />
		<label for="naming-name">Name</label>
		<TextInput id="naming-name" bind:value={name} maxlength={BOUNDS.name} required />
		<label for="naming-unit">Unit</label>
		<TextInput id="naming-unit" bind:value={unit} maxlength={BOUNDS.unit} placeholder="pieces" />
		<span>Updating</span>
		<Choice
			label="Constants, when its forecast is updated"
			value={plan.carry}
			names={{ search: 'searches constants again', keep: 'keeps today’s constants' }}
			take={(carry) => (plan = { ...plan, carry })}
			title={plan.carry === 'keep' && itemState.record.adopted
				? keptWarning(itemState.record.adopted.candidate)
				: undefined}
		/>
		<span>Lead time</span>
		<span class="flex items-baseline gap-2">
			<FigureInput
				label="Lead time"
				value={plan.leadTime}
				whole
				empties
				least={1}
				most={BOUNDS.horizon}
				take={(leadTime) => (plan = { ...plan, leadTime })}
				class="typed w-14"
			/>
			<span class="text-ink-2"
				>{periodWord(itemState.series.frequency, 2)} that must be forecast at any time; empty for one</span
			>
		</span>
		<span>Price</span>
		<span class="flex items-baseline gap-2">
			<FigureInput
				label="Price of a unit"
				value={plan.price}
				empties
				least={1e-9}
				most={BOUNDS.figure}
				take={(price) => (plan = { ...plan, price })}
				class="typed w-20"
			/>
			<span class="text-ink-2">of a unit: what is at stake is then sorted by value</span>
		</span>
		<span class="self-start pt-1">Labels</span>
		<span class="max-h-28 overflow-y-auto">
			{#each labels as { of, label }, at (at)}
				<span class="mb-1 grid grid-cols-[2fr_3fr] gap-2">
					<TextInput
						label="What label {at + 1} is of"
						value={of}
						maxlength={BOUNDS.label}
						placeholder="Family"
						oninput={(event) => typeLabel(at, { of: event.currentTarget.value })}
					/>
					<TextInput
						label="Label {at + 1}"
						value={label}
						maxlength={BOUNDS.labelValue}
						placeholder={of ? 'empty deletes it' : 'Brakes'}
						oninput={(event) => typeLabel(at, { label: event.currentTarget.value })}
					/>
				</span>
			{/each}
		</span>
		<label for="naming-reason">Why</label>
		<TextInput
			id="naming-reason"
			bind:value={reason}
			maxlength={BOUNDS.reason}
			placeholder="Saved with the change; may be left out"
		/>
		<span></span>
		<Allowed does="Changing settings"
			><p class="flex gap-3">
				<Button
					look="main"
					type="submit"
					size="xs"
					disabled={doing.busy || !(renamed || replanned) || code.trim() === '' || name.trim() === ''}
					>Save</Button
				>
				<Button
					size="xs"
					look="other"
					disabled={doing.busy || renamed || replanned}
					onclick={() => change({ retired: !retired })}>{retired ? 'Bring it back' : 'Retire it'}</Button
				>
			</p></Allowed
		>
	</form>
	{#if doing.refusal}<Notice>{doing.refusal}</Notice>{/if}
	<p class="text-[13px] text-ink-2">
		{#if retired}
			Retired: it is off the list, and everything of it stays on record. Brought back, it is as it was.
		{:else}
			A retired item is taken off the list; its figures and forecasts stay on record, and it can be brought
			back. Links to an old code lead to the new one.
		{/if}
	</p>
	{#if item.changes.length > 0}
		<ul class="max-h-40 overflow-y-auto border-t border-rule pt-2 text-[13px] text-ink" data-changes>
			{#each item.changes as { kind, code: was, name: called, plan: before, labels: wore, reason: why, at, by }, i (i)}
				<li>
					<span class="text-ink-2">{moment(at)}, {by}:</span>
					{WORDS[kind]}{kind === 'renamed'
						? ` ${was} ${called}`
						: before
							? ` ${planWords(before)}`
							: wore
								? ` ${labelWords(wore)}`
								: ''}{why ? `, “${why}”` : ''}
				</li>
			{/each}
		</ul>
	{/if}
</Modal>
