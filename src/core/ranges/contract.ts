import type { RangeKind } from '../contract/candidate';

/** Rules by which ranges come from a trial, each kept for the records that were made by it: errors of a step all alike; by the size of the forecast. */
export const RANGE_RULES = [1, 2] as const;
export type RangeRule = (typeof RANGE_RULES)[number];
export const NEWEST_RULE: RangeRule = 2;

/** Fewer honest errors than these at a step, and the range is widened from an earlier one. */
export const ENOUGH = 8;

/** Errors of forecasts made at earlier origins from what was known there: a row an origin, the oldest first, a column a step. */
export interface HonestErrors {
	/** Rates; NaN where an actual is missing. A row ends with the last actual. */
	rows: readonly Float64Array[];
	/** Periods known at each origin. */
	origins: readonly number[];
}

/** Ranges about a forecast, to be asked step by step. */
export interface Ranges {
	kind: RangeKind;
	/** [low, high] about `mean`; null where nothing is known of the errors. */
	around(mean: number, step: number, level: number): [number, number] | null;
	/** Root mean square of the errors so many steps ahead; null where nothing is known of them. */
	spread(step: number): number | null;
	/** [low, high] about the sum of the next `steps` periods; null where nothing is known. */
	together(sum: number, steps: number, level: number): [number, number] | null;
	/** What lasts for that sum with the chance `service`; null where nothing is known. */
	stock(sum: number, steps: number, service: number): number | null;
	/** How many honest errors the last step taken as it stands rests on, and that step; for `trial`. */
	basis: { count: number; step: number } | null;
}

/** What ranges are asked for, and what is known beside errors. */
export interface RangesAsked {
	/** The kind that the candidate asks for; where it asks for none, counts or a trial. */
	kind: RangeKind | undefined;
	rule: RangeRule;
	/** Whether what is forecast is the rate of rare demand in whole pieces. */
	counts: boolean;
	/** Periods between what is repeated and what repeats it: the season's length for a seasonal naive forecast, else 1. */
	lag: number;
}

/** A range that reaches as far down as up. */
export const evenly = (mean: number, half: number | null): [number, number] | null =>
	half === null ? null : [mean - half, mean + half];
