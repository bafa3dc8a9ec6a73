import { measure, meanChange, type Measures, type Yardstick } from '../accuracy/measures';
import {
	type Loss,
	lossOf,
	pairedLead,
	type PairedLead,
	type ShareLead,
	shareLead,
} from '../accuracy/paired';
import { alarmOf } from '../accuracy/alarm';
import { trackSignal } from '../accuracy/tracking';
import { commonPositions, type Judged, overWords, scoredPositions, windowOf } from '../accuracy/windows';
import {
	askedOf,
	relativeErrorOf,
	heldAt,
	leadBetween,
	lossBy,
	lossesAt,
	type Missed,
	missedBy,
	prefixesOf,
	scoreSteps,
	scoreTrial,
	sizeBeforehand,
	type Trial,
	type TrialInput,
	trialOf,
	trialOfMix,
	USUAL_ORIGINS,
} from './trial';
import {
	type AheadStep,
	type Answer,
	type CandidateRefusal,
	type HeldStep,
	type Reading,
	type Evaluated,
	type Evaluation,
	type PerPeriod,
	type TrialStep,
	written,
} from './answer';
import { diagnoseSeason, type SeasonDiagnosis } from '../diagnosis/diagnosis';
import { bindFound, type Fit, fitCandidate } from './fit';
import { Memory } from './memory';
import { CannotRun } from '../contract/method';
import type { Others, Run } from '../contract/model';
import { distinctNames } from '../methods/names';
import { listed, orNull } from '../numbers/known';
import { type Candidate, madeFrom, methodOf } from '../methods/registry';
import { naive } from '../methods/naive';
import { candidateNotes, judgedNotes, type TriedFacts } from '../words/candidate';
import { leadNote } from '../words/comparison';
import type { Note } from '../contract/note';
import { seriesNotes } from '../words/series';
import type { Ranges, RangesAsked } from '../ranges/contract';
import { rangesOf } from '../ranges/ranges';
import { parseRequest, type ValidRequest } from './request';
import { periodsInWords } from '../series/frequency';
import { formatPeriod } from '../series/period';
import { firstPeriods, inTotals, prepareSeries, type Series, weightAt } from '../series/series';

/** A candidate that was fitted, on its way to an answer. */
interface Entry {
	fit: Fit;
	/** n fitted values in totals. */
	forecast: Float64Array;
	/** What forecasts of it from earlier origins would have missed by, as ranges need it and as it was asked for. */
	trial: Trial;
	askedTrial: Trial | null;
	/** Forecasts of the periods held back in totals, n figures. */
	held: HeldForecasts | null;
	/** All of its answer that does not depend on the other candidates. */
	alone: Omit<Evaluated, 'measures' | 'perPeriod' | 'alarm'> & {
		measures: Omit<Evaluated['measures'], 'common'>;
		perPeriod: Omit<PerPeriod, 'tracking'> | null;
	};
	/** All of it, as it was last judged. */
	judged?: { common: Int32Array; judged: Judged; result: Evaluated };
}

/** The periods held back, all forecast at the cut, and each one period before it came. */
interface HeldForecasts {
	ahead: Float64Array;
	oneStep: Float64Array;
}

/** What a series is by itself, whatever is tried on it. */
interface Subject {
	/** All periods, and those that are fitted. */
	series: Series;
	fitted: Series;
	/** The figures of all periods in totals: what errors are measured against. */
	totals: Float64Array;
	yardstick: Yardstick;
	/** What the fitted periods say of a season of the length in force, and what is to be said of them; looked at when somebody first asks. */
	seasonal: () => SeasonDiagnosis;
	notes: () => Note[];
}

/**
 * What a caller keeps who asks about one series again and again, so that turning one candidate's dial works out
 * nothing anew for the others.
 */
export class EvaluateMemory {
	readonly fits = new Memory<Fit>();
	readonly trials = new Memory<Trial>();
	readonly entries = new Memory<Entry | CandidateRefusal>();
	readonly subjects = new Memory<Subject>();
	readonly diagnoses = new Memory<SeasonDiagnosis>();
	/** The figures last asked about, which may be many, and a number for them. */
	#asked: { values: ValidRequest['series']['values']; number: number } | null = null;

