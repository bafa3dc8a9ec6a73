import type { Candidate } from '$core/methods/registry';
import type { EvaluateRequest } from '$core/questions/request';
import type { ConstantsQuestion } from '../../../browser-worker/evaluate.worker';
import type { ItemState } from '../state/item-state.svelte';

/** What terrain and steadiness are asked of a candidate as it is given: over the periods that are fitted. */
export const questionOf = (itemState: ItemState, candidate: Candidate): ConstantsQuestion => {
	const series = itemState.series.request as EvaluateRequest['series'];
	const fitted = series.values.length - itemState.answers.holdout;
	return {
		series: itemState.answers.holdout > 0 ? { ...series, values: series.values.slice(0, fitted) } : series,
		gaps: itemState.series.gapRule,
		candidate,
		criterion: itemState.lineUp.criterion,
		scoreFrom: itemState.answers.scoreFrom,
	};
};
