<script lang="ts">
	import { RATIO_SCALE } from '$core/accuracy/scales';
	import { finerScale, percentScale, type Scale, scaleOf } from '$core/numbers/figure';
	import { periodsInWords } from '$core/series/frequency';
	import { describePeriod } from '$core/series/period';
	import { reasonChance, reasonShort, reasonWords } from '$core/words/status';
	import { RARE_MEASURE } from '$core/words/sweep';
	import { labelOf, type Wanted } from '../../wire/labels';
	import { inMark } from '../../reader.svelte';
	import type { ItemRow } from '../../wire/list';
	import { type ListKey, listColumn } from '../../wire/list-columns';
	import { readLine } from '../../wire/spark';
	import { amongOthers, scaled, scaledSigned } from '../base/format';
	import ItemName from '../kit/ItemName.svelte';
	import Needle from '../kit/Needle.svelte';
	import Sparkline from '../kit/Sparkline.svelte';

	interface Props {
		row: ItemRow;
		/** Labels that all are asked to have: they are left out. */
		wanted: Wanted;
		/** Ordinal of the newest period of its frequency; null while it is not known. */
		newest: number | null;
		/** Columns of figures, from left to right. */
		columns: readonly ListKey[];
	}
	/** A row of the list. */
	let { row, wanted, newest, columns }: Props = $props();

	/** Until it is known what its figures come to. */
	const UNKNOWN: Scale = { power: 0, decimals: 0 };
	const shown = $derived(row.shown);
	const usual = $derived(shown?.scale ?? UNKNOWN);
	const status = $derived(row.status);
	const score = $derived(status?.score);
	const first = $derived(status?.reasons[0]);
	const short = $derived(first ? inMark(reasonShort(first, row.frequency, usual)) : '');
	const toCheck = $derived(first !== undefined && !row.retired && !status?.hidden);
	const reasons = $derived(
		(status?.reasons ?? []).map((reason) =>
			inMark(
				[reasonWords(reason, row.frequency, usual, row.unit), reasonChance(reason, row.frequency)]
					.filter((said) => said !== null)
					.join('. '),
			),
		),
	);
	const extent = $derived(
		shown && shown.periods > 0
			? `${periodsInWords(row.frequency, shown.periods)} to ${describePeriod(row.frequency, shown.last)}`
			: '',
	);
	/** The same, short where it ends as all others do. */
	const span = $derived(
		shown && shown.periods > 0 && (newest === null || shown.last === newest)
			? periodsInWords(row.frequency, shown.periods)
			: extent,
	);
	const { labels } = $derived(row);

	/** A figure of a column as it stands in this row. */
	function textOf(key: ListKey): string {
		const { of, in: unit, signed } = listColumn(key);
		const value = of(row);
		if (value === null) return '–';
		switch (unit) {
			case 'percent':
				return `${scaled(value, percentScale([value]))} %`;
			case 'ratio':
				return scaled(value, RATIO_SCALE);
			case 'money':
				return amongOthers(value, scaleOf([value]));
			default:
				// What is next to nothing beside the errors that it is the mean of is 0.
				if (key === 'bias' && usual.power === 0)
					return scaledSigned(value, finerScale(usual, status?.score?.mad));
				return `${signed && value > 0 ? '+' : ''}${amongOthers(value, usual)}`;
		}
	}
</script>

<span
	class="min-w-0"
	title="{row.code} {row.name}{extent && `, ${extent}`}{row.unit ? `, ${row.unit}` : ''}{labels
		.map(([of, label]) => `; ${of}: ${label}`)
		.join('')}"
>
	<span class="block truncate font-medium">
		<ItemName code={row.code} name={row.name} />
	</span>
	{#if toCheck}<span class="block truncate text-[12px] text-bad sm:hidden">{short}</span>{/if}
	<span class="block truncate text-[12px] text-ink-2 {toCheck ? 'max-sm:hidden' : ''}">
		{labels
			.filter(([of]) => labelOf(wanted, of) === undefined)
			.map(([, label]) => `${label} · `)
			.join('')}{row.sum ? 'its items added up · ' : ''}{shown?.rare ? 'rare demand · ' : ''}{span}
	</span>
</span>
<Sparkline
	values={readLine(shown?.recent ?? '')}
	ahead={readLine(shown?.ahead ?? '') as number[]}
	width={112}
/>
<span class="min-w-0" data-wide title={[shown?.adopted?.label, ...reasons].filter(Boolean).join('; ')}>
	<span class="block truncate">{shown?.adopted?.label ?? '–'}</span>
	{#if row.retired}
		<span class="block truncate text-[12px] text-ink-2">– retired</span>
	{:else if status?.hidden}
		<span class="block truncate text-[12px] text-ink-2">– hidden: {short}</span>
	{:else if first}
		<span
			class="block truncate text-[12px] {first.code === 'no-forecast' ? 'text-ink-2' : 'text-bad'}"
			data-why={first.code}
			>{first.code === 'no-forecast' ? '○' : '◆'}
			{short}{reasons.length > 1 ? `, and ${reasons.length - 1} more` : ''}</span
		>
	{:else if !status}
		<span class="block truncate text-[12px] text-ink-2">being checked</span>
	{/if}
</span>
{#each columns as key (key)}
	{#if key === 'next'}
		<span class="min-w-0 text-right" title={row.unit || undefined}>
			<span class="figures block truncate font-semibold">{textOf(key)}</span>
			{#if shown?.adopted}
				<span class="block truncate text-[12px] text-ink-2">
					{describePeriod(row.frequency, shown.adopted.nextPeriod)}{row.unit ? `, ${row.unit}` : ''}
				</span>
			{/if}
		</span>
	{:else if key === 'signal'}
		<span data-wide class="text-right">
			{#if score}<Needle signal={score.trackingSignal} biased={score.runs !== null} />{:else}–{/if}
		</span>
	{:else}
		<span
			data-wide
			class="figures truncate {key === 'miss' && status?.newest?.ranged && status.newest.inside === null
				? 'text-bad'
				: ''}"
			title={shown?.rare && listColumn(key).misleadsRare ? RARE_MEASURE : undefined}>{textOf(key)}</span
		>
	{/if}
{/each}
