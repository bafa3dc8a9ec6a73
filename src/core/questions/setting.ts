import { type Yardstick, changeScale } from '../accuracy/measures';
import { type Judged } from '../accuracy/windows';
import { USUAL_ORIGINS } from './usual';
import { type Trial, type TrialInput, askedOf, heldAt, prefixesOf, trialOf, trialOfMix } from './trial';
import { type CandidateRefusal, type Evaluated, type PerPeriod } from './answer';
import { type SeasonDiagnosis, diagnoseSeason } from '../diagnosis/diagnosis';
import { type Fit, bindFound, fitCandidate } from './fit';
import { Memory } from './memory';
import { CannotRun } from '../contract/method';
import { type Others, type Run } from '../contract/model';
import { type Candidate, methodOf } from '../methods/registry';
import { naive } from '../methods/naive';
import { type Note } from '../contract/note';
import { seriesNotes } from '../words/series';
import { type RangesAsked } from '../ranges/contract';
import { type ValidRequest } from './request';
import { formatPeriod } from '../series/period';
import { type Series, firstPeriods, inTotals, prepareSeries } from '../series/series';

/** What every candidate of one request shares: the series, what it says of itself, what was fitted and tried on it. */

/** A candidate that was fitted, on its way to an answer. */
export interface Entry {
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
export interface HeldForecasts {
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
export interface Setting extends Subject {
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

/** What a candidate comes to, or that it cannot, with the reason. */
export function orRefused<Value>({ id, method }: Candidate, work: () => Value): Value | CandidateRefusal {
	try {
		return work();
	} catch (error) {
		if (!(error instanceof CannotRun)) throw error;
		return { id, method, ok: false, notes: [error.note] };
	}
}

export function settingOf(request: ValidRequest, memory?: EvaluateMemory): Setting {
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
export const usualTrial = (setting: Setting): TrialInput => ({
	origins: USUAL_ORIGINS,
	horizon: Math.max(1, setting.request.horizon),
	refit: false,
	cycles: needsCycles(setting),
});

export const sameTrial = (a: NonNullable<ValidRequest['trial']>, b: TrialInput) =>
	a.origins === b.origins && a.horizon === b.horizon && a.refit === b.refit;

/** What ranges a candidate is to have, as a proposal has them too. */
export const rangesAsked = ({ request, fitted, seasonal }: Setting, candidate: Candidate): RangesAsked =>
	askedOf(fitted, candidate, request.candidates, request.rangeRule, () => seasonal().rare);

/** The same, made once for each candidate and question. */
export function triedOnce(setting: Setting, fit: Fit, input: TrialInput): Trial {
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

/** A candidate fitted to a series, where that was not done before. */
export function fitOnce(setting: Setting, candidate: Candidate, series: Series): Fit {
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

export const sameList = (a: ArrayLike<unknown>, b: ArrayLike<unknown>): boolean => {
	if (a === b) return true;
	if (a.length !== b.length) return false;
	for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
	return true;
};

function yardstickOf(series: Series, span: number): Yardstick {
	const scale = changeScale(inTotals(series, series.values), series.seasonLength, span);
	const missing = new Float64Array(series.values.length).fill(NaN);
	const known = series.values.some((value) => !Number.isNaN(value));
	const repeated = known
		? naive.bind(series, { id: 'naive', method: 'naive' }).run(new Float64Array(0)).fitted
		: missing;
	return { naive: inTotals(series, repeated), ...scale };
}
