import type { Candidate } from '$core/methods/registry';
import type { EvaluateRequest } from '$core/questions/request';
import type { ConstantsQuestion } from '../../../workers/evaluate.worker';
import type { ItemState } from '../item-state.svelte';

/** What terrain and steadiness are asked of a candidate as it is given. */
export const questionOf = (desk: ItemState, candidate: Candidate): ConstantsQuestion => ({
	series: desk.series.request as EvaluateRequest['series'],
	gaps: desk.series.gapRule,
	candidate,
	criterion: desk.criterion,
	scoreFrom: desk.scoreFrom,
});
