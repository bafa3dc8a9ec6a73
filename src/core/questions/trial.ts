import { changeScale, measure, type Measures } from '../accuracy/measures';
import { type Loss, type ShareLead } from '../accuracy/lead';
import { shareLead } from '../accuracy/paired';
import type { TrialScore, TrialStep } from './answer';
import { type Fit, forecastEnd } from './fit';
import { CannotRun } from '../contract/method';
import { keyOf, type Memory } from './memory';
import type { Others } from '../contract/model';
import { orNull } from '../numbers/known';
import type { Rare, SeasonDiagnosis } from '../diagnosis/diagnosis';
import { type Candidate, forecastsRate, methodOf, withTuned } from '../methods/registry';
import type { HonestErrors, RangesAsked, RangeRule } from '../ranges/contract';
import { holds } from '../ranges/holds';
import { rangesOf } from '../ranges/ranges';
import { firstPeriods, inTotals, type Series, weightAt } from '../series/series';

/** Up to so many origins, the latest ones, and steps 1 … horizon; constants held as they were found, or found again at each. */
export interface TrialInput {
	origins: number;
	horizon: number;
	refit: boolean;
	/** Whether two cycles have to be known before the first origin: where a season was found, or the rule of before asks for it. */
	cycles: boolean;
}

/** No origin before so many periods, nor, with a season, before so many cycles. */
const LEAST_PERIODS = 8;
const LEAST_CYCLES = 2;

/** How forecasts made at earlier origins, each from what was known there, compare with what came. */
export interface Trial extends HonestErrors {
	rows: Float64Array[];
	/** Those that a forecast was made at, the oldest first. */
	origins: number[];
	/** What was fitted at each of them, for ranges from its model; nothing for methods without one. */
	fits: (() => Pick<Fit, 'run' | 'scored' | 'searched'>)[];
}

/** A mix is tried where parts with at least this share of it were. */
const LEAST_TRIED = 0.5;

/**
 * What a mix would have missed by, at every origin where enough of its parts were tried, their shares made 1 again: no forecast
 * is made anew for it.
 * @param floor what no forecast of it lies below
 */
export function trialOfMix(
	series: Series,
	parts: readonly { trial: Trial; share: number }[],
	rule: RangeRule,
	floor = -Infinity,
): Trial {
	const mix: Trial = { origins: [], fits: [], rows: [] };
	const origins = new Set(parts.flatMap(({ trial }) => trial.origins));
	for (const origin of [...origins].sort((a, b) => a - b)) {
		const there = parts.flatMap(({ trial, share }) => {
			const row = trial.rows[trial.origins.indexOf(origin)];
			return row ? [{ row, share }] : [];
		});
		const whole = there.length === parts.length;
		const known = there.reduce((sum, { share }) => sum + share, 0);
		if (!whole && (rule === 1 || known < LEAST_TRIED)) continue;
		mix.origins.push(origin);
		mix.rows.push(
			there[0]!.row.map((_, index) => {
				const actual = series.values[origin + index]!;
				const error =
					there.reduce((sum, { row, share }) => sum + share * row[index]!, 0) / (whole ? 1 : known);
				return actual - Math.max(floor, actual - error);
			}),
		);
	}
	return mix;
}

/** What is known at the end of so many periods; the same list for everybody who asks, so that nothing is fitted twice. */
export type Known = (origin: number) => Series;

/**
 * Forecasts from the latest origins, each made from the periods up to it alone: start, indices, lines and levels anew, so
 * that nothing in it has seen what came later. Origins at which the candidate cannot run are passed over.
 * @param held the candidate with its constants held, or as it is, where they are to be found again
 * @param whole the candidate fitted to all periods: where that has seen nothing of what came later, it is asked itself
 * @param others the candidates beside it, held likewise
 * @param memory of trials of the same series
 */
export function trialOf(
	series: Series,
	held: Candidate,
	whole: Fit,
	{ origins: most, horizon, refit, cycles }: TrialInput,
	known: Known,
	others?: Others,
	memory?: Memory<Trial>,
): Trial {
	const input = { origins: most, horizon, refit, cycles };
	// What is made from others is another one with each of them; twins have one trial between them.
	if (memory && !others)
		return memory.recall(keyOf([{ ...held, id: undefined }, whole.scoreFrom, input]), () =>
			trialOf(series, held, whole, input, known),
		);
	const n = series.values.length;
	const first = Math.max(LEAST_PERIODS, cycles ? LEAST_CYCLES * series.seasonLength : 0, n - most);
	const trial: Trial = { origins: [], fits: [], rows: [] };
	const method = methodOf(held.method);
	const size = { periods: n, seasonLength: series.seasonLength };
	const onlyPastFrom = refit ? Infinity : (method.onlyPastFrom?.(held, size) ?? Infinity);
	const modelled = method.modelled?.(held) === true;
	for (let origin = first; origin < n; origin++) {
		const ahead = new Float64Array(Math.min(horizon, n - origin));
		const own = origin >= onlyPastFrom;
		const fit = own
			? () => ({ ...whole, scored: whole.scored.filter((i) => i < origin) })
			: orCannot(() => forecastEnd(known(origin), held, Math.min(whole.scoreFrom, origin), others, ahead));
		if (own) whole.run.forecast(origin, ahead);
		if (!fit || Number.isNaN(ahead[0]!)) continue;
		trial.origins.push(origin);
		if (modelled) trial.fits.push(fit);
		trial.rows.push(ahead.map((rate, index) => series.values[origin + index]! - rate));
	}
	return trial;
}

