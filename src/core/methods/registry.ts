import { average } from './average';
import { drift } from './drift';
import type { Method } from './method';
import { movingAverage, weightedMovingAverage } from './moving-average';
import { naive } from './naive';
import { ses } from './ses';

/** Every method there is, in the order in which the trade tries them. A new one is its file and a line here. */
export const METHODS: readonly Method[] = [naive, average, drift, movingAverage, weightedMovingAverage, ses];

/** Methods that are defined but not built yet: asked for, they are refused by name instead of as unknown. */
export const PLANNED_METHODS: readonly string[] = [
	'seasonal-naive',
	'holt',
	'damped-holt',
	'brown',
	'holt-winters',
	'linear-trend',
	'trend-seasonal',
	'seasonal-index',
	'deseasonalised',
	'per-season',
	'combination',
];

const BY_ID = new Map(METHODS.map((method) => [method.id, method]));

/** The description behind an id; undefined where there is none (yet). */
export function findMethod(id: string): Method | undefined {
	return BY_ID.get(id);
}

/** The description behind an id of a validated request. */
export function methodOf(id: string): Method {
	const method = BY_ID.get(id);
	if (!method) throw new Error(`No method ${id}: requests are validated before this point.`);
	return method;
}
