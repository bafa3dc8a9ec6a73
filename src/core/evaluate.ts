import { measure, meanChange, type Measures, orNull, type Yardstick } from './accuracy/measures';
import { trackSignal } from './accuracy/tracking';
import { commonPositions, scoredPositions, windowOf } from './accuracy/windows';
import { rollingCheck } from './accuracy/rolling';
import type { AheadStep, Answer, CandidateAnswer, CandidateResult } from './answer';
import { bindFound, type Fit, fitCandidate } from './fit';
import { type CandidateInput, CannotRun, type Run } from './methods/method';
import { distinctNames } from './methods/names';
import { methodOf } from './methods/registry';
import { naive } from './methods/naive';
import { candidateNotes } from './notes/candidate';
import { leadWithinNoise } from './notes/comparison';
import { seriesNotes } from './notes/series';
import { type Ranges, rangesOf } from './ranges/ranges';
import { parseRequest, type ValidRequest } from './request';
import { formatPeriod } from './series/period';
import { firstPeriods, prepareSeries, type Series } from './series/series';

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
	yardstick: Yardstick;
	/** The periods to come, as an answer names them. */
	periods: (string | number)[];
}

/**
 * The whole arithmetic behind one call: fits every candidate, scores it over its own and the common window,
 * tracks it, looks ahead. Pure and synchronous; the shape of request and answer is in docs/http.md.
 * @throws RequestError listing path and message of everything wrong with the request
 */
export function evaluate(input: unknown): Answer {
	const request = parseRequest(input);
	const series = prepareSeries(request.series, request.gaps);
	const fitted = firstPeriods(series, series.values.length - request.holdout);
	const setting: Setting = {
		request,
		series,
		fitted,
		yardstick: yardstickOf(series, fitted.values.length),
		periods: Array.from({ length: request.horizon }, (_, step) =>
			formatPeriod(series.frequency, series.first + series.values.length + step),
		),
	};

	const entries = request.candidates.map((candidate) => enter(setting, candidate));
	const ran = entries.filter((entry) => 'fit' in entry);
	const common = commonPositions(ran.map(({ fit }) => fit.scored));
	const candidates = entries.map((entry): CandidateAnswer =>
		'fit' in entry ? resultOf(setting, entry, common) : entry,
	);
	noteLead(setting, ran, candidates, common);
	return { window: windowOf(common), candidates, notes: seriesNotes(fitted) };
}

function enter({ request, series, fitted }: Setting, candidate: CandidateInput): Entry | CandidateAnswer {
	try {
		const fit = fitCandidate(fitted, candidate, request.scoreFrom ?? null);
		const whole = request.holdout > 0 ? bindFound(series, fit) : fit.run;
		return { fit, whole };
	} catch (error) {
		if (!(error instanceof CannotRun)) throw error;
		return { id: candidate.id, method: candidate.method, ok: false, notes: [error.note] };
	}
}

function yardstickOf(series: Series, span: number): Yardstick {
	const lag = Math.max(1, series.seasonLength);
	const change = meanChange(series.values, lag, span);
	const missing = new Float64Array(series.values.length).fill(NaN);
	const known = series.values.some((value) => !Number.isNaN(value));
	const repeated = known
		? naive.bind(series, { id: 'naive', method: 'naive' }).run(new Float64Array(0)).fitted
		: missing;
	return { naive: repeated, change, lag };
}

function resultOf(setting: Setting, { fit, whole }: Entry, common: Int32Array): CandidateResult {
	const { request, series, fitted, yardstick } = setting;
	const { candidate, run, scored, search } = fit;
	const actual = fitted.values;
	const method = methodOf(candidate.method);
	const own = measure(actual, run.fitted, scored, yardstick);
	const tracking = trackSignal(actual, run.fitted, scored, request.tracking);
	const holdout = request.holdout > 0 ? heldBack(setting, whole) : undefined;
	const ranges = rangesOf(actual, fit, request.horizon);
	const ahead = lookAhead(setting, whole, ranges);
	const notes = candidateNotes({
		method,
		series: fitted,
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
					fitted: listed(run.fitted),
					errors: errorsOf(actual, run.fitted),
					states: Object.fromEntries(
						Object.entries(run.states).map(([key, values]) => [key, listed(values)]),
					),
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
			common: measure(actual, run.fitted, common, yardstick),
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
	{ request, series, yardstick }: Setting,
	whole: Run,
): { ahead: Measures; oneStep: Measures } {
	const n = series.values.length;
	const origin = n - request.holdout;
	const flown = new Float64Array(request.holdout);
	whole.forecast(origin, flown);
	const ahead = new Float64Array(n).fill(NaN);
	ahead.set(flown, origin);
	// Made at the same origin, the naive forecast repeats the last actual before it for every step.
	const naiveAhead = {
		...yardstick,
		naive: yardstick.naive.slice().fill(yardstick.naive[origin] ?? NaN, origin),
	};
	const from = origin + 1;
	return {
		ahead: measure(series.values, ahead, scoredPositions(series.values, ahead, from), naiveAhead),
		oneStep: measure(
			series.values,
			whole.fitted,
			scoredPositions(series.values, whole.fitted, from),
			yardstick,
		),
	};
}

function lookAhead({ request, series, periods }: Setting, whole: Run, ranges: Ranges): AheadStep[] {
	const means = new Float64Array(request.horizon);
	whole.forecast(series.values.length, means);
	return periods.map((period, index) => {
		const step = index + 1;
		const mean = orNull(means[index]!);
		const around: AheadStep['ranges'] = {};
		for (const level of request.levels) {
			around[String(level)] = mean === null ? null : ranges.around(mean, step, level);
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
	return range && { actual, range, level };
}

function noteLead(setting: Setting, ran: Entry[], candidates: CandidateAnswer[], common: Int32Array): void {
	const results = new Map(candidates.filter((answer) => answer.ok).map((answer) => [answer.id, answer]));
	const names = distinctNames(setting.request.candidates, (id) => results.get(id)?.constants);
	const ranked = ran
		.map(({ fit }) => ({
			id: fit.candidate.id,
			name: names.get(fit.candidate.id)!,
			fitted: fit.run.fitted,
			mad: results.get(fit.candidate.id)?.measures.common.mad ?? Infinity,
		}))
		.sort((a, b) => a.mad - b.mad);
	const note = leadWithinNoise(setting.fitted.values, common, ranked);
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
