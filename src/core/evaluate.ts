import { measure, meanChange, type Measures, orNull, type Yardstick } from './accuracy/measures';
import { trackSignal } from './accuracy/tracking';
import { commonPositions, scoredPositions, windowOf } from './accuracy/windows';
import { rollingCheck } from './accuracy/rolling';
import type { AheadStep, Answer, CandidateAnswer, CandidateResult } from './answer';
import { bindFound, type Fit, fitCandidate, type SearchMemory } from './fit';
import { type CandidateInput, CannotRun, type Run } from './methods/method';
import { distinctNames } from './methods/names';
import { methodOf } from './methods/registry';
import { naive } from './methods/naive';
import { candidateNotes } from './notes/candidate';
import { leadWithinNoise } from './notes/comparison';
import { seasonFacts, type SeasonFacts, seriesNotes } from './notes/series';
import { type Ranges, rangesOf } from './ranges/ranges';
import { parseRequest, type ValidRequest } from './request';
import { formatPeriod } from './series/period';
import { firstPeriods, inTotals, prepareSeries, type Series, weightAt } from './series/series';

/** A candidate that was fitted, on its way to an answer. */
interface Entry {
	fit: Fit;
	/** The same constants and start moved on through the held-back periods; the fit itself where none are. */
	whole: Run;
}

/** What every candidate of one request shares. */
interface Setting {
	request: ValidRequest;
	/** All periods, and those that are fitted. */
	series: Series;
	fitted: Series;
	/** The figures of all periods in totals: what errors are measured against. */
	totals: Float64Array;
	yardstick: Yardstick;
	/** What the fitted periods say of a season. */
	seasonal: SeasonFacts;
	/** The periods to come, as an answer names them. */
	periods: (string | number)[];
}

/**
 * The whole arithmetic behind one call: fits every candidate, scores it over its own and the common window,
 * tracks it, looks ahead. Pure and synchronous; the shape of request and answer is in docs/http.md.
 * @param memory searches of earlier requests, for callers that ask about one series again and again
 * @throws RequestError listing path and message of everything wrong with the request
 */
export function evaluate(input: unknown, memory?: SearchMemory): Answer {
	const request = parseRequest(input);
	memory?.about(JSON.stringify([request.series, request.gaps, request.holdout]));
	const series = prepareSeries(request.series, request.gaps);
	const fitted = firstPeriods(series, series.values.length - request.holdout);
	const setting: Setting = {
		request,
		series,
		fitted,
		totals: inTotals(series, series.values),
		yardstick: yardstickOf(series, fitted.values.length),
		seasonal: seasonFacts(fitted),
		periods: Array.from({ length: request.horizon }, (_, step) =>
			formatPeriod(series.frequency, series.first + series.values.length + step),
		),
	};

	const entries = request.candidates.map((candidate) => enter(setting, candidate, memory));
	const ran = entries.filter((entry) => 'fit' in entry);
	const common = commonPositions(ran.map(({ fit }) => fit.scored));
	const candidates = entries.map((entry): CandidateAnswer =>
		'fit' in entry ? resultOf(setting, entry, common) : entry,
	);
	noteLead(setting, ran, candidates, common);
	return { window: windowOf(common), candidates, notes: seriesNotes(fitted, setting.seasonal) };
}

function enter(
	{ request, series, fitted }: Setting,
	candidate: CandidateInput,
	memory: SearchMemory | undefined,
): Entry | CandidateAnswer {
	try {
		const fit = fitCandidate(fitted, candidate, request.scoreFrom ?? null, memory);
		const whole = request.holdout > 0 ? bindFound(series, fit) : fit.run;
		return { fit, whole };
	} catch (error) {
		if (!(error instanceof CannotRun)) throw error;
		return { id: candidate.id, method: candidate.method, ok: false, notes: [error.note] };
	}
}

function yardstickOf(series: Series, span: number): Yardstick {
	const lag = Math.max(1, series.seasonLength);
	const change = meanChange(inTotals(series, series.values), lag, span);
	const missing = new Float64Array(series.values.length).fill(NaN);
	const known = series.values.some((value) => !Number.isNaN(value));
	const repeated = known
		? naive.bind(series, { id: 'naive', method: 'naive' }).run(new Float64Array(0)).fitted
		: missing;
	return { naive: inTotals(series, repeated), change, lag };
}

