import type { Criterion } from '../contract/criteria';
import { minimiseOnInterval } from './interval';

/**
 * The best value of a parameter on which every fitted value depends along a straight line, f_t = a_t + c_t x.
 * Least squares has it in closed form; absolute errors, weighted or not, are least at a weighted median of the
 * points (y_t − a_t)/c_t where single errors vanish; the symmetric percentage is searched between those points.
 * @param actual n actuals
 * @param base a, the fitted values at x = 0
 * @param gain c, how much each fitted value rises with x
 * @param scored 0-based positions
 * @param criterionAt the criterion at x, for the symmetric percentage
 * @returns NaN where no scored period depends on x
 */
export function bestLinear(
	criterion: Criterion,
	actual: Float64Array,
	base: Float64Array,
	gain: Float64Array,
	scored: Int32Array,
	criterionAt: (x: number) => number,
): number {
	if (criterion === 'mse') {
		let across = 0;
		let square = 0;
		for (const i of scored) {
			across += gain[i]! * (actual[i]! - base[i]!);
			square += gain[i]! * gain[i]!;
		}
		return square > 0 ? across / square : NaN;
	}
	const zeros: { at: number; weight: number }[] = [];
	for (const i of scored) {
		const y = actual[i]!;
		const c = gain[i]!;
		const weight = Math.abs(c) * (criterion === 'mape' ? (y === 0 ? 0 : 1 / Math.abs(y)) : 1);
		// Below this a period no longer feels the parameter, and its zero lies far outside the figures.
		if (weight > 0 && Math.abs(c) > 1e-9) zeros.push({ at: (y - base[i]!) / c, weight });
	}
	if (zeros.length === 0) return NaN;
	zeros.sort((a, b) => a.at - b.at);
	if (criterion !== 'smape') return weightedMedian(zeros);
	const heavy = zeros.filter((zero) => zero.weight > 1e-3);
	const range = heavy.length > 0 ? heavy : zeros;
	return minimiseOnInterval(criterionAt, range[0]!.at, range.at(-1)!.at, { cells: 48, most: 160 }).valleys[0]!
		.at;
}

function weightedMedian(sorted: readonly { at: number; weight: number }[]): number {
	const half = sorted.reduce((sum, zero) => sum + zero.weight, 0) / 2;
	let below = 0;
	for (const zero of sorted) {
		below += zero.weight;
		if (below >= half) return zero.at;
	}
	return sorted.at(-1)!.at;
}
