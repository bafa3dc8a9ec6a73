<script lang="ts">
	import { onMount } from 'svelte';
	import { percentScale, scaleOf } from '$core/numbers/figure';
	import { goto } from '$app/navigation';
	import { type Asked, ASKED_ALL, labelName, paramsOf, sameItems } from '../../wire/asked';
	import type { Groups } from '../../wire/groups';
	import type { Overview } from '../../wire/list';
	import { call, messageOf } from '../base/call';
	import type { Rows } from '../export/cells';
	import { amongOthers, figure, scaled } from '../base/format';
	import { type Wanted, withLabel } from '../../wire/labels';
	import { may } from '../base/access';
	import Allowed from '../kit/Allowed.svelte';
	import Button from '../kit/Button.svelte';
	import Hover from '../kit/Hover.svelte';
	import Notice from '../kit/Notice.svelte';
	import NotLoaded from '../kit/NotLoaded.svelte';
	import Choice from '../kit/Choice.svelte';
	import { watchOverview } from '../base/overview';
	import ListFilters from './ListFilters.svelte';

	interface Props {
		asked: Asked;
		/** Kinds of labels that there are, and those that are grouped by. */
		kinds: readonly string[];
		by: readonly string[];
		/** Null where no item has a label. */
		groups: Groups | null;
		ask: (change: Partial<Asked & { by: readonly string[] }>) => void;
	}
	let { asked, kinds, by, groups, ask }: Props = $props();

	type Group = Groups['groups'][number];
	type Column = 'labels' | 'items' | 'look' | 'next' | 'wape' | 'inside';
	const HEADS: { key: Column; name: string; title?: string }[] = [
		{ key: 'items', name: 'items' },
		{ key: 'look', name: 'to check' },
		{
			key: 'next',
			name: 'next period',
			title: 'Sum of the final forecasts; – where units or frequencies differ',
		},
		{
			key: 'wape',
			name: 'WAPE',
			title: 'Of the final forecasts since each sequence was adopted; – where units differ',
		},
		{ key: 'inside', name: 'inside ranges', title: 'Of the newest period, by how many had a range' },
	];
	let sorted = $state<{ key: Column; down: boolean }>({ key: 'labels', down: false });
	let overview = $state.raw<Overview | null>(null);
	let refusal = $state<string | null>(null);
	const fail = (error: unknown) => (refusal = messageOf(error));
	onMount(() => watchOverview((said) => (overview = said), fail));

	const share = ({ inside, graded }: Pick<Group, 'inside' | 'graded'>) =>
		graded > 0 ? inside / graded : null;
	const worth = (group: Group, key: Column) =>
		key === 'labels' ? null : key === 'inside' ? share(group) : group[key];
	const shown = $derived.by(() => {
		const { key, down } = sorted;
		const all = groups?.groups ?? [];
		if (key === 'labels') return down ? all.toReversed() : all;
		return all.toSorted((a, b) => {
			const [x, y] = [worth(a, key), worth(b, key)];
			return x === null || y === null ? Number(x === null) - Number(y === null) : (down ? -1 : 1) * (x - y);
		});
	});
	/** Groups are in units of their own: no head could name one power of ten for all. */
	const scale = $derived(scaleOf(shown.map(({ next }) => next)));

	/** What all are asked to have, and what a group's own are labelled with. */
	const labelsOf = ({ labels }: Group) =>
		by.reduce((wanted, of, i) => withLabel(wanted, of, labels[i]!), asked.labels);
	const address = (group: Group) => `/items?${paramsOf({ ...asked, labels: labelsOf(group) })}`;
	/** What is asked for is nothing but labels, so that a group is all items that have its own. */
	const byLabels = $derived(sameItems(asked, { ...ASKED_ALL, labels: asked.labels }));
	let making = $state(false);
	/** Opens the items of a group total. */
	async function asOne(labels: Wanted) {
		if (making) return;
		making = true;
		refusal = null;
		try {
			const { code } = await call('POST /groups', {}, { labels });
			await goto(`/items/${encodeURIComponent(code)}`);
		} catch (error) {
			fail(error);
		}
		making = false;
	}
	const sortBy = (key: Column) =>
		(sorted = sorted.key === key ? { key, down: !sorted.down } : { key, down: key !== 'labels' });

	const SEVERAL = 'Its items have different units or frequencies, and are not added up';
	/** Of rare demand the least WAPE is that of a forecast of nothing. */
	const misleads = ({ rare, items }: Pick<Group, 'rare' | 'items'>) =>
		rare === 0
			? undefined
			: `${figure(rare, 0)} of ${figure(items, 0)} ${items === 1 ? 'item has' : 'items have'} rare demand, of which WAPE says nothing: a forecast of 0 would have the least`;
	const wape = (of: number | null) => (of === null ? '–' : `${scaled(of, percentScale([of]))} %`);
	const inside = (of: Pick<Group, 'inside' | 'graded'>) =>
		of.graded === 0 ? '–' : `${figure(of.inside, 0)} of ${figure(of.graded, 0)}`;
	const rows = (): Rows => [
		[
			...by,
			'items',
			'to check',
			'next period',
			'items with a forecast',
			'unit',
			'WAPE',
			'items of rare demand',
			'with a range',
			'inside it',
		],
		...shown.map((group) => [
			...group.labels,
			group.items,
			group.look,
			group.next,
			group.foretold,
			group.unit ?? '',
			group.wape,
			group.rare,
			group.graded,
			group.inside,
		]),
	];
</script>

