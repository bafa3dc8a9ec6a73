import type { Frequency } from './frequency';
import { CALENDAR_SEASON_LENGTH } from './frequency';
import type { GapRule } from './gaps';
import { fillGaps } from './gaps';
import { calendarSeason, type Ordinal, parsePeriod } from './period';

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
}

/** A series as methods see it: gap rule applied, exclusions missing. */
export interface Series {
	/** n figures, NaN where missing. */
	readonly values: Float64Array;
	readonly frequency: Frequency;
	/** Ordinal of the first period. */
	readonly first: Ordinal;
	/** P, at least 1. */
	readonly seasonLength: number;
}

/** Applies gap rule and exclusions and finds season length and first period. */
export function prepareSeries(input: SeriesInput, gaps: GapRule): Series {
	const seasonLength = input.seasonLength ?? CALENDAR_SEASON_LENGTH[input.frequency];
	return {
		values: fillGaps(input.values, gaps, seasonLength, input.excluded),
		frequency: input.frequency,
		first: parsePeriod(input.frequency, input.start ?? 1),
		seasonLength,
	};
}

/** The first `count` periods of a series. */
export function firstPeriods(series: Series, count: number): Series {
	return { ...series, values: series.values.subarray(0, count) };
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