function resultOf(setting: Setting, { fit, whole }: Entry, common: Int32Array): CandidateResult {
	const { request, series, fitted, totals, yardstick } = setting;
	const { candidate, run, scored, search } = fit;
	const actual = totals.subarray(0, fitted.values.length);
	const forecast = inTotals(fitted, run.fitted);
	const method = methodOf(candidate.method);
	const own = measure(actual, forecast, scored, yardstick);
	const tracking = trackSignal(actual, forecast, scored, request.tracking);
	const holdout = request.holdout > 0 ? heldBack(setting, whole) : undefined;
	const ranges = rangesOf(fitted.values, fit, request.horizon);
	const ahead = lookAhead(setting, whole, ranges);
	const notes = candidateNotes({
		method,
		candidate,
		series: fitted,
		seasonal: setting.seasonal,
		search,
		own,
		holdout,
		tracking,
		trackingInput: request.tracking,
		ranges,
		ahead,
		last: lastPeriod(series, whole, ranges, request.levels),
		slope: whole.slope,
	});
	const perPeriod =
		request.detail === 'full'
			? {
					fitted: listed(forecast),
					errors: errorsOf(actual, forecast),
					states: {
						...Object.fromEntries(Object.entries(run.states).map(([key, values]) => [key, listed(values)])),
						...(run.line && { line: run.line }),
					},
					tracking,
				}
			: {};
	return {
		id: candidate.id,
		method: candidate.method,
		kind: method.kind(candidate),
		ok: true,
		constants: fit.constants,
		start: run.start,
		scoreFrom: fit.scoreFrom,
		...perPeriod,
		measures: {
			own,
			common: measure(actual, forecast, common, yardstick),
			...(holdout && { holdout }),
		},
		...(request.rolling && { rolling: rollingCheck(fitted, fit, request.rolling, request.levels) }),
		ahead,
		rangeKind: ranges.kind,
		...(search && { search }),
		notes,
	};
}

function heldBack(
	{ request, series, totals, yardstick }: Setting,
	whole: Run,
): { ahead: Measures; oneStep: Measures } {
	const n = series.values.length;
	const origin = n - request.holdout;
	const flown = new Float64Array(request.holdout);
	whole.forecast(origin, flown);
	const flownRates = new Float64Array(n).fill(NaN);
	flownRates.set(flown, origin);
	const ahead = inTotals(series, flownRates);
	const oneStep = inTotals(series, whole.fitted);
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
		return { step, period, mean, ranges: around };
	});
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

function noteLead(setting: Setting, ran: Entry[], candidates: CandidateAnswer[], common: Int32Array): void {
	const results = new Map(candidates.filter((answer) => answer.ok).map((answer) => [answer.id, answer]));
	const names = distinctNames(setting.request.candidates, (id) => results.get(id)?.constants);
	const ranked = ran
		.map(({ fit }) => ({
			id: fit.candidate.id,
			name: names.get(fit.candidate.id)!,
			fitted: inTotals(setting.fitted, fit.run.fitted),
			mad: results.get(fit.candidate.id)?.measures.common.mad ?? Infinity,
		}))
		.sort((a, b) => a.mad - b.mad);
	const note = leadWithinNoise(setting.totals, common, ranked);
	if (note) results.get(ranked[0]!.id)?.notes.push(note);
}

/** y − f where both exist. */
function errorsOf(actual: Float64Array, fitted: Float64Array): (number | null)[] {
	const list = new Array<number | null>(fitted.length);
	for (let i = 0; i < fitted.length; i++) list[i] = orNull(actual[i]! - fitted[i]!);
	return list;
}

/** As JSON has it: null where there is no finite number. */
function listed(values: Float64Array): (number | null)[] {
	const list = new Array<number | null>(values.length);
	for (let i = 0; i < values.length; i++) list[i] = orNull(values[i]!);
	return list;
}
