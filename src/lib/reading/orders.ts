import { aPeriod, periodWord, type Frequency } from '$core/series/frequency';
import { describePeriod, firstDay, type Ordinal } from '$core/series/period';
import type { Choices } from './choices';
import type { Doubt } from './reading';

/** Dates of a table with several lines a day: the frequency that they are best summed to. */
export function frequencyOfLines(days: readonly number[]): Frequency {
	const { first, last } = extentOf(days);
	return last - first >= 150 ? 'month' : last - first >= 35 ? 'week' : 'day';
}

/** So many lines are enough to see that they come and go. */
const LINES = 8;

/**
 * Whether dates are those of orders: an item has two lines on one day, or most days of an item have none, in no order.
 * @param spacing the frequency that the spacing of all dates shows: those of periods stand apart as these do
 */
export function areOrderLines(
	days: readonly (number | null)[],
	items: Int32Array,
	spacing: Frequency,
): boolean {
	if (spacing !== 'day' && spacing !== 'weekday') return false;
	const known = new Set<number>();
	for (const [i, day] of days.entries()) {
		if (day === null) continue;
		// Days since 1970 have fewer than seven digits.
		const place = items[i]! * 1e7 + day;
		if (known.has(place)) return true;
		known.add(place);
	}
	return known.size >= LINES && comeAndGo(days, items);
}

/** Whether the days of each item leave most of the days between them out, by gaps of many lengths. */
function comeAndGo(days: readonly (number | null)[], items: Int32Array): boolean {
	const of = new Map<number, number[]>();
	for (const [i, day] of days.entries()) {
		if (day === null) continue;
		const own = of.get(items[i]!);
		if (own) own.push(day);
		else of.set(items[i]!, [day]);
	}
	const gaps = [...of.values()].flatMap((own) => {
		own.sort((a, b) => a - b);
		return own.slice(1).map((day, i) => day - own[i]!);
	});
	const passed = gaps.reduce((sum, gap) => sum + gap, 0);
	return passed > 2 * gaps.length && new Set(gaps).size > 3;
}

function extentOf(days: readonly number[]): { first: number; last: number } {
	let first = Infinity;
	let last = -Infinity;
	for (const day of days) {
		if (day < first) first = day;
		if (day > last) last = day;
	}
	return { first, last };
}

/** What order lines fill: the periods that are over, and whether one without a line had no demand. */
export interface Filled {
	from: Ordinal;
	to: Ordinal;
	zeros: boolean;
}

/**
 * Which periods order lines fill, of which those at both ends may not be whole.
 * @param days of all lines, null for those without a date, @param ordinals their periods at the frequency taken
 */
export function filledBy(
	allDays: readonly (number | null)[],
	allOrdinals: readonly (Ordinal | null)[],
	frequency: Frequency,
	choices: Choices,
	doubts: Doubt[],
): Filled {
	const days = allDays.filter((day) => day !== null);
	const ordinals = allOrdinals.filter((ordinal) => ordinal !== null);
	const { first, last } = extentOf(days);
	const filled: Filled = { ...limits(ordinals), zeros: choices.without !== 'gap' };
	doubts.push({
		code: 'order-lines',
		text: `These are lines of orders, several on one day: summed to ${periodWord(frequency, 2)}; ${aPeriod(frequency)} without a line is taken as ${filled.zeros ? 'zero' : 'missing'}.`,
		options: [
			...(['day', 'week', 'month'] as const)
				.filter((each) => each !== frequency)
				.map((each) => ({ label: `sum them to ${periodWord(each, 2)}`, choices: { frequency: each } })),
			filled.zeros
				? { label: `${aPeriod(frequency)} without a line is missing`, choices: { without: 'gap' as const } }
				: { label: `${aPeriod(frequency)} without a line is zero`, choices: { without: 'zero' as const } },
		],
	});
	if (frequency === 'day' || frequency === 'weekday' || frequency === 'hour') return filled;
	const slack = usualGap(days);
	const begins = first - (firstDay(frequency, filled.from) ?? first);
	const open = (firstDay(frequency, filled.to + 1) ?? last + 1) - 1 - last;
	const parts = [
		...(begins > slack
			? [{ period: filled.from, why: `the lines begin on ${describePeriod('day', first)}` }]
			: []),
		...(open > slack ? [{ period: filled.to, why: `the lines end on ${describePeriod('day', last)}` }] : []),
	];
	if (parts.length === 0 || filled.to - filled.from <= parts.length) return filled;
	const leave = choices.ends !== 'take';
	doubts.push({
		code: 'ends',
		text: `${parts.map(({ period, why }) => `${describePeriod(frequency, period)} is not whole: ${why}`).join('; ')}. ${leave ? 'Left out.' : 'Taken as it is.'}`,
		options: [
			leave
				? { label: 'take it as it is', choices: { ends: 'take' } }
				: { label: 'leave it out', choices: { ends: 'leave' } },
		],
	});
	if (!leave) return filled;
	return {
		...filled,
		from: filled.from + (begins > slack ? 1 : 0),
		to: filled.to - (open > slack ? 1 : 0),
	};
}

function limits(ordinals: readonly Ordinal[]): { from: Ordinal; to: Ordinal } {
	const { first, last } = extentOf(ordinals);
	return { from: first, to: last };
}

/** Days that may pass without any line and say nothing: weekends, and twice the usual time between lines. */
function usualGap(days: readonly number[]): number {
	const sorted = [...new Set(days)].sort((a, b) => a - b);
	const gaps = sorted.slice(1).map((day, i) => day - sorted[i]!);
	gaps.sort((a, b) => a - b);
	return Math.max(3, 2 * (gaps[Math.floor(gaps.length / 2)] ?? 1));
}

/** What becomes of negative lines: they lessen the demand, are left out, or count as demand. */
export function takeReturn(value: number, choices: Choices): number | null {
	if (value >= 0 || choices.returns === undefined || choices.returns === 'less') return value;
	return choices.returns === 'more' ? -value : null;
}

export function doubtReturns(count: number, choices: Choices, doubts: Doubt[]): void {
	if (count === 0) return;
	const how = choices.returns ?? 'less';
	const said = { less: 'taken off, as returns', leave: 'left out', more: 'counted as demand' };
	const labels = { less: 'take them off', leave: 'leave them out', more: 'count them as demand' };
	doubts.push({
		code: 'returns',
		text: `${count} ${count === 1 ? 'line is' : 'lines are'} negative: ${said[how]}.`,
		options: (['less', 'leave', 'more'] as const)
			.filter((each) => each !== how)
			.map((each) => ({ label: labels[each], choices: { returns: each } })),
	});
}
