import normalQuantile from '@stdlib/stats-base-dists-normal-quantile';
import { orNull } from '../numbers/known';
import { studentQuantile } from '../numbers/student';
import type { Run } from '../contract/model';
import { evenly, type Ranges } from './contract';

/** What ranges of a model are made from: a pass, and what it is scored over. */
export interface Passed {
	run: Run;
	/** 0-based positions that count. */
	scored: Int32Array;
	/** q: how many constants and start values were searched. */
	searched: number;
}

/**
 * Ranges from the model of a method: half-width z·σ·spread(h), σ² = Σe² / max(1, m − q); for a regression its own σ
 * and the t distribution in place of the normal.
 * @param scored 0-based scored positions
 * @param searched q, the number of constants and start values that were searched
 */
export function modelRanges(
	actual: Float64Array,
	run: Run & Required<Pick<Run, 'spread'>>,
	scored: Int32Array,
	searched: number,
): Ranges {
	let squared = 0;
	for (const i of scored) squared += (actual[i]! - run.fitted[i]!) ** 2;
	const own = scored.length > 0 ? Math.sqrt(squared / Math.max(1, scored.length - searched)) : NaN;
	const { sigma, degrees } = run.regression ?? { sigma: own, degrees: null };
	const widthOf = (level: number) => {
		const tail = (1 + level) / 2;
		return degrees === null ? normalQuantile(tail, 0, 1) : studentQuantile(tail, degrees);
	};
	const halfOf = (level: number, times: number | undefined) =>
		times === undefined ? null : orNull(widthOf(level) * sigma * times);
	return {
		kind: 'model',
		basis: null,
		spread: (step) => orNull(sigma * run.spread(step)),
		around: (mean, step, level) => evenly(mean, halfOf(level, run.spread(step))),
		together: (sum, steps, level) => evenly(sum, halfOf(level, run.spreadOfSum?.(steps))),
		stock: (sum, steps, service) =>
			evenly(sum, halfOf(2 * service - 1, run.spreadOfSum?.(steps)))?.[1] ?? null,
	};
}
