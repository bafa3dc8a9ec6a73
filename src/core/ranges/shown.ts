/** A range, its lower end first. */
type Range = readonly [low: number, high: number];

/**
 * Whether demand never was below zero.
 * @param values actuals, null or NaN where missing
 */
export function neverBelow(values: Iterable<number | null>): boolean {
	for (const value of values) if (value !== null && value < 0) return false;
	return true;
}

/**
 * A range whose ends are not below zero where demand never was. Ranges that are made from errors are made so; those of a model, and of
 * records of before, are only shown and handed over so, and stay on record as calculated.
 * @param never whether demand never was below zero
 */
export const shownRange = <Own extends Range>(
	range: Own | null | undefined,
	never: boolean,
): Own | [number, number] | null =>
	range && never ? [Math.max(0, range[0]), Math.max(0, range[1])] : (range ?? null);
