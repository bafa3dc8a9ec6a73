import { type Measures, measure } from '../accuracy/measures';
import { pairedLead, shareLead } from '../accuracy/paired';
import { alarmOf } from '../accuracy/alarm';
import { trackSignal } from '../accuracy/tracking';
import { type Judged, overWords, scoredPositions } from '../accuracy/windows';
import {
	type Trial,
	lossBy,
	lossesAt,
	missedBy,
	relativeErrorOf,
	scoreSteps,
	scoreTrial,
	sizeBeforehand,
} from './trial';
import {
	type AheadStep,
	type CandidateRefusal,
	type Evaluated,
	type HeldStep,
	type TrialStep,
} from './answer';
import { bindFound } from './fit';
import { type Run } from '../contract/model';
import { listed, orNull } from '../numbers/known';
import { type Candidate, madeFrom, methodOf } from '../methods/registry';
import { type TriedFacts, candidateNotes, judgedNotes } from '../words/candidate';
import { type Ranges } from '../ranges/contract';
import { rangesOf } from '../ranges/ranges';
import { formatPeriod } from '../series/period';
import { type Series, inTotals, weightAt } from '../series/series';
import {
	type Entry,
	type HeldForecasts,
	type EvaluateMemory,
	type Setting,
	orRefused,
	usualTrial,
	sameTrial,
	rangesAsked,
	triedOnce,
	fitOnce,
	sameList,
} from './setting';

/** What one candidate comes to: by itself, and judged over the window that it shares with the others. */

/** Every candidate on its own; what is known from an earlier request is taken from there. */
export function enterAll(setting: Setting, memory: EvaluateMemory | undefined): (Entry | CandidateRefusal)[] {
	const { candidates } = setting.request;
	if (!memory) return candidates.map((candidate) => enter(setting, candidate));
	const keys = candidates.map((candidate) => JSON.stringify([candidate, ...madeFrom(candidate, candidates)]));
	const entries = candidates.map((candidate, i) =>
		memory.entries.recall(keys[i]!, () => enter(setting, candidate)),
	);
	memory.entries.keepOnly(new Set(keys));
	return entries;
}

export function enter(setting: Setting, candidate: Candidate): Entry | CandidateRefusal {
	const { request, series, fitted, totals } = setting;
	return orRefused(candidate, () => {
		const fit = fitOnce(setting, candidate, fitted);
		const whole = request.holdout > 0 ? bindFound(series, fit) : fit.run;
		const forecast = withoutRounding(inTotals(fitted, fit.run.fitted), totals);
		const usual = usualTrial(setting);
		const trial = triedOnce(setting, fit, usual);
		const askedTrial = !request.trial
			? null
			: sameTrial(request.trial, usual)
				? trial
				: triedOnce(setting, fit, { ...request.trial, cycles: usual.cycles });
		const held = request.holdout > 0 ? heldForecasts(setting, fit.run, whole) : null;
		const entry = { fit, forecast, trial, askedTrial, held };
		return { ...entry, alone: answerAlone(setting, entry, whole) };
	});
}

/** Smaller than this share of the largest figure, a difference between actual and forecast is rounding and no error. */
const ROUNDING = 1e-12;

/** Fitted values that differ from their actual by rounding alone are that actual: noise has no tracking signal. */
function withoutRounding(fitted: Float64Array, actual: Float64Array): Float64Array {
	let largest = 0;
	for (const value of actual) if (Math.abs(value) > largest) largest = Math.abs(value);
	return fitted.map((value, i) => (Math.abs(value - actual[i]!) <= ROUNDING * largest ? actual[i]! : value));
}

/** The answer of a candidate, judged over the common window or over its own; known already where it was last judged by the same. */
export function judge(
	{ request, fitted, totals, yardstick, seasonal, wordless }: Setting,
	entry: Entry,
	common: Int32Array,
	judged: Judged,
): Evaluated {
	const before = entry.judged;
	if (before && before.judged === judged && sameList(before.common, common)) return before.result;
	const { alone, forecast } = entry;
	const { own, ...rest } = alone.measures;
	// What stands aside may not be there in all of the periods compared.
	const there = common.filter((i) => !Number.isNaN(forecast[i]!));
	const positions = judged === 'common' ? there : entry.fit.scored;
	const shared = measure(totals, forecast, there, yardstick);
	const tracking = trackSignal(totals, forecast, positions, request.tracking);
	const alarm = alarmOf(positions, tracking.errors, sizeBeforehand(fitted, entry.trial));
	const notes = wordless
		? []
		: judgedNotes({
				method: methodOf(alone.method),
				series: fitted,
				measures: judged === 'common' ? shared : own,
				tracking,
				alarm,
				over: overWords(judged, positions.length, fitted.frequency),
				by: lossBy(seasonal()),
			});
	const result: Evaluated = {
		...alone,
		alarm,
		perPeriod: alone.perPeriod && { ...alone.perPeriod, tracking },
		measures: { own, common: shared, ...rest },
		notes: [...notes, ...alone.notes],
	};
	entry.judged = { common, judged, result };
	return result;
}

