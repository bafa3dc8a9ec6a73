import { type Loss } from '../accuracy/lead';
import { type Judged, commonPositions, windowOf } from '../accuracy/windows';
import { type Missed, type Trial, lossBy, missedBy } from './trial';
import { type Answer, type CandidateRefusal, type Evaluated, type Evaluation, written } from './answer';
import { type Fit } from './fit';
import { orNull } from '../numbers/known';
import { type ValidRequest, parseRequest } from './request';
import { type Series, weightAt } from '../series/series';
import {
	type Entry,
	type EvaluateMemory,
	type Setting,
	orRefused,
	settingOf,
	usualTrial,
	triedOnce,
	fitOnce,
} from './setting';
import { enterAll, enter, judge } from './answer-one';
import { leadsOf } from './leads';

export { EvaluateMemory } from './setting';

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
