import tQuantile from '@stdlib/stats-base-dists-t-quantile';

/** By degrees of freedom and probability: few are asked for, each of them with every candidate. */
const known = new Map<number, Map<number, number>>();
const MOST_KEPT = 5000;

/**
 * Quantile of Student's t distribution.
 * @param p 0 … 1
 * @param degrees above 0, whole or not
 */
export function studentQuantile(p: number, degrees: number): number {
	let own = known.get(degrees);
	if (!own) {
		if (known.size === MOST_KEPT) known.clear();
		known.set(degrees, (own = new Map()));
	}
	const value = own.get(p) ?? tQuantile(p, degrees);
	if (own.size < MOST_KEPT) own.set(p, value);
	return value;
}
