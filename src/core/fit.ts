import { scoredPositions } from './accuracy/windows';
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

/** How many searches are kept in mind. */
const KEPT = 100;

/**
 * What was found for one series, so that turning one candidate's dial does not search the others anew. Answers are
 * the same with and without it.
 */
export class SearchMemory {
	#series = '';
	readonly #found = new Map<string, Found>();

	/** Names the series that the next searches are about; another one than before and all is forgotten. */
	about(series: string): void {
		if (series === this.#series) return;
		this.#series = series;
		this.#found.clear();
	}

	/** What was found for such a candidate, or what `search` finds now. */
	recall(candidate: CandidateInput, scoreFrom: number | null, search: () => Found): Found {
		const key = JSON.stringify([{ ...candidate, id: undefined }, scoreFrom]);
		const known = this.#found.get(key);
		if (known) return known;
		const found = search();
		if (this.#found.size >= KEPT) this.#found.clear();
		this.#found.set(key, found);
		return found;
	}
}

/**
 * Fits a candidate: with `optimise` its constants are searched, else taken as given or at their defaults; a
 * start that is to be optimised is searched either way.
 * @throws CannotRun with the reason
 */
export function fitCandidate(
	series: Series,
	candidate: CandidateInput,
	scoreFrom: number | null,
	memory?: SearchMemory,
): Fit {
	const model = methodOf(candidate.method).bind(series, candidate);
	const parameters = parametersOf(model, candidate.constants ?? {});
	const from = scoreFrom ?? model.firstFitted;
	const probe = new Float64Array(series.values.length);
	model.pass(parameters, probe);
	const scored = scoredPositions(series.values, probe, from);

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
	const found = memory ? memory.recall(candidate, scoreFrom, search) : search();
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

/** All parameters of a model: constants as given, or at their fallbacks. */
export function parametersOf(model: Model, constants: Readonly<Record<string, number>>): Float64Array {
	return Float64Array.from(model.parameters, ({ key, fallback }) => constants[key] ?? fallback);
}
