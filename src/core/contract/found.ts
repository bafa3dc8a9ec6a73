import type { Criterion } from './criteria';

/** What a search found; constants by name. */
export interface Search {
	criterion: Criterion;
	value: number;
	/** Passes over the series; one that carries k derivatives along counts as 1 + k. */
	evaluations: number;
	/** Distinct minima, deepest first. */
	basins: { constants: Record<string, number>; value: number }[];
	/**
	 * For each searched constant, the range around the best over which the criterion stays within 1 % of it. Of one
	 * constant a searched start value is found anew at each place; of several, everything else is held.
	 */
	flat: Record<string, [number, number]>;
	/** Constants that ended on a bound of their search. */
	atBound: string[];
}

export interface Found {
	/** All parameters of the model, the best values among them. */
	parameters: Float64Array;
	/** How many of them were searched. */
	searched: number;
	search: Search;
}
