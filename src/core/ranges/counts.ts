import negativeBinomialCdf from '@stdlib/stats-base-dists-negative-binomial-cdf';
import poissonCdf from '@stdlib/stats-base-dists-poisson-cdf';
import { orNull } from '../numbers/known';
import type { Ranges } from './contract';

/** No count is looked for beyond it. */
const MOST = Number.MAX_SAFE_INTEGER;
/** Closer than this share, variance and mean are alike. */
const ALIKE = 1e-9;

/**
 * Pieces that a count does not exceed with a chance: a negative binomial of that mean and variance, Poisson's where they are alike.
 * @param mean of the count, 0 or more
 * @param variance of the count; less than the mean counts as the mean
 * @param chance 0 … 1
 */
export function countQuantile(mean: number, variance: number, chance: number): number {
	if (!(mean > 0)) return 0;
	const more = variance - mean;
	const within =
		more > ALIKE * mean
			? (pieces: number) => negativeBinomialCdf(pieces, (mean * mean) / more, mean / variance)
			: (pieces: number) => poissonCdf(pieces, mean);
	let [below, enough] = [-1, 0];
	while (enough < MOST && !(within(enough) >= chance)) [below, enough] = [enough, Math.max(1, 2 * enough)];
	// By halves: one by one, large counts would take long.
	while (enough - below > 1) {
		const middle = Math.floor((below + enough) / 2);
		if (within(middle) >= chance) enough = middle;
		else below = middle;
	}
	return enough;
}

/**
 * Ranges of rare demand in whole pieces, about a forecast that is its rate: counts of L periods vary as L periods do, and the rate
 * is known as well as the mean of all periods.
 * @param actual n actuals, NaN where missing
 */
export function countRanges(actual: Float64Array): Ranges {
	const known = actual.filter((value) => !Number.isNaN(value));
	const n = known.length;
	const centre = known.reduce((a, b) => a + b, 0) / n;
	const v = known.reduce((sum, value) => sum + (value - centre) ** 2, 0) / Math.max(1, n - 1);
	const varianceOf = (mean: number, steps: number) => Math.max(mean, steps * v + (2 * steps * steps * v) / n);
	const atMost = (mean: number, steps: number, chance: number) =>
		countQuantile(mean, varianceOf(mean, steps), chance);
	const range = (mean: number, steps: number, level: number): [number, number] => [
		atMost(mean, steps, (1 - level) / 2),
		atMost(mean, steps, (1 + level) / 2),
	];
	return {
		kind: 'counts',
		basis: { count: n, step: 1 },
		spread: () => orNull(Math.sqrt(varianceOf(0, 1))),
		around: (mean, _step, level) => range(mean, 1, level),
		together: range,
		stock: atMost,
	};
}
