import normalQuantile from '@stdlib/stats-base-dists-normal-quantile';
import tQuantile from '@stdlib/stats-base-dists-t-quantile';
import type { Run } from '../contract/model';
import { quantile } from '../numbers/quantile';

export type RangeKind = 'model' | 'empirical';

/** Fewer errors than these at a horizon, and the range is widened from a shorter one instead. */
const ENOUGH = 20;

/** Ranges about a forecast, to be asked step by step. */
export interface Ranges {
	kind: RangeKind;
	/** [low, high] about `mean`; null where nothing is known of the errors. */
	around(mean: number, step: number, level: number): [number, number] | null;
	/** How many errors the longest horizon taken as it stands rests on, and that horizon; for `empirical`. */
	basis: { count: number; step: number } | null;
}

/** What ranges are made from: a pass, and what it is scored over. */
interface Passed {
	run: Run;
	/** 1-based first period that counts. */
	scoreFrom: number;
	/** 0-based positions that count. */
	scored: Int32Array;
	/** q: how many constants and start values were searched. */
	searched: number;
}

/**
 * Ranges of the default kind of a fitted candidate: from the model where its method has one, else from its own errors.
 * @param actual the actuals that it was fitted to
 */
export function rangesOf(
	actual: Float64Array,
	{ run, scored, searched, scoreFrom }: Passed,
	horizon: number,
): Ranges {
	const { spread } = run;
	if (spread) return modelRanges(actual, { ...run, spread }, scored, searched);
	return empiricalRanges(actual, run, scoreFrom, Math.max(1, horizon));
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
	const widths = new Map<number, number>();
	const widthOf = (level: number) => {
		const p = (1 + level) / 2;
		const width = widths.get(level) ?? (degrees === null ? normalQuantile(p, 0, 1) : tQuantile(p, degrees));
		widths.set(level, width);
		return width;
	};
	return {
		kind: 'model',
		basis: null,
		around(mean, step, level) {
			const half = widthOf(level) * sigma * run.spread(step);
			return Number.isFinite(half) ? [mean - half, mean + half] : null;
		},
	};
}

/**
 * Ranges from a candidate's own errors h steps ahead, found by moving the origin through the series with
 * constants frozen: their quantiles about the forecast. Where fewer than 20 such errors exist, those of the
 * longest horizon that has them (or of one step, where none has) are widened by √(h / that horizon).
 * @param scoreFrom 1-based first period whose errors count
 */
function empiricalRanges(actual: Float64Array, run: Run, scoreFrom: number, horizon: number): Ranges {
	const errors = errorsByStep(actual, run, scoreFrom, horizon);
	let longest = 1;
	for (let step = 1; step <= horizon; step++) if (errors[step - 1]!.length >= ENOUGH) longest = step;
	return {
		kind: 'empirical',
		basis: { count: errors[longest - 1]?.length ?? 0, step: longest },
		around(mean, step, level) {
			const known = (errors[step - 1]?.length ?? 0) >= ENOUGH ? step : Math.min(longest, step);
			const made = errors[known - 1]!;
			if (made.length === 0) return null;
			const widen = Math.sqrt(step / known);
			return [mean + widen * quantile(made, (1 - level) / 2), mean + widen * quantile(made, (1 + level) / 2)];
		},
	};
}

/** Errors of the forecasts 1 … horizon steps ahead, from every origin that has one. */
function errorsByStep(actual: Float64Array, run: Run, scoreFrom: number, horizon: number): Float64Array[] {
	const n = run.fitted.length;
	const firstOrigin = Math.max(0, scoreFrom - 1);
	const room = Math.max(0, n - firstOrigin);
	// One block with a row a step; this runs for every move of a dial.
	const errors = new Float64Array(horizon * room);
	const counts = new Int32Array(horizon);
	const ahead = new Float64Array(horizon);
	for (let origin = firstOrigin; origin < n; origin++) {
		run.forecast(origin, ahead);
		const steps = Math.min(horizon, n - origin);
		for (let step = 0; step < steps; step++) {
			const error = actual[origin + step]! - ahead[step]!;
			if (error === error) errors[step * room + counts[step]!++] = error;
		}
	}
	return Array.from(counts, (count, step) => errors.subarray(step * room, step * room + count));
}