function answerAlone(
	setting: Setting,
	{ fit, forecast, trial, askedTrial, held }: Omit<Entry, 'alone'>,
	whole: Run,
): Entry['alone'] {
	const { request, series, fitted, totals, yardstick } = setting;
	const { candidate, run, scored, search } = fit;
	const actual = totals.subarray(0, fitted.values.length);
	const method = methodOf(candidate.method);
	const own = measure(actual, forecast, scored, yardstick);
	const holdout = held ? measuredHeld(setting, held) : undefined;
	const asked = rangesAsked(setting, candidate);
	const ranges = rangesOf(asked, fitted.values, method.modelled?.(candidate) ? () => fit : null, () => trial);
	const ahead = lookAhead(setting, whole, ranges);
	const score =
		request.trial && askedTrial
			? scoreTrial(fitted, askedTrial, request.trial.horizon, request.levels, asked)
			: undefined;
	// What was asked for begins with the same step.
	const firstStep = () =>
		(askedTrial === trial && score?.byStep[0]) || scoreSteps(fitted, trial, 1, request.levels, asked)[0];
	const notes = setting.wordless
		? []
		: candidateNotes({
				method,
				candidate,
				series: fitted,
				seasonal: setting.seasonal,
				search,
				own,
				holdout,
				ranges,
				ahead,
				tried: triedFacts(setting, forecast, trial, firstStep),
				last: lastPeriod(series, whole, ranges, request.levels),
				slope: whole.slope,
				remarks: whole.remarks ?? [],
			});
	return {
		id: candidate.id,
		method: candidate.method,
		kind: fit.kind,
		ok: true,
		constants: fit.constants,
		start: run.start,
		scoreFrom: fit.scoreFrom,
		perPeriod: request.detail === 'full' ? perPeriodOf(run, actual, forecast) : null,
		measures: { own, ...(holdout && { holdout }) },
		...(score && { trial: score }),
		...(held && { heldBack: heldSteps(setting, held, ranges) }),
		ahead,
		rangeKind: ranges.kind,
		together: sumsAhead(setting, ahead, ranges),
		...aheadBeside(setting, whole),
		...(search && { search }),
		notes,
	};
}

/** What a trial says of a candidate: against repeating the last actual, beside its fit, and whether ranges held. */
function triedFacts(
	{ fitted, totals, request: { levels }, seasonal }: Setting,
	forecast: Float64Array,
	trial: Trial,
	firstStep: () => TrialStep | undefined,
): TriedFacts | null {
	const by = lossBy(seasonal());
	const missed = missedBy(fitted, trial);
	if (missed.length === 0) return null;
	const losses = missed.map((each) => lossesAt(each, by));
	const naive = shareLead(
		losses.map(({ own }) => own),
		losses.map(({ naive }) => naive),
	);
	// One period ahead, beside what the fit says of the same periods.
	const beforehand = forecast.slice();
	trial.origins.forEach((origin, place) => {
		beforehand[origin] = totals[origin]! - weightAt(fitted, origin + 1) * trial.rows[place]![0]!;
	});
	const both = trial.origins.filter((i) => !Number.isNaN(forecast[i]! + beforehand[i]!));
	const meanOver = (values: Float64Array) =>
		both.reduce((sum, i) => sum + Math.abs(totals[i]! - values[i]!), 0) / both.length;
	const level = levels.length === 0 ? null : Math.min(...levels);
	const first = level === null ? undefined : firstStep();
	return {
		origins: missed.length,
		relativeError: relativeErrorOf(missed, by),
		by,
		naive,
		fit: {
			lead: pairedLead(totals, forecast, beforehand, both),
			fitted: meanOver(forecast),
			beforehand: meanOver(beforehand),
		},
		held: first && level !== null ? { level, inside: first.inside[String(level)]!, of: first.ranged } : null,
	};
}

function perPeriodOf(run: Run, actual: Float64Array, fitted: Float64Array): Entry['alone']['perPeriod'] {
	return {
		fitted,
		errors: fitted.map((value, i) => actual[i]! - value),
		states: run.states,
		...(run.line && { line: run.line }),
		...(run.indices && { indices: listed(run.indices) }),
		...(run.cycleLevels && { cycleLevels: listed(run.cycleLevels) }),
		...(run.figures && { figures: finiteOnly(run.figures) }),
	};
}

function heldForecasts({ request, series }: Setting, run: Run, whole: Run): HeldForecasts {
	const n = series.values.length;
	const origin = n - request.holdout;
	const flown = new Float64Array(request.holdout);
	run.forecast(origin, flown);
	const rates = new Float64Array(n).fill(NaN);
	rates.set(flown, origin);
	return { ahead: inTotals(series, rates), oneStep: inTotals(series, whole.fitted) };
}

