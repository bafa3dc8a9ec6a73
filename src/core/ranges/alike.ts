import { orNull } from '../numbers/known';
import { studentQuantile } from '../numbers/student';
import { ENOUGH, type HonestErrors, type Ranges, evenly } from './contract';

/** A world that changes is less sure than its past errors say. */
const MARGIN = 1.1;

/**
 * Ranges from honest errors by the rule of before, which took all errors of a step alike; records that were made by it are checked
 * by it. Half-width 1.1 · t · r_h, r_h being the root mean square of the errors h steps ahead, never less
 * than that of a shorter step, and t the quantile with half as many degrees of freedom as there are errors, since neighbouring
 * origins share most of what they know. With fewer than 8 errors at a step, the last one with as many stands in, times √(h / that
 * step); about a sum of steps, whose errors are sums too, times (h / that step).
 */
export function alikeRanges({ rows }: HonestErrors): Ranges {
	const single = widths((step) => rows.map((row) => row[step - 1] ?? NaN), Math.sqrt);
	// Asked for once, where single steps are asked for at every origin.
	let summed: ReturnType<typeof widths> | null = null;
	const sumOf = (row: Float64Array, steps: number) =>
		row.length < steps ? NaN : row.subarray(0, steps).reduce((a, b) => a + b, 0);
	const ofSums = () =>
		(summed ??= widths(
			(steps) => rows.map((row) => sumOf(row, steps)),
			(share) => share,
		));
	return {
		kind: 'trial',
		basis: single.basis,
		spread: single.root,
		around: (mean, step, level) => evenly(mean, single.half(step, level)),
		together: (mean, steps, level) => evenly(mean, ofSums().half(steps, level)),
		stock: (mean, steps, service) => evenly(mean, ofSums().half(steps, 2 * service - 1))?.[1] ?? null,
	};
}

/** Half-widths by step from the errors at each step, as far as there are enough of them. */
function widths(errorsAt: (step: number) => readonly number[], grown: (share: number) => number) {
	const founded: { root: number; count: number }[] = [];
	for (let step = 1; ; step++) {
		let [count, squared] = [0, 0];
		for (const error of errorsAt(step)) {
			if (Number.isNaN(error)) continue;
			count++;
			squared += error * error;
		}
		if (count < ENOUGH) break;
		const root = Math.max(founded.at(-1)?.root ?? 0, Math.sqrt(squared / count));
		founded.push({ root, count });
	}
	const last = founded.length;
	const knownAt = (step: number) => founded[Math.min(step, last) - 1];
	const grownTo = (step: number) => (step > last ? grown(step / last) : 1);
	return {
		root(step: number): number | null {
			const known = knownAt(step);
			return known ? orNull(known.root * grownTo(step)) : null;
		},
		basis: { count: founded.at(-1)?.count ?? 0, step: last },
		half(step: number, level: number): number | null {
			const known = knownAt(step);
			if (!known) return null;
			return orNull(MARGIN * studentQuantile((1 + level) / 2, known.count / 2) * known.root * grownTo(step));
		},
	};
}
