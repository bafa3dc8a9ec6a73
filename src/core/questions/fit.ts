import { scoredPositions } from '../accuracy/windows';
import { keyOf, type Memory } from './memory';
import { carriedOn, parametersOf } from '../methods/carry';
import type { FittedKind, Model, Others, Run } from '../contract/model';
import { type Candidate, methodOf, searchAsked, tunedSettings } from '../methods/registry';
import type { Found, Search } from '../contract/found';
import { constantsOf, searchParameters } from '../search/search';
import type { Series } from '../series/series';

/** A candidate fitted to a series: constants and start settled, one pass recorded. */
export interface Fit {
	candidate: Candidate;
	constants: Record<string, number>;
	run: Run;
	kind: FittedKind;
	/** 1-based first period that counts. */
	scoreFrom: number;
	/** 0-based positions that count. */
	scored: Int32Array;
	search: Search | undefined;
	/** q: how many constants and start values were searched. */
	searched: number;
}

/**
 * Fits a candidate: with `optimise` its constants are searched, else taken as given or at their defaults; a
 * start that is to be optimised is searched either way, and so is what a method always finds by itself.
 * @param others the candidates beside it, for those that are made from them
 * @param fits what was fitted before to this series: twins have one fit between them
 * @throws CannotRun with the reason
 */
export function fitCandidate(
	series: Series,
	candidate: Candidate,
	scoreFrom: number | null,
	others?: Others,
	fits?: Memory<Fit>,
): Fit {
	const method = methodOf(candidate.method);
	const make = () => fitBound(method.bind(series, candidate, others), series, candidate, scoreFrom);
	// What is made from others is another one with each of them.
	if (!fits || method.dependsOn) return make();
	return { ...fits.recall(keyOf([{ ...candidate, id: undefined }, scoreFrom]), make), candidate };
}

/**
 * Writes what a candidate forecasts after the last period, by the shortest way to it: where nothing is searched, a model may
 * know it without all that came before.
 * @returns the whole fit, made when it is asked for
 * @throws CannotRun with the reason
 */
export function forecastEnd(
	series: Series,
	candidate: Candidate,
	scoreFrom: number,
	others: Others | undefined,
	ahead: Float64Array,
): () => Fit {
	const model = methodOf(candidate.method).bind(series, candidate, others);
	const whole = () => fitBound(model, series, candidate, scoreFrom);
	const { constants = {} } = tunedSettings(candidate);
	if (!searchAsked(candidate) && !startIsFree(model)) {
		const parameters = parametersOf(model, constants);
		if (model.ahead) model.ahead(parameters, ahead);
		else model.run(parameters).forecast(series.values.length, ahead);
		return whole;
	}
	const fit = whole();
	fit.run.forecast(series.values.length, ahead);
	return () => fit;
}

const startIsFree = (model: Model) => model.parameters.some(({ role }) => role === 'start');

function fitBound(model: Model, series: Series, candidate: Candidate, scoreFrom: number | null): Fit {
	const { constants: given = {} } = tunedSettings(candidate);
	const asked = searchAsked(candidate);
	const parameters = parametersOf(model, given);
	const from = scoreFrom ?? model.firstFitted;
	const scored = scoredBy(series, model, parameters, from);
	const settle = (chosen: Float64Array, found?: Found): Fit => {
		const run = model.run(chosen);
		return {
			candidate,
			constants: constantsOf(model, chosen),
			run,
			kind: run.kind ?? methodOf(candidate.method).kind(candidate),
			scoreFrom: from,
			scored,
			search: found?.search,
			searched: found?.searched ?? 0,
		};
	};

	if (!asked && !startIsFree(model)) return settle(parameters);
	const optimise = asked ?? { hold: constantsOf(model, parameters) };
	// Constants given beside a search are a place to begin from.
	const also = asked && Object.keys(given).length > 0 ? [parameters] : [];
	const found = model.find?.(scored) ?? searchParameters(model, series.values, scored, optimise, also);
	return settle(found.parameters, found);
}

/** The run of a fitted candidate over a longer series: same constants, same start, state moved on. */
export function bindFound(series: Series, { candidate, constants, run }: Fit): Run {
	return carriedOn(methodOf(candidate.method), candidate, run, constants, series);
}

/** 0-based positions that a model is scored over, from the 1-based `from` on. */
export function scoredBy(series: Series, model: Model, parameters: Float64Array, from: number): Int32Array {
	const probe = new Float64Array(series.values.length);
	model.pass(parameters, probe);
	return scoredPositions(series.values, probe, from);
}
