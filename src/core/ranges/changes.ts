import { orNull } from '../numbers/known';
import { studentQuantile } from '../numbers/student';
import { evenly, type Ranges } from './contract';
import { neverBelow, shownRange } from './shown';

/** Fewer changes than these say nothing. */
const LEAST = 3;

/**
 * Ranges where nothing could be tried: from the changes of the series itself over `lag` periods, as if each value repeated the one
 * so many periods before. They grow with the root of how often that is repeated; the errors of a sum go together at a lag of 1.
 * @param actual n actuals, NaN where missing
 * @returns null where there are too few changes
 */
export function changeRanges(actual: Float64Array, lag: number): Ranges | null {
	let [count, squared] = [0, 0];
	for (let i = lag; i < actual.length; i++) {
		const change = actual[i]! - actual[i - lag]!;
		if (Number.isNaN(change)) continue;
		count++;
		squared += change * change;
	}
	if (count < LEAST) return null;
	const root = Math.sqrt(squared / count);
	const widthOf = (tail: number) => studentQuantile(tail, count / 2) * root;
	const single = (step: number) => Math.sqrt(Math.ceil(step / lag));
	const summed = (steps: number) =>
		lag === 1 ? Math.sqrt((steps * (steps + 1) * (2 * steps + 1)) / 6) : Math.sqrt(steps);
	const never = neverBelow(actual);
	const ends = (mean: number, half: number) => shownRange(evenly(mean, orNull(half)), never);
	return {
		kind: 'changes',
		basis: { count, step: 1 },
		spread: (step) => orNull(root * single(step)),
		around: (mean, step, level) => ends(mean, widthOf((1 + level) / 2) * single(step)),
		together: (sum, steps, level) => ends(sum, widthOf((1 + level) / 2) * summed(steps)),
		stock: (sum, steps, service) => ends(sum, widthOf(service) * summed(steps))?.[1] ?? null,
	};
}
