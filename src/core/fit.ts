import { scoredPositions } from './accuracy/windows';
import type { Memory } from './memory';
import type { CandidateInput, Model, Run } from './methods/method';
import { methodOf } from './methods/registry';
import { constantsOf, type Found, type Search, searchParameters } from './search/search';
import type { Series } from './series/series';

/** A candidate fitted to a series: constants and start settled, one pass recorded. */
export interface Fit {
	candidate: CandidateInput;
	constants: Record<string, number>;
	run: Run;
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
 * start that is to be optimised is searched either way.
 * @param searches what was found before for this series
 * @throws CannotRun with the reason
 */
export function fitCandidate(
	series: Series,
	candidate: CandidateInput,
	scoreFrom: number | null,
	searches?: Memory<Found>,
): Fit {
	const model = methodOf(candidate.method).bind(series, candidate);
	const parameters = parametersOf(model, candidate.constants ?? {});
	const from = scoreFrom ?? model.firstFitted;
	const scored = scoredBy(series, model, parameters, from);

	const startIsFree = model.parameters.some((parameter) => parameter.role === 'start');
	if (!candidate.optimise && !startIsFree) {
		const constants = constantsOf(model, parameters);
		return {
			candidate,
			constants,
			run: model.run(parameters),
			scoreFrom: from,
			scored,
			search: undefined,
			searched: 0,
		};
	}
	const optimise = candidate.optimise ?? { hold: constantsOf(model, parameters) };
	// Constants given beside a search are a place to begin from.
	const also = candidate.optimise && Object.keys(candidate.constants ?? {}).length > 0 ? [parameters] : [];
	const search = () => searchParameters(model, series.values, scored, optimise, also);
	// Twins have one search between them.
	const key = () => JSON.stringify([{ ...candidate, id: undefined }, scoreFrom]);
	const found = searches ? searches.recall(key(), search) : search();
	return {
		candidate,
		constants: constantsOf(model, found.parameters),
		run: model.run(found.parameters),
		scoreFrom: from,
		scored,
		search: found.search,
		searched: found.searched,
	};
}

/** The run of a fitted candidate over a longer series: same constants, same start, state moved on. */
export function bindFound(series: Series, { candidate, constants, run }: Fit): Run {
	if (run.over) return run.over(series);
	const start = run.start && { ...run.start, rule: 'given' as const };
	const model = methodOf(candidate.method).bind(series, start ? { ...candidate, start } : candidate);
	return model.run(parametersOf(model, constants));
}

/** 0-based positions that a model is scored over, from the 1-based `from` on. */
export function scoredBy(series: Series, model: Model, parameters: Float64Array, from: number): Int32Array {
	const probe = new Float64Array(series.values.length);
	model.pass(parameters, probe);
	return scoredPositions(series.values, probe, from);
}

/** All parameters of a model: constants as given, or at their fallbacks. */
export function parametersOf(model: Model, constants: Readonly<Record<string, number>>): Float64Array {
	return Float64Array.from(model.parameters, ({ key, fallback }) => constants[key] ?? fallback);
}
