import { keptChange } from '$core/grading/final';
import type { Adopt, AdoptedStep } from '../../wire/records';
import type { ItemRecord } from '../items/item-records';
import { type AdoptedRow, askedOf, heldOf } from './records';
import type { ForecastTask } from '../threads/tasks';

/** What goes along where a record is carried on, or another one takes its place. */

export const NOTHING_NEW =
	'There are no new actuals since its forecast was adopted, so there is nothing to update.';

/** What a record asks for on newer actuals: its constants searched anew, or held as they were found, as its item says. */
export function carriedShape(
	{ carry }: Pick<ItemRecord, 'carry'>,
	before: Pick<AdoptedRow, 'request' | 'asked' | 'held' | 'step_count'>,
): Omit<ForecastTask, 'seen'> {
	const { scoreFrom, levels, service } = before.request;
	return {
		candidates: carry === 'keep' ? heldOf(before) : askedOf(before),
		scoreFrom: scoreFrom ?? null,
		horizon: before.step_count,
		levels: levels!,
		service: service ?? null,
	};
}

/** Changes by hand to periods that are still ahead. */
export const carriedChanges = (
	steps: readonly Pick<AdoptedStep, 'period' | 'changedTo' | 'changeRate' | 'changeReason'>[],
	origin: number,
	horizon: number,
): Adopt['changes'] =>
	steps.flatMap(({ period, changedTo, changeRate, changeReason }) => {
		const step = period - origin;
		const by = keptChange(changedTo, changeRate);
		return by && step >= 1 && step <= horizon ? [{ step, by, reason: changeReason! }] : [];
	});
