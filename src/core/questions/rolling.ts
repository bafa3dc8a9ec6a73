import type { HorizonScore, RollingScore } from './answer';
import { type Fit, fitCandidate } from './fit';
import { CannotRun } from '../contract/method';
import type { Others } from '../contract/model';
import { withTuned } from '../methods/registry';
import { rangesOf } from '../ranges/ranges';
import { firstPeriods, type Series, weightAt } from '../series/series';
import { orNull } from '../numbers/known';

/** Origins from `from` (periods known) to n − 1, steps 1 … horizon, fitted anew at each or with frozen constants. */
export interface RollingInput {
	from: number;
	horizon: number;
	refit: boolean;
}

/**
 * Rolling check: at each origin the candidate is fitted to the periods up to it alone and forecasts from there.
 * Coverage counts the one-step ranges, which do not overlap. Origins at which the method cannot run yet are passed over.
 * @param others the candidates beside it, fitted to what is known at each origin as well
 */
export function rollingCheck(
	series: Series,
	fit: Fit,
	{ from, horizon, refit }: RollingInput,
	levels: readonly number[],
	others?: Others,
): RollingScore {
	const { values } = series;
	const sums = Array.from({ length: horizon }, () => ({
		count: 0,
		absolute: 0,
		squared: 0,
		percent: 0,
		percentCount: 0,
	}));
	const covered = Object.fromEntries(levels.map((level) => [String(level), { inside: 0, count: 0 }]));
	const candidate = refit
		? fit.candidate
		: Object.keys(fit.constants).length === 0
			? fit.candidate
			: withTuned(fit.candidate, {
					constants: fit.constants,
					...(fit.search && { optimise: { hold: fit.constants } }),
				});
	const ahead = new Float64Array(horizon);
	for (let origin = from; origin < values.length; origin++) {
		const known = firstPeriods(series, origin);
		const there = tryFit(known, candidate, fit.scoreFrom, others);
		if (!there) continue;
		there.run.forecast(origin, ahead);
		for (let step = 1; step <= horizon && origin + step <= values.length; step++) {
			const weight = weightAt(series, origin + step);
			const y = weight * values[origin + step - 1]!;
			const error = y - weight * ahead[step - 1]!;
			if (Number.isNaN(error)) continue;
			const sum = sums[step - 1]!;
			sum.count++;
			sum.absolute += Math.abs(error);
			sum.squared += error * error;
			if (y !== 0) {
				sum.percent += Math.abs(error / y);
				sum.percentCount++;
			}
		}
		cover(covered, known.values, there, values[origin]!, ahead[0]!, levels);
	}
	const byHorizon = sums.map((sum, index): HorizonScore => ({
		step: index + 1,
		count: sum.count,
		mad: orNull(sum.absolute / sum.count),
		mse: orNull(sum.squared / sum.count),
		mape: orNull((100 * sum.percent) / sum.percentCount),
	}));
	return { byHorizon, covered };
}

function tryFit(
	series: Series,
	candidate: Fit['candidate'],
	scoreFrom: number,
	others: Others | undefined,
): Fit | null {
	try {
		return fitCandidate(series, candidate, scoreFrom, others);
	} catch (error) {
		if (error instanceof CannotRun) return null;
		throw error;
	}
}

function cover(
	covered: RollingScore['covered'],
	known: Float64Array,
	fit: Fit,
	actual: number,
	mean: number,
	levels: readonly number[],
): void {
	if (Number.isNaN(actual) || Number.isNaN(mean)) return;
	const ranges = rangesOf(known, fit, 1);
	for (const level of levels) {
		const range = ranges.around(mean, 1, level);
		if (!range) continue;
		const share = covered[String(level)]!;
		share.count++;
		if (actual >= range[0] && actual <= range[1]) share.inside++;
	}
}
