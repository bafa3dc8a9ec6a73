/** A range, its lower end first. */
type Range = readonly [low: number, high: number];

/**
 * Whether demand never was below zero.
 * @param values actuals, null or NaN where missing
 */
export const neverBelow = (values: Iterable<number | null>): boolean =>
	![...values].some((value) => value !== null && value < 0);

/**
 * A range as it is shown and handed over: of demand that never was below zero no end is. What is kept on record, graded and
 * worked with stays as it was calculated.
 * @param never whether demand never was below zero
 */
export const shownRange = (range: Range | null | undefined, never: boolean): Range | null =>
	range && never ? [Math.max(0, range[0]), Math.max(0, range[1])] : (range ?? null);
