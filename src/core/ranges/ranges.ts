import normalQuantile from '@stdlib/stats-base-dists-normal-quantile';
import { orNull } from '../numbers/known';
import { studentQuantile } from '../numbers/student';
import type { Run } from '../contract/model';

export const RANGE_KINDS = ['model', 'trial'] as const;
/** From the model of a method, or from errors of forecasts that had seen nothing of what came. */
export type RangeKind = (typeof RANGE_KINDS)[number];

/** Fewer honest errors than these at a step, and the range is widened from an earlier one. */
const ENOUGH = 8;
/** A world that changes is less sure than its past errors say. */
const MARGIN = 1.1;

/** Errors of forecasts made at earlier origins from what was known there: a row an origin, the oldest first, a column a step. */
export interface HonestErrors {
	/** Rates; NaN where an actual is missing. A row ends with the last actual. */
	rows: readonly Float64Array[];
}

/** Ranges about a forecast, to be asked step by step. */
export interface Ranges {
	kind: RangeKind;
	/** [low, high] about `mean`; null where nothing is known of the errors. */
	around(mean: number, step: number, level: number): [number, number] | null;
	/** Root mean square of the errors so many steps ahead; null where nothing is known of them. */
	spread(step: number): number | null;
	/** Half of the width of the range about the sum of the next `steps` periods; null where nothing is known. */
	together(steps: number, level: number): number | null;
	/** How many honest errors the last step taken as it stands rests on, and that step; for `trial`. */
	basis: { count: number; step: number } | null;
}

/** What ranges of a model are made from: a pass, and what it is scored over. */
interface Passed {
	run: Run;
	/** 0-based positions that count. */
	scored: Int32Array;
	/** q: how many constants and start values were searched. */
	searched: number;
}

/**
 * Ranges of a fitted candidate: from a trial of it, unless it asks for those of its model or there are too few honest errors;
 * a method without a model has none to fall back on.
 * @param asked the kind that the candidate asks for
 * @param actual the actuals that it was fitted to
 * @param fit only asked where its model is needed; null for a method without one
 * @param errors of a trial of it; only asked where they are needed
 */
export function rangesOf(
	asked: RangeKind | undefined,
	actual: Float64Array,
	fit: (() => Passed) | null,
	errors: () => HonestErrors,
): Ranges {
	const model = () => {
		const { run, scored, searched } = fit?.() ?? {};
		return run?.spread ? modelRanges(actual, { ...run, spread: run.spread }, scored!, searched!) : null;
	};
	const own = asked === 'model' ? model() : null;
	if (own) return own;
	const trial = trialRanges(errors());
	return trial.basis!.count === 0 ? (model() ?? trial) : trial;
}

/**
 * Ranges from the model of a method: half-width z·σ·spread(h), σ² = Σe² / max(1, m − q); for a regression its own σ
 * and the t distribution in place of the normal.
 * @param scored 0-based scored positions
 * @param searched q, the number of constants and start values that were searched
 */
function modelRanges(
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
		around: (mean, step, level) => about(mean, halfOf(level, run.spread(step))),
		together: (steps, level) => halfOf(level, run.spreadOfSum?.(steps)),
	};
}

/**
 * Ranges from honest errors: half-width 1.1 · t · r_h, r_h being the root mean square of the errors h steps ahead, never less
 * than that of a shorter step, and t the quantile with half as many degrees of freedom as there are errors, since neighbouring
 * origins share most of what they know. With fewer than 8 errors at a step, the last one with as many stands in, times √(h / that
 * step); about a sum of steps, whose errors are sums too, times (h / that step).
 */
export function trialRanges({ rows }: HonestErrors): Ranges {
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
		around: (mean, step, level) => about(mean, single.half(step, level)),
		together: (steps, level) => ofSums().half(steps, level),
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

const about = (mean: number, half: number | null): [number, number] | null =>
	half === null ? null : [mean - half, mean + half];
