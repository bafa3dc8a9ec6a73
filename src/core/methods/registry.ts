import { average } from './average';
import { brown } from './brown';
import { dampedHolt } from './damped-holt';
import { drift } from './drift';
import { holt } from './holt';
import { holtWinters } from './holt-winters';
import { linearTrend } from './linear-trend';
import type { CandidateInput, Constant, Method } from './method';
import { movingAverage, weightedMovingAverage } from './moving-average';
import { naive } from './naive';
import { seasonalNaive } from './seasonal-naive';
import { ses } from './ses';

/** Every method there is, in the order in which the trade tries them. A new one is its file and a line here. */
export const METHODS: readonly Method[] = [
	naive,
	seasonalNaive,
	average,
	drift,
	movingAverage,
	weightedMovingAverage,
	ses,
	linearTrend,
	brown,
	holt,
	dampedHolt,
	holtWinters,
];

/** Methods that are defined but not built yet: asked for, they are refused by name instead of as unknown. */
export const PLANNED_METHODS: readonly string[] = [
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

/** The constants that a candidate has with its settings. */
export function constantsOfCandidate(candidate: CandidateInput): readonly Constant[] {
	const method = methodOf(candidate.method);
	return method.constantsOf?.(candidate) ?? method.constants;
}
