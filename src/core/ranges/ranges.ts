import { alikeRanges } from './alike';
import { changeRanges } from './changes';
import type { HonestErrors, Ranges, RangesAsked } from './contract';
import { countRanges } from './counts';
import { modelRanges, type Passed } from './modelled';
import { trialRanges } from './tried';

/**
 * Ranges of a fitted candidate. Unless it asks for another kind: of rare demand those of counts, else those of a trial; with too few
 * honest errors those of its model, and of a method without one those of the changes of the series.
 * @param actual the actuals that it was fitted to
 * @param fit only asked where its model is needed; null for a method without one
 * @param errors of a trial of it; only asked where they are needed
 */
export function rangesOf(
	{ kind, rule, counts, lag }: RangesAsked,
	actual: Float64Array,
	fit: (() => Passed) | null,
	errors: () => HonestErrors,
): Ranges {
	const model = () => {
		const { run, scored, searched } = fit?.() ?? {};
		return run?.spread ? modelRanges(actual, { ...run, spread: run.spread }, scored!, searched!) : null;
	};
	const changes = () => (rule === 1 ? null : changeRanges(actual, lag));
	const asked =
		kind === 'model'
			? model()
			: kind === 'changes'
				? changes()
				: counts && (kind === 'counts' || kind === undefined)
					? countRanges(actual)
					: null;
	if (asked) return asked;
	const trial = rule === 1 ? alikeRanges(errors()) : trialRanges(errors(), actual);
	return trial.basis!.count > 0 ? trial : (model() ?? changes() ?? trial);
}
