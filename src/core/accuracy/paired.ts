import { studentQuantile } from '../numbers/student';

/** What an error counts for: its size; of rare demand its square, since by sizes a forecast of nothing would win. */
export type Loss = 'size' | 'square';

export const lossOf = (error: number, by: Loss): number =>
	by === 'square' ? error * error : Math.abs(error);

/** How much less one forecast misses than another over the same periods, and how much of that noise may be. */
export interface PairedLead {
	/** Mean of what the errors of the other count for less those of the one; above 0 where the one misses less. */
	lead: number;
	/** Half the width of the 95 % interval of that mean; null for fewer than `LEAST_PAIRS` periods. */
	noise: number | null;
	count: number;
	/** Whether both say the same in every period, rounding apart. */
	same: boolean;
}

/** Fewer pairs than these tell nothing. */
export const LEAST_PAIRS = 6;

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

/** Whether a lead is more than the noise in it. */
export const isClear = ({ lead, noise }: PairedLead): boolean => noise !== null && Math.abs(lead) > noise;
