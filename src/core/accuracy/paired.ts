import { studentQuantile } from '../numbers/student';
import { LEAST_PAIRS, type Loss, type PairedLead, type ShareLead, lossOf } from './lead';

/** Smaller than this share of the errors, a difference is rounding. */
const ROUNDING = 1e-9;

/**
 * Compares two forecasts by the paired differences of what their errors count for. The noise is that of Student's t, widened
 * where neighbouring differences are alike (the lag-one correlation r, between 0 and 0.9, by √((1 + r) ÷ (1 − r))).
 * @param positions 0-based periods where actual and both forecasts exist, in order
 * @returns null where the figures run beyond what can be computed with
 */
export function pairedLead(
	actual: Float64Array,
	one: Float64Array,
	other: Float64Array,
	positions: ArrayLike<number>,
	by: Loss = 'size',
): PairedLead | null {
	const count = positions.length;
	const differences = new Float64Array(count);
	let [errors, sizes] = [0, 0];
	let apart = 0;
	for (let place = 0; place < count; place++) {
		const i = positions[place]!;
		const [own, others] = [actual[i]! - one[i]!, actual[i]! - other[i]!];
		const [loss, lossOfOther] = [lossOf(own, by), lossOf(others, by)];
		differences[place] = lossOfOther - loss;
		sizes += Math.abs(others) + Math.abs(own);
		errors += lossOfOther + loss;
		apart = Math.max(apart, Math.abs(one[i]! - other[i]!) - ROUNDING * Math.abs(actual[i]!));
	}
	const same = count > 0 && apart <= ROUNDING * (sizes / count);
	return leadFrom(differences, errors, same);
}

/**
 * The same from the differences themselves.
 * @param differences what the other misses by less what the one does, in order
 * @param errors sum of what both miss by: what is smaller than rounding of it is no difference
 */
export function leadFrom(differences: Float64Array, errors: number, same = false): PairedLead | null {
	if (!Number.isFinite(errors)) return null;
	const count = differences.length;
	const sum = differences.reduce((a, b) => a + b, 0);
	const mean = count > 0 ? sum / count : 0;
	const lead = Math.abs(sum) <= ROUNDING * errors ? 0 : mean;
	const noise = count < LEAST_PAIRS ? null : noiseOf(differences, mean);
	return noise !== null && !Number.isFinite(noise) ? null : { lead, noise, count, same };
}

function noiseOf(differences: Float64Array, mean: number): number {
	let squares = 0;
	let products = 0;
	let before = 0;
	for (const difference of differences) {
		const off = difference - mean;
		squares += off * off;
		products += off * before;
		before = off;
	}
	const alike = squares > 0 ? Math.min(0.9, Math.max(0, products / squares)) : 0;
	const error = Math.sqrt(
		(squares / (differences.length - 1) / differences.length) * ((1 + alike) / (1 - alike)),
	);
	return studentQuantile(0.975, differences.length - 1) * error;
}

/** What both miss by at an origin counts as no less than this share of what they miss by on average: where one missed by nothing, the ratio says too much. */
const LEAST_MISSED = 0.02;

/**
 * Compares two forecasts by the share of what they missed by, origin by origin: the log of the ratio of both. A few origins where
 * much was missed do not decide alone, nor hide what all the others say. The noise is that of `pairedLead`.
 * @param own what the errors of the one counted for at each origin, in order
 * @param others the same of the other
 * @returns null where the figures run beyond what can be computed with
 */
export function shareLead(own: readonly number[], others: readonly number[]): ShareLead | null {
	const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0);
	const [missed, missedByOther] = [sum(own), sum(others)];
	const both = missed + missedByOther;
	if (!Number.isFinite(both)) return null;
	const count = own.length;
	const gain = missedByOther > 0 ? 1 - missed / missedByOther : missed > 0 ? -Infinity : 0;
	if (Math.abs(missedByOther - missed) <= ROUNDING * both)
		return { lead: 0, noise: count < LEAST_PAIRS ? null : 0, count, same: false, gain: 0 };
	const least = (LEAST_MISSED * both) / (2 * count);
	const logs = Float64Array.from(own, (each, i) =>
		Math.log(Math.max(least, others[i]!) / Math.max(least, each)),
	);
	const lead = logs.reduce((a, b) => a + b, 0) / count;
	return { lead, noise: count < LEAST_PAIRS ? null : noiseOf(logs, lead), count, same: false, gain };
}