	/** Names the series that is asked about: what was searched on it is known. */
	aboutSeries({
		series: { values, ...series },
		gaps,
		holdout,
	}: Pick<ValidRequest, 'series' | 'gaps' | 'holdout'>): string {
		if (!this.#asked || !sameList(this.#asked.values, values))
			this.#asked = { values, number: (this.#asked?.number ?? 0) + 1 };
		const subject = JSON.stringify([series, gaps, holdout, this.#asked.number]);
		this.fits.about(subject);
		this.trials.about(subject);
		this.subjects.about(subject);
		this.diagnoses.about(subject);
		return subject;
	}

	/** Names what is asked about. */
	about(request: ValidRequest): void {
		const subject = this.aboutSeries(request);
		const rest = { ...request, series: undefined, gaps: undefined, holdout: undefined };
		// What a candidate is by itself does not depend on the others, nor on the window it is judged over.
		const settings = JSON.stringify({ ...rest, candidates: undefined, window: undefined });
		this.entries.about(`${settings} ${subject}`);
	}
}

/** What every candidate of one request shares. */
interface Setting extends Subject {
	request: ValidRequest;
	/** The periods to come, as an answer names them. */
	periods: (string | number)[];
	/** Fits of the same series that were made before. */
	kept: Memory<Fit> | undefined;
	trials: Memory<Trial> | undefined;
	/** The same with every constant held as it was found, for what is made anew at earlier origins; made when first asked for. */
	held: () => Setting;
	/** Whether nobody reads what is said of a candidate. */
	wordless: boolean;
	/** What was known at the end of so many periods. */
	known: (origin: number) => Series;
	/** Trials by candidate and question. */
	tried: Map<string, Trial>;
	/** Fits of candidates by id, to each series that they are asked for, and their runs over all periods: each made once. */
	fits: WeakMap<Series, Map<string, Fit>>;
	wholes: WeakMap<Fit, Run>;
}

/**
 * The whole arithmetic behind one call: fits every candidate, scores it over its own and the common window,
 * tracks it, looks ahead. Pure and synchronous; the shape of request and answer is in docs/http.md.
 * @param memory of earlier requests; the answer is the same with and without it
 * @throws RequestError listing path and message of everything wrong with the request
 */
export function evaluate(input: unknown, memory?: EvaluateMemory): Answer {
	return written(evaluateChecked(parseRequest(input), memory));
}

/** The same for a request that was checked already, as it is computed. */
export function evaluateChecked(request: ValidRequest, memory?: EvaluateMemory): Evaluation {
	const setting = settingOf(request, memory);
	const entries = enterAll(setting, memory);
	const ran = entries.filter((entry): entry is Entry => 'fit' in entry && isCompared(setting, entry.fit));
	const common = commonPositions(ran.map(({ fit }) => fit.scored));
	const judged = judgedOver(request, common);
	return {
		window: windowOf(common),
		judged,
		candidates: entries.map((entry) => ('fit' in entry ? judge(setting, entry, common, judged) : entry)),
		leads: leadsOf(setting, ran, judged === 'common' ? common : null),
		notes: setting.notes(),
	};
}

/** What a forecast goes on record by. */
export interface ForecastAnswer {
	/** As in the whole answer, but for what is said of it in words; that it cannot run, with the reason. */
	answer: Evaluated | CandidateRefusal;
	/** Of all candidates of the request; none where one cannot run. */
	constants: Fit['constants'][];
	/** What the forecast, and the one beside it, missed by in trials of all its steps; null where one of both cannot run. */
	missed: { own: Missed[]; beside: Missed[] } | null;
	/** What they are compared by. */
	by: Loss;
}

/**
 * What the first candidate of a request comes to.
 * @param beside id of one that it is compared with
 */
export function evaluateForecast(
	request: ValidRequest,
	beside: string | null,
	memory?: EvaluateMemory,
): ForecastAnswer {
	const setting = { ...settingOf(request, memory), wordless: true };
	const fits = request.candidates.map((candidate) =>
		orRefused(candidate, () => fitOnce(setting, candidate, setting.fitted)),
	);
	const ran = fits.filter((fit): fit is Fit => !('ok' in fit) && isCompared(setting, fit));
	const common = commonPositions(ran.map(({ scored }) => scored));
	const entry = enter(setting, request.candidates[0]!);
	const other = fits[request.candidates.findIndex(({ id }) => id === beside)];
	const missedOf = (fit: Fit) => missedBy(setting.fitted, triedOnce(setting, fit, usualTrial(setting)));
	return {
		answer: 'fit' in entry ? judge(setting, entry, common, judgedOver(request, common)) : entry,
		constants: fits.map((fit) => ('ok' in fit ? {} : fit.constants)),
		missed:
			'fit' in entry && other && !('ok' in other)
				? { own: missedBy(setting.fitted, entry.trial), beside: missedOf(other) }
				: null,
		by: lossBy(setting.seasonal()),
	};
}

/** What each candidate forecasts for the periods to come, in totals, and nothing else of it; null where there is no figure. */
export function meansAhead(request: ValidRequest, memory?: EvaluateMemory): (number | null)[][] {
	const setting = settingOf(request, memory);
	return request.candidates.map((candidate) => {
		const fit = orRefused(candidate, () => fitOnce(setting, candidate, setting.fitted));
		const rates = new Float64Array(request.horizon).fill(NaN);
		if (!('ok' in fit)) fit.run.forecast(setting.series.values.length, rates);
		return Array.from(rates, (rate, h) =>
			orNull(rate * weightAt(setting.series, setting.series.values.length + h + 1)),
		);
	});
}

/**
 * What one candidate of a request would have missed by from earlier origins, and the series that it was tried on.
 * @throws CannotRun with the reason
 */
export function triedBeforehand(request: ValidRequest, id: string): { series: Series; trial: Trial } {
	const setting = settingOf(request);
	const candidate = request.candidates.find((each) => each.id === id)!;
	const trial = triedOnce(setting, fitOnce(setting, candidate, setting.fitted), usualTrial(setting));
	return { series: setting.fitted, trial };
}

const isCompared = ({ request }: Setting, { candidate }: Fit) => !request.aside.includes(candidate.id);
const judgedOver = ({ window }: ValidRequest, common: Int32Array): Judged =>
	window === 'own' || common.length === 0 ? 'own' : 'common';

/** What a candidate comes to, or that it cannot, with the reason. */
function orRefused<Value>({ id, method }: Candidate, work: () => Value): Value | CandidateRefusal {
	try {
		return work();
	} catch (error) {
		if (!(error instanceof CannotRun)) throw error;
		return { id, method, ok: false, notes: [error.note] };
	}
}

function settingOf(request: ValidRequest, memory?: EvaluateMemory): Setting {
	memory?.about(request);
	const make = () => subjectOf(request, memory);
	const subject = memory ? memory.subjects.recall('', make) : make();
	const { series } = subject;
	const setting: Setting = {
		...subject,
		request,
		periods: Array.from({ length: request.horizon }, (_, step) =>
			formatPeriod(series.frequency, series.first + series.values.length + step),
		),
		kept: memory?.fits,
		trials: memory?.trials,
		wordless: false,
		tried: new Map(),
		fits: new WeakMap(),
		wholes: new WeakMap(),
		known: prefixesOf(subject.fitted),
		held: once(() => ({
			...setting,
			fits: new WeakMap(),
			request: {
				...request,
				candidates: request.candidates.map((candidate) => heldWhereFitted(setting, candidate)),
			},
		})),
	};

	return setting;
}

function subjectOf({ series: input, gaps, holdout }: ValidRequest, memory?: EvaluateMemory): Subject {
	const series = prepareSeries(input, gaps);
	const fitted = firstPeriods(series, series.values.length - holdout);
	const diagnosis = () =>
		diagnoseSeason(inTotals(fitted, fitted.values), {
			frequency: fitted.frequency,
			expected: fitted.seasonLength,
			only: true,
		});
	const seasonal = once(() => (memory ? memory.diagnoses.recall('', diagnosis) : diagnosis()));
	return {
		series,
		fitted,
		totals: inTotals(series, series.values),
		yardstick: yardstickOf(series, fitted.values.length),
		seasonal,
		notes: once(() => seriesNotes(fitted, seasonal())),
	};
}

/** Makes something when it is first asked for. */
function once<Value>(make: () => Value): () => Value {
	let made: { value: Value } | null = null;
	return () => (made ??= { value: make() }).value;
}

/** A candidate with its constants held as they were found; as it is where it has none, or cannot run. */
function heldWhereFitted(setting: Setting, candidate: Candidate): Candidate {
	try {
		return heldAt(candidate, fitOnce(setting, candidate, setting.fitted));
	} catch (error) {
		if (error instanceof CannotRun) return candidate;
		throw error;
	}
}

/** Trials begin when two cycles are known where there is a season; by the first rule always. */
const needsCycles = ({ request, seasonal }: Setting) => request.rangeRule === 1 || seasonal().season !== null;

/** The trial that ranges, notes and the alarm rest on. */
const usualTrial = (setting: Setting): TrialInput => ({
	origins: USUAL_ORIGINS,
	horizon: Math.max(1, setting.request.horizon),
	refit: false,
	cycles: needsCycles(setting),
});

const sameTrial = (a: NonNullable<ValidRequest['trial']>, b: TrialInput) =>
	a.origins === b.origins && a.horizon === b.horizon && a.refit === b.refit;

/** What ranges a candidate is to have, as a proposal has them too. */
const rangesAsked = ({ request, fitted, seasonal }: Setting, candidate: Candidate): RangesAsked =>
	askedOf(fitted, candidate, request.candidates, request.rangeRule, () => seasonal().rare);

/** The same, made once for each candidate and question. */
function triedOnce(setting: Setting, fit: Fit, input: TrialInput): Trial {
	const key = JSON.stringify([fit.candidate.id, input]);
	const known = setting.tried.get(key) ?? tried(setting, fit, input);
	setting.tried.set(key, known);
	return known;
}

/** Forecasts of a candidate from the latest origins. */
function tried(setting: Setting, fit: Fit, input: TrialInput): Trial {
	const { candidate, run } = fit;
	// A mix of given shares is tried by what its parts were tried by.
	if (candidate.method === 'combination' && candidate.weights !== 'inverse-mse' && !input.refit) {
		const parts = run.parts!.map(({ id, share }) => {
			const part = setting.request.candidates.find((other) => other.id === id)!;
			return { share, trial: triedOnce(setting, fitOnce(setting, part, setting.fitted), input) };
		});
		return trialOfMix(setting.fitted, parts, setting.request.rangeRule, candidate.floor);
	}
	const on = input.refit ? setting : setting.held();
	const held = on.request.candidates.find(({ id }) => id === fit.candidate.id)!;
	const others = methodOf(held.method).dependsOn ? othersOf(on) : undefined;
	return trialOf(
		setting.fitted,
		held,
		fit,
		input,
		setting.known,
		others,
		input.refit ? undefined : setting.trials,
	);
}

/** Every candidate on its own; what is known from an earlier request is taken from there. */
function enterAll(setting: Setting, memory: EvaluateMemory | undefined): (Entry | CandidateRefusal)[] {
	const { candidates } = setting.request;
	if (!memory) return candidates.map((candidate) => enter(setting, candidate));
	const keys = candidates.map((candidate) => JSON.stringify([candidate, ...madeFrom(candidate, candidates)]));
	const entries = candidates.map((candidate, i) =>
		memory.entries.recall(keys[i]!, () => enter(setting, candidate)),
	);
	memory.entries.keepOnly(new Set(keys));
	return entries;
}

/** A candidate fitted to a series, where that was not done before. */
function fitOnce(setting: Setting, candidate: Candidate, series: Series): Fit {
	const { request, fitted, fits, kept } = setting;
	if (!fits.has(series)) fits.set(series, new Map());
	const there = fits.get(series)!;
	const known = there.get(candidate.id);
	if (known) return known;
	const own = series === fitted ? kept : undefined;
	const fit = fitCandidate(series, candidate, request.scoreFrom ?? null, othersOf(setting), own);
	there.set(candidate.id, fit);
	return fit;
}

/** The other candidates of the request, fitted when they are asked for. */
function othersOf(setting: Setting): Others {
	const { request, series: whole, wholes } = setting;
	return (id, series) => {
		const candidate = request.candidates.find((other) => other.id === id)!;
		const fit = fitOnce(setting, candidate, series);
		return {
			...fit,
			over(longer) {
				const known = longer === whole ? wholes.get(fit) : undefined;
				const run = known ?? bindFound(longer, fit);
				if (longer === whole) wholes.set(fit, run);
				return run;
			},
		};
	};
}

function enter(setting: Setting, candidate: Candidate): Entry | CandidateRefusal {
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
function judge(
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

const sameList = (a: ArrayLike<unknown>, b: ArrayLike<unknown>): boolean => {
	if (a === b) return true;
	if (a.length !== b.length) return false;
	for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
	return true;
};

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

/** How the closest candidate leads the next one, by each reading that there is. */
function leadsOf(setting: Setting, ran: readonly Entry[], common: Int32Array | null): Evaluation['leads'] {
	const { request, totals, fitted, series, seasonal } = setting;
	const by = lossBy(seasonal());
	const leads: Evaluation['leads'] = {};
	const put = (reading: Reading, lead: Evaluation['leads'][Reading] | null) => {
		if (lead) leads[reading] = lead;
	};
	/** Of forecasts of the same periods. */
	const over = (positions: Int32Array, forecastOf: (entry: Entry) => Float64Array, words: string) => {
		const size = (entry: Entry) =>
			positions.reduce((sum, i) => sum + lossOf(totals[i]! - forecastOf(entry)[i]!, by), 0);
		return leadOf(
			setting,
			ran,
			size,
			(one, other) => pairedLead(totals, forecastOf(one), forecastOf(other), positions, by),
			words,
		);
	};
	if (common)
		put(
			'common',
			over(common, ({ forecast }) => forecast, overWords('common', common.length, fitted.frequency)),
		);
	if (request.holdout > 0) {
		const first = series.values.length - request.holdout;
		const words = `the ${periodsInWords(series.frequency, request.holdout)} of the holdout`;
		for (const [reading, key] of [
			['ahead', 'ahead'],
			['step-by-step', 'oneStep'],
		] as const) {
			const positions = Int32Array.from({ length: request.holdout }, (_, index) => first + index).filter(
				(i) => !Number.isNaN(totals[i]!) && ran.every(({ held }) => !Number.isNaN(held![key][i]!)),
			);
			put(
				reading,
				over(positions, ({ held }) => held![key], words),
			);
		}
	}
	if (request.trial) {
		const missed = new Map(ran.map((entry) => [entry, missedBy(fitted, entry.askedTrial!)]));
		const size = (entry: Entry) => {
			const all = missed.get(entry)!;
			const count = all.reduce((sum, { count }) => sum + count, 0);
			return count > 0 ? all.reduce((sum, each) => sum + lossesAt(each, by).own, 0) / count : NaN;
		};
		const paired = (one: Entry, other: Entry) => leadBetween(missed.get(one)!, missed.get(other)!, by);
		put('trial', leadOf(setting, ran, size, paired, 'these origins'));
	}
	return leads;
}

/**
 * How the one that misses least leads the next one.
 * @param sizeOf what an entry misses by, NaN where that is not known
 */
function leadOf(
	{ request, seasonal }: Setting,
	ran: readonly Entry[],
	sizeOf: (entry: Entry) => number,
	pairedOf: (one: Entry, other: Entry) => PairedLead | ShareLead | null,
	over: string,
): { id: string; note: Note } | null {
	const idOf = ({ fit: { candidate } }: Entry) => candidate.id;
	const [best, second] = ran
		.map((entry) => ({ entry, size: sizeOf(entry) }))
		.filter(({ size }) => !Number.isNaN(size))
		.sort((a, b) => a.size - b.size);
	if (!best || !second) return null;
	const paired = pairedOf(best.entry, second.entry);
	if (!paired) return null;
	const names = distinctNames(
		request.candidates,
		(id) => ran.find((entry) => idOf(entry) === id)?.fit.constants,
	);
	const id = idOf(second.entry);
	return {
		id: idOf(best.entry),
		note: leadNote(paired, { id, name: names.get(id)! }, over, lossBy(seasonal())),
	};
}

/** Single figures that exist. */
const finiteOnly = (figures: Readonly<Record<string, number>>): Record<string, number> =>
	Object.fromEntries(Object.entries(figures).filter(([, value]) => Number.isFinite(value)));