{#snippet next(of: Pick<Group, 'next' | 'foretold' | 'items'>)}
	{#if of.next !== null && of.foretold < of.items}
		<span class="mr-1 text-[12px] font-normal text-ink-2"
			>of {figure(of.foretold, 0)} of {figure(of.items, 0)} items</span
		>{/if}{amongOthers(of.next, scale)}
{/snippet}

{#snippet measured(of: Pick<Group, 'wape' | 'rare'>)}
	{#if of.rare > 0}<span class="mr-1 text-[12px] font-normal text-ink-2"
			>{figure(of.rare, 0)} with rare demand</span
		>{/if}{wape(of.wape)}
{/snippet}

{#snippet one(own: Wanted, { unit }: Pick<Group, 'unit'>)}
	{#if may('work')}<Button
			look="link"
			disabled={making || !byLabels || unit === null}
			title={unit === null
				? 'Its items have different units and cannot be added up'
				: byLabels
					? 'Adds its items up and opens the total like an item: to forecast, adopt and share it among them'
					: 'A group total is of all items with its labels: take the other filters off'}
			onclick={() => asOne(own)}>group total</Button
		>{/if}
{/snippet}

<div class="flex min-h-0 flex-1 flex-col overflow-x-auto">
	<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1 px-4 pt-3 pb-2">
		<h1 class="text-lg font-semibold">Groups</h1>
		{#if !may('work')}<Allowed does="Making a group total" />{/if}
		{#if groups}
			<span class="text-ink-2" data-groups="count"
				>{figure(shown.length, 0)}
				{shown.length === 1 ? 'group' : 'groups'} of {figure(groups.all.items, 0)}
				{groups.all.items === 1 ? 'item' : 'items'}</span
			>
			<span class="ml-auto flex items-baseline gap-4">
				{#await import('../export/Export.svelte') then { default: Export }}
					<Export name="groups" of="Groups" {rows} sheet="Groups" />
				{:catch}<NotLoaded />{/await}
				<a href="/items?{paramsOf(asked)}" class="text-accent underline">the items</a>
			</span>
			<ListFilters {asked} bind:overview {ask} {fail}
				><label class="flex items-baseline gap-1.5 text-ink-2">
					by
					<Choice
						label="Grouped by"
						value={by[0]!}
						of={kinds}
						names={(of) => of}
						take={(of) => ask({ by: [of, ...by.slice(1).filter((each) => each !== of)] })}
					/>
				</label>
				{#if kinds.length > 1}
					<label class="flex items-baseline gap-1.5 text-ink-2">
						and
						<Choice
							label="And by"
							value={by[1] ?? ''}
							of={['', ...kinds.filter((of) => of !== by[0])]}
							names={(of) => (of === '' ? 'nothing else' : of)}
							take={(of) => ask({ by: of === '' ? [by[0]!] : [by[0]!, of] })}
						/>
					</label>
				{/if}</ListFilters
			>
		{/if}
		{#if refusal}<Notice class="w-full">{refusal}</Notice>{/if}
	</div>
	{#if !groups}
		<p class="px-4 py-6 text-ink-2">
			No item has a label yet. Bring in a table with a column such as Family or Site, or select items in the
			<a href="/items" class="text-accent underline">list</a> and set one.
		</p>
	{:else}
		<table class="mx-4 min-w-[760px] text-[14px]">
			<thead>
				<tr class="border-b border-rule text-left text-[13px] text-ink-2">
					<th class="py-1 font-normal" colspan={by.length} scope="col"
						><Button aria-pressed={sorted.key === 'labels'} onclick={() => sortBy('labels')}
							>{by.join(', ')}{sorted.key === 'labels' ? (sorted.down ? ' ↓' : ' ↑') : ''}</Button
						></th
					>
					{#each HEADS as { key, name, title } (key)}
						<th class="py-1 text-right font-normal" scope="col"
							><Hover words={title}
								>{#snippet children(described)}<Button
										aria-pressed={sorted.key === key}
										aria-describedby={described}
										onclick={() => sortBy(key)}
										>{name}{sorted.key === key ? (sorted.down ? ' ↓' : ' ↑') : ''}</Button
									>{/snippet}</Hover
							></th
						>
					{/each}
					<th scope="col"><span class="sr-only">group total</span></th>
				</tr>
			</thead>
			<tbody>
				{#each shown as group (group.labels.join('\n'))}
					<tr class="border-b border-rule hover:bg-wash" data-group={group.labels.join(', ')}>
						{#each group.labels as label, i (i)}
							<td class="py-1.5 {label === '' ? 'text-ink-2' : ''}"
								>{#if i === 0}<a href={address(group)} class="font-medium text-accent underline"
										>{labelName(by[i]!, label)}</a
									>{:else}{labelName(by[i]!, label)}{/if}</td
							>
						{/each}
						<td class="figures">{figure(group.items, 0)}</td>
						<td class="figures {group.look > 0 ? 'text-bad' : ''}">{figure(group.look, 0)}</td>
						<td class="figures font-semibold" title={group.unit ?? SEVERAL}>{@render next(group)}</td>
						<td class="figures" title={misleads(group)}>{@render measured(group)}</td>
						<td class="figures">{inside(group)}</td>
						<td class="pl-6 text-right">{@render one(labelsOf(group), group)}</td>
					</tr>
				{/each}
				<tr class="bg-wash font-semibold" data-group="all">
					<td class="py-1.5" colspan={by.length}>all of them</td>
					<td class="figures">{figure(groups.all.items, 0)}</td>
					<td class="figures">{figure(groups.all.look, 0)}</td>
					<td class="figures" title={groups.all.unit ?? SEVERAL}>{@render next(groups.all)}</td>
					<td class="figures" title={misleads(groups.all)}>{@render measured(groups.all)}</td>
					<td class="figures">{inside(groups.all)}</td>
					<td class="pl-6 text-right">{@render one(asked.labels, groups.all)}</td>
				</tr>
			</tbody>
		</table>
	{/if}
</div>