function heldSteps(
	{ request, series }: Setting,
	{ ahead, oneStep }: HeldForecasts,
	ranges: Ranges,
): HeldStep[] {
	const origin = series.values.length - request.holdout;
	return Array.from({ length: request.holdout }, (_, index): HeldStep => {
		const i = origin + index;
		const weight = weightAt(series, i + 1);
		const mean = orNull(ahead[i]!);
		const about = (level: number) => {
			const range = mean === null ? null : ranges.around(mean / weight, index + 1, level);
			return range && ([range[0] * weight, range[1] * weight] as [number, number]);
		};
		return {
			step: index + 1,
			period: formatPeriod(series.frequency, series.first + i),
			mean,
			oneStep: orNull(oneStep[i]!),
			spread: inTotalsOf(ranges.spread(index + 1), weight),
			ranges: Object.fromEntries(request.levels.map((level) => [String(level), about(level)])),
		};
	});
}

function measuredHeld(
	{ request, totals, yardstick, series }: Setting,
	{ ahead, oneStep }: HeldForecasts,
): { ahead: Measures; oneStep: Measures } {
	const origin = series.values.length - request.holdout;
	// Made at the same origin, the naive forecast repeats the last actual before it for every step.
	const naiveAhead = {
		...yardstick,
		naive: yardstick.naive.slice().fill(yardstick.naive[origin] ?? NaN, origin),
	};
	const from = origin + 1;
	return {
		ahead: measure(totals, ahead, scoredPositions(totals, ahead, from), naiveAhead),
		oneStep: measure(totals, oneStep, scoredPositions(totals, oneStep, from), yardstick),
	};
}

function lookAhead({ request, series, periods }: Setting, whole: Run, ranges: Ranges): AheadStep[] {
	const means = new Float64Array(request.horizon);
	whole.forecast(series.values.length, means);
	return periods.map((period, index) => {
		const step = index + 1;
		const rate = orNull(means[index]!);
		const weight = weightAt(series, series.values.length + step);
		const mean = rate === null ? null : rate * weight;
		const around: AheadStep['ranges'] = {};
		for (const level of request.levels) {
			const range = rate === null ? null : ranges.around(rate, step, level);
			around[String(level)] = range && [range[0] * weight, range[1] * weight];
		}
		return { step, period, mean, ranges: around, spread: inTotalsOf(ranges.spread(step), weight) };
	});
}

const inTotalsOf = (rate: number | null, weight: number) => (rate === null ? null : rate * weight);

/** Sums of the next 1, 2, … periods. */
function sumsAhead(
	{ request, series }: Setting,
	ahead: readonly AheadStep[],
	ranges: Ranges,
): Evaluated['together'] {
	const n = series.values.length;
	let [mean, rate, days]: [number | null, number | null, number] = [0, 0, 0];
	return ahead.map((step, index) => {
		const own = weightAt(series, n + index + 1);
		mean = mean === null || step.mean === null ? null : orNull(mean + step.mean);
		rate = rate === null || step.mean === null ? null : orNull(rate + step.mean / own);
		days += own;
		// Errors are those of rates: their sum weighs as the mean day of what is summed.
		const weight = days / (index + 1);
		// What lies off the sum of the rates, off the sum itself.
		const there = (end: number) => mean! + weight * (end - rate!);
		const about = (level: number): [number, number] | null => {
			const range = rate === null || mean === null ? null : ranges.together(rate, index + 1, level);
			return range && [there(range[0]), there(range[1])];
		};
		const { service } = request;
		const stock =
			service == null || rate === null || mean === null ? null : ranges.stock(rate, index + 1, service);
		return {
			mean,
			ranges: Object.fromEntries(request.levels.map((level) => [String(level), about(level)])),
			...(service != null && { stock: stock === null ? null : there(stock) }),
		};
	});
}

/** Means ahead beside the candidate's own: by the levels it keeps, and of the candidates it is made from. */
function aheadBeside({ request, series }: Setting, whole: Run): Pick<Evaluated, 'scenarios' | 'parts'> {
	const n = series.values.length;
	const means = (forecast: (out: Float64Array) => void) => {
		const out = new Float64Array(request.horizon);
		forecast(out);
		return listed(out.map((rate, index) => rate * weightAt(series, n + index + 1)));
	};
	return {
		...(whole.scenarios && whole.scenarios.length > 0 && { scenarios: whole.scenarios.map(means) }),
		...(whole.parts && {
			parts: whole.parts.map(({ id, share, forecast }) => ({
				id,
				share,
				ahead: means((out) => forecast(n, out)),
			})),
		}),
	};
}

/** The last actual beside the range of its own one-step forecast, at the widest level asked for. */
function lastPeriod(series: Series, whole: Run, ranges: Ranges, levels: readonly number[]) {
	if (levels.length === 0) return null;
	const level = Math.max(...levels);
	const actual = series.values.at(-1)!;
	const mean = whole.fitted.at(-1)!;
	if (Number.isNaN(actual) || Number.isNaN(mean)) return null;
	const range = ranges.around(mean, 1, level);
	const weight = weightAt(series, series.values.length);
	return (
		range && {
			actual: actual * weight,
			range: [range[0] * weight, range[1] * weight] as [number, number],
			level,
		}
	);
}

/** Single figures that exist. */
const finiteOnly = (figures: Readonly<Record<string, number>>): Record<string, number> =>
	Object.fromEntries(Object.entries(figures).filter(([, value]) => Number.isFinite(value)));
