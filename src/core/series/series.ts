import type { Frequency } from './frequency';
import { CALENDAR_SEASON_LENGTH } from './frequency';
import type { GapRule } from './gaps';
import { fillGaps } from './gaps';
import { calendarSeason, daysIn, type Ordinal, parsePeriod } from './period';

/** A series as it is asked about: the shape of `series` in a request. */
export interface SeriesInput {
	/** One figure a period; null where missing. */
	values: readonly (number | null)[];
	frequency: Frequency;
	/** First period, written as `parsePeriod` reads it; a step begins at 1 unless told otherwise. */
	start?: string | number | undefined;
	seasonLength?: number | undefined;
	/** 1-based positions that are never fitted and never scored. */
	excluded?: readonly number[] | undefined;
	/** Methods work on the rate per day of each period; what they say comes back in totals. */
	perDay?: boolean | undefined;
	group?: GroupInput | undefined;
}

/** Demand of the other items of a group, added up: of the same frequency and season, for a season that it lends. */
export interface GroupInput {
	/** What the group is called. */
	name: string;
	/** One figure a period; null where an item's is missing. */
	values: readonly (number | null)[];
	/** First period, as in the series beside it. */
	start?: string | number | undefined;
}

/** A series as methods see it: gap rule applied, exclusions missing. */
export interface Series {
	/** n figures, NaN where missing; the rates per day where `days` says so. */
	readonly values: Float64Array;
	/** Days of each of the n periods, where rates per day are worked on. */
	readonly days?: Float64Array | undefined;
	readonly frequency: Frequency;
	/** Ordinal of the first period. */
	readonly first: Ordinal;
	/** P, at least 1. */
	readonly seasonLength: number;
	/** Demand of the group that it belongs to, as far as the series itself is known; rates where it has rates. */
	readonly group?: GroupSeries | undefined;
}

/** A series of its own, that says whose it is. */
export type GroupSeries = Omit<Series, 'group'> & { readonly name: string };

/** Applies gap rule and exclusions, takes rates where they are asked for, and finds season length and first period. */
export function prepareSeries(input: SeriesInput, gaps: GapRule): Series {
	const { frequency } = input;
	const seasonLength = input.seasonLength ?? CALENDAR_SEASON_LENGTH[frequency];
	const first = parsePeriod(frequency, input.start ?? 1);
	const days = input.perDay
		? Float64Array.from(input.values, (_, i) => daysIn(frequency, first + i))
		: undefined;
	const rates = days
		? input.values.map((value, i) => (value === null ? null : value / days[i]!))
		: input.values;
	const series = {
		values: fillGaps(rates, gaps, seasonLength, input.excluded),
		days,
		frequency,
		first,
		seasonLength,
	};
	const { group, perDay } = input;
	if (!group) return series;
	const own = prepareSeries({ ...group, frequency, seasonLength, perDay }, 'skip');
	return firstPeriods({ ...series, group: { ...own, name: group.name } }, series.values.length);
}

/** Rates of a series' periods as totals; the same list where totals are worked on. */
export function inTotals({ days }: Pick<Series, 'days'>, rates: Float64Array): Float64Array {
	return days ? rates.map((rate, i) => rate * days[i]!) : rates;
}

/** What a rate of the 1-based period t is to be multiplied with for its total. */
export const weightAt = ({ days, frequency, first }: Series, t: number): number =>
	days ? daysIn(frequency, first + t - 1) : 1;

/** The first `count` periods of a series, and what its group sold up to their end. */
export function firstPeriods(series: Series, count: number): Series {
	const upTo = <Of extends Omit<Series, 'group'>>(of: Of, end: number): Of => ({
		...of,
		values: of.values.subarray(0, end),
		days: of.days?.subarray(0, end),
	});
	const { group } = series;
	return {
		...upTo(series, count),
		...(group && { group: upTo(group, Math.max(0, series.first + count - group.first)) }),
	};
}

/**
 * Season j(t), 1 … P, of the 1-based position t. The calendar says where the cycle begins when P is the
 * calendar's own cycle; otherwise season 1 is the first period. From there seasons follow each other without
 * a jump, so that t and t + P always share one: in weekly series the 53rd week of a long year is counted on.
 */
export function seasonAt(series: Series, t: number): number {
	const calendar =
		series.seasonLength === CALENDAR_SEASON_LENGTH[series.frequency]
			? calendarSeason(series.frequency, series.first)
			: null;
	return (((calendar ?? 1) - 1 + t - 1) % series.seasonLength) + 1;
}

/** How many figures are present. */
export function countPresent(values: Float64Array): number {
	let present = 0;
	for (const value of values) if (!Number.isNaN(value)) present++;
	return present;
}
