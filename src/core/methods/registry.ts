import { average } from './average';
import { brown } from './brown';
import { combination } from './combination';
import { dampedHolt } from './damped-holt';
import { deseasonalised } from './deseasonalised';
import { drift } from './drift';
import { holt } from './holt';
import { holtWinters } from './holt-winters';
import { linearTrend } from './linear-trend';
import type { CandidateInput, Constant } from '../contract/candidate';
import type { Method } from '../contract/method';
import { movingAverage, weightedMovingAverage } from './moving-average';
import { naive } from './naive';
import { perSeason } from './per-season';
import { seasonalIndex } from './seasonal-index';
import { seasonalNaive } from './seasonal-naive';
import { ses } from './ses';
import { trendSeasonal } from './trend-seasonal';

/** Methods without a season, which may stand inside another one. */
const PLAIN = [
	naive,
	average,
	drift,
	movingAverage,
	weightedMovingAverage,
	ses,
	linearTrend,
	brown,
	holt,
	dampedHolt,
];

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
	seasonalIndex,
	trendSeasonal,
	deseasonalised(PLAIN),
	perSeason([naive, average, movingAverage, ses, linearTrend, holt]),
	brown,
	holt,
	dampedHolt,
	holtWinters,
	combination,
];

const BY_ID = new Map(METHODS.map((method) => [method.id, method]));

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

/** The candidates that one is made from, and those that these are made from, each once. */
export function madeFrom(candidate: CandidateInput, candidates: readonly CandidateInput[]): CandidateInput[] {
	const below = new Map<string, CandidateInput>();
	const add = (one: CandidateInput) => {
		for (const id of methodOf(one.method).restsOn?.(one) ?? []) {
			const member = candidates.find((other) => other.id === id);
			if (!member || below.has(id)) continue;
			below.set(id, member);
			add(member);
		}
	};
	add(candidate);
	return [...below.values()];
}

/** Where a candidate's constants, start and search stand: in its inner method's settings, or its own. */
export function tunedSettings(candidate: CandidateInput): CandidateInput {
	const inner = candidate.inner as Omit<CandidateInput, 'id'> | undefined;
	return inner ? ({ ...inner, id: candidate.id } as CandidateInput) : candidate;
}

/** A candidate with other constants, start or search. */
export function withTuned(
	candidate: CandidateInput,
	change: Partial<Pick<CandidateInput, 'constants' | 'start' | 'optimise'>>,
): CandidateInput {
	const { inner } = candidate as { inner?: object };
	return withoutUnset(
		inner ? { ...candidate, inner: withoutUnset({ ...inner, ...change }) } : { ...candidate, ...change },
	);
}

/** A key set to undefined is a key taken away. */
export function withoutUnset<Settings extends object>(settings: Settings): Settings {
	return Object.fromEntries(Object.entries(settings).filter(([, value]) => value !== undefined)) as Settings;
}