/** Runs what may find that it cannot: null then. */
function orCannot<Value>(run: () => Value): Value | null {
	try {
		return run();
	} catch (error) {
		if (error instanceof CannotRun) return null;
		throw error;
	}
}

/**
 * A trial step by step, in totals: errors, beside the naive forecast's from the same origins, and how many actuals lay inside
 * the ranges that would have been given with them, made from what was known at each origin.
 */
export function scoreSteps(
	series: Series,
	trial: Trial,
	horizon: number,
	levels: readonly number[],
	asked: RangesAsked,
): TrialStep[] {
	const ranges = trial.origins.map((origin, place) =>
		rangesOf(asked, series.values.subarray(0, origin), trial.fits[place] ?? null, () =>
			knownErrors(trial, place),
		),
	);
	let root = 0;
	return Array.from({ length: horizon }, (_, index): TrialStep => {
		const step = index + 1;
		const inside = Object.fromEntries(levels.map((level) => [String(level), 0]));
		let [count, ranged, absolute, squared, naive] = [0, 0, 0, 0, 0];
		trial.origins.forEach((origin, place) => {
			const error = trial.rows[place]![index] ?? NaN;
			if (Number.isNaN(error)) return;
			const weight = weightAt(series, origin + step);
			const actual = series.values[origin + index]!;
			count++;
			absolute += Math.abs(weight * error);
			squared += (weight * error) ** 2;
			naive += Math.abs(weight * (actual - lastKnown(series, origin)));
			const about = levels.map((level) => ranges[place]!.around(actual - error, step, level));
			if (about.some((range) => range === null)) return;
			ranged++;
			about.forEach((range, i) => {
				if (holds(range!, actual)) inside[String(levels[i])]!++;
			});
		});
		root = Math.max(root, Math.sqrt(squared / count) || 0);
		return {
			step,
			count,
			mad: orNull(absolute / count),
			rms: count > 0 ? root : null,
			naive: orNull(naive / count),
			relativeError: orNull(absolute / naive),
			inside,
			ranged,
		};
	});
}

/** The same with all measures over all origins and steps. */
export const scoreTrial = (
	series: Series,
	trial: Trial,
	horizon: number,
	levels: readonly number[],
	asked: RangesAsked,
): TrialScore => ({
	origins: trial.origins.length,
	byStep: scoreSteps(series, trial, horizon, levels, asked),
	measures: measuresOf(series, trial, horizon),
	missed: missedBy(series, trial),
});

/** All measures over all origins and steps alike, in totals; scaled by the change that the series knows. */
function measuresOf(series: Series, { origins, rows }: Trial, horizon: number): Measures {
	const count = rows.reduce((sum, row) => sum + Math.min(horizon, row.length), 0);
	const [actual, forecast, naive] = [
		new Float64Array(count),
		new Float64Array(count),
		new Float64Array(count),
	];
	const scored: number[] = [];
	let at = 0;
	rows.forEach((row, place) => {
		const origin = origins[place]!;
		const last = lastKnown(series, origin);
		row.subarray(0, horizon).forEach((error, index) => {
			const weight = weightAt(series, origin + index + 1);
			const value = series.values[origin + index]!;
			actual[at] = weight * value;
			forecast[at] = weight * (value - error);
			naive[at] = weight * last;
			if (!Number.isNaN(error)) scored.push(at);
			at++;
		});
	});
	const scale = changeScale(inTotals(series, series.values), series.seasonLength, series.values.length);
	return measure(actual, forecast, scored, { naive, ...scale });
}

/** What forecasts from one origin missed by over all steps that are known, in totals, and what repeating the last actual did. */
export interface Missed {
	/** Periods known there. */
	origin: number;
	/** Steps with an actual. */
	count: number;
	/** Sums of absolute errors. */
	own: number;
	naive: number;
	/** Sums of squared errors. */
	squared: number;
	naiveSquared: number;
	/** Sum of the sizes of what came. */
	actual: number;
}

