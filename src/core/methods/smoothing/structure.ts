/** Which parts of the recursion a member has. */
export interface Family {
	readonly trend: 'none' | 'additive' | 'damped';
	readonly season: 'none' | 'additive' | 'multiplicative';
	/** One constant a for level and trend: α = a(2 − a), β = a/(2 − a). */
	readonly single?: true;
}

/** Constants of one pass; or how each of them changes with a parameter. */
export interface Weights {
	alpha: number;
	beta: number;
	gamma: number;
	phi: number;
}

/** What a recursion begins with. */
export interface Begun {
	at: number;
	level: number;
	trend: number;
	season: Float64Array;
	/** Index in `season` of period at + 1. */
	first: number;
}
