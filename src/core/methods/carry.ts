import type { Series } from '../series/series';
import type { CandidateInput } from '../contract/candidate';
import type { Method } from '../contract/method';
import type { Model, Run } from '../contract/model';

/** All parameters of a model: constants as given, or at their fallbacks. */
export function parametersOf(model: Model, constants: Readonly<Record<string, number>>): Float64Array {
	return Float64Array.from(model.parameters, ({ key, fallback }) => constants[key] ?? fallback);
}

/** A run carried over a longer series: same constants, same start, state moved on. */
export function carriedOn(
	method: Method,
	candidate: CandidateInput,
	run: Run,
	constants: Readonly<Record<string, number>>,
	longer: Series,
): Run {
	if (run.over) return run.over(longer);
	const start = run.start && { ...run.start, rule: 'given' as const };
	const model = method.bind(longer, start ? { ...candidate, start } : candidate);
	return model.run(parametersOf(model, constants));
}