/** What candidates are compared by on a series. */
export const lossBy = ({ rare }: Pick<SeasonDiagnosis, 'rare'>): Loss => (rare ? 'square' : 'size');

/** What errors at an origin count for, and those of repeating the last actual. */
export const lossesAt = ({ own, naive, squared, naiveSquared }: Missed, by: Loss) =>
	by === 'square' ? { own: squared, naive: naiveSquared } : { own, naive };

/** What was missed by at each origin of a trial where something came. */
export function missedBy(series: Series, { origins, rows }: Trial): Missed[] {
	return origins.flatMap((origin, place) => {
		let [count, own, naive, actual, squared, naiveSquared] = [0, 0, 0, 0, 0, 0];
		const last = lastKnown(series, origin);
		// Where nothing had come in yet there is nothing to repeat.
		if (Number.isNaN(last)) return [];
		rows[place]!.forEach((error, index) => {
			if (Number.isNaN(error)) return;
			const weight = weightAt(series, origin + index + 1);
			const repeated = weight * (series.values[origin + index]! - last);
			own += Math.abs(weight * error);
			naive += Math.abs(repeated);
			squared += (weight * error) ** 2;
			naiveSquared += repeated * repeated;
			actual += Math.abs(weight * series.values[origin + index]!);
			count++;
		});
		return count > 0 ? [{ origin, count, own, naive, actual, squared, naiveSquared }] : [];
	});
}

/** How much closer one came than another over the origins that both have; null where that cannot be computed. */
export function leadBetween(
	one: readonly Missed[],
	other: readonly Missed[],
	by: Loss = 'size',
): ShareLead | null {
	const beside = new Map(other.map((missed) => [missed.origin, lossesAt(missed, by).own]));
	const shared = one.flatMap((missed) => {
		const others = beside.get(missed.origin);
		return others === undefined ? [] : [{ own: lossesAt(missed, by).own, others }];
	});
	return shareLead(
		shared.map(({ own }) => own),
		shared.map(({ others }) => others),
	);
}

/** What was missed by over that of repeating the last actual, by squares as a root; null where that never missed. */
export function relativeErrorOf(missed: readonly Missed[], by: Loss = 'size'): number | null {
	const sum = (of: 'own' | 'naive') => missed.reduce((total, each) => total + lossesAt(each, by)[of], 0);
	const share = sum('own') / sum('naive');
	return orNull(by === 'square' ? Math.sqrt(share) : share);
}

/** Mean size of the errors one step ahead, in totals; null where nothing was missed by. */
export function sizeBeforehand(series: Series, { origins, rows }: Trial): number | null {
	let [sum, count] = [0, 0];
	rows.forEach(([error], place) => {
		if (Number.isNaN(error)) return;
		sum += Math.abs(weightAt(series, origins[place]! + 1) * error!);
		count++;
	});
	return sum > 0 ? orNull(sum / count) : null;
}

/** The errors of a trial that were known at one of its origins. */
function knownErrors({ origins, rows }: Trial, place: number): HonestErrors {
	return {
		origins,
		rows: rows
			.slice(0, place)
			.map((row, earlier) => row.subarray(0, Math.max(0, origins[place]! - origins[earlier]!))),
	};
}

/**
 * What ranges a candidate is to have.
 * @param rare what the series' diagnosis says of rare demand; only asked where that matters
 */
export function askedOf(
	{ seasonLength, days }: Series,
	candidate: Candidate,
	candidates: readonly Candidate[],
	rule: RangeRule,
	rare: () => Rare | null,
): RangesAsked {
	return {
		kind: candidate.ranges,
		rule,
		counts: rule > 1 && !days && forecastsRate(candidate, candidates) && rare()?.whole === true,
		lag: candidate.method === 'seasonal-naive' ? Math.max(1, seasonLength) : 1,
	};
}

/** The first periods of a series, each number of them made once. */
export function prefixesOf(series: Series): Known {
	const made = new Map<number, Series>();
	return (origin) => {
		const known = made.get(origin) ?? firstPeriods(series, origin);
		made.set(origin, known);
		return known;
	};
}

/** A candidate with its constants held as they were found. */
export const heldAt = (candidate: Candidate, { constants }: Pick<Fit, 'constants'>): Candidate =>
	Object.keys(constants).length === 0 ? candidate : withTuned(candidate, { constants, optimise: undefined });

/** The rate of the latest present period up to an origin; NaN where there is none. */
export function lastKnown({ values }: Series, origin: number): number {
	for (let i = origin - 1; i >= 0; i--) if (!Number.isNaN(values[i]!)) return values[i]!;
	return NaN;
}
