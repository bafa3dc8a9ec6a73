import type { Candidate } from '$core/methods/registry';
import type { EvaluateRequest } from '$core/questions/request';
import type { ConstantsQuestion } from '../../../browser-worker/evaluate.worker';
import type { ItemState } from '../state/item-state.svelte';

/** What terrain and steadiness are asked of a candidate as it is given: over the periods that are fitted. */
export const questionOf = (desk: ItemState, candidate: Candidate): ConstantsQuestion => {
	const series = desk.series.request as EvaluateRequest['series'];
	const fitted = series.values.length - desk.answers.holdout;
	return {
		series: desk.answers.holdout > 0 ? { ...series, values: series.values.slice(0, fitted) } : series,
		gaps: desk.series.gapRule,
		candidate,
		criterion: desk.lineUp.criterion,
		scoreFrom: desk.answers.scoreFrom,
	};
};
