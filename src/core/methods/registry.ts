import { average } from './average';
import { brown } from './brown';
import { combination } from './combination';
import { croston } from './croston';
import { dampedHolt } from './damped-holt';
import { deseasonalised } from './deseasonalised';
import { drift } from './drift';
import { holt } from './holt';
import { holtWinters } from './holt-winters';
import { linearTrend } from './linear-trend';
import type { CandidateInput, Constant, OptimiseInput } from '../contract/candidate';
import type { CandidateOf, Method, SettingsOf } from '../contract/method';
import { movingAverage, weightedMovingAverage } from './moving-average';
import { naive } from './naive';
import { perSeason } from './per-season';
import { recentMedianLine } from './recent-median-line';
import { seasonalIndex } from './seasonal-index';
import { seasonalGrowth } from './seasonal-growth';
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
	recentMedianLine,
	brown,
	holt,
	dampedHolt,
];

/** Every method there is, in the order in which the trade tries them. A new one is its file and a line here. */
export const METHODS = [
	naive,
	seasonalNaive,
	seasonalGrowth,
	average,
	drift,
	movingAverage,
	weightedMovingAverage,
	ses,
	linearTrend,
	recentMedianLine,
	seasonalIndex,
	trendSeasonal,
	deseasonalised(PLAIN, { method: 'ses', constants: { alpha: 0.2 } }),
	perSeason([naive, average, movingAverage, ses, linearTrend, holt], { method: 'average' }),
	brown,
	holt,
	dampedHolt,
	holtWinters,
	croston,
	combination,
];

/** A candidate of any method there is, and its settings; `method` says which fields stand in it. */
export type Candidate = CandidateOf<(typeof METHODS)[number]>;
export type Settings = SettingsOf<(typeof METHODS)[number]>;

const BY_ID: ReadonlyMap<string, Method> = new Map(METHODS.map((method) => [method.id, method]));

/** The description behind an id of a validated request. */
export function methodOf(id: string): Method {
	const method = BY_ID.get(id);
	if (!method) throw new Error(`No method ${id}: requests are validated before this point.`);
	return method;
}

/** Whether a candidate takes its season from its group. */
export const isLent = (candidate: Candidate): boolean =>
	'index' in candidate && candidate.index?.lent !== undefined;

/** The constants that a candidate has with its settings. */
export function constantsOfCandidate(candidate: CandidateInput): readonly Constant[] {
	const method = methodOf(candidate.method);
	return method.constantsOf?.(candidate) ?? method.constants;
}

/** The candidates that one is made from, and those that these are made from, each once. */
export function madeFrom(candidate: Candidate, candidates: readonly Candidate[]): Candidate[] {
	const below = new Map<string, Candidate>();
	const add = (one: Candidate) => {
		for (const id of methodOf(one.method).dependsOn?.(one) ?? []) {
			const member = candidates.find((other) => other.id === id);
			if (!member || below.has(id)) continue;
			below.set(id, member);
			add(member);
		}
	};
	add(candidate);
	return [...below.values()];
}

/** Whether what a candidate forecasts is the rate of what comes, by itself or as a mix of such. */
export function forecastsRate(candidate: Candidate, candidates: readonly Candidate[]): boolean {
	const { rate, dependsOn } = methodOf(candidate.method);
	if (!dependsOn) return rate === true;
	const below = madeFrom(candidate, candidates).map(({ method }) => methodOf(method));
	return below.length > 0 && below.every((method) => method.rate === true || method.dependsOn !== undefined);
}

/** Where constants, start, search and fields without a season stand: in the settings of the inner method, or in one's own. */
export const tunedPart = (settings: Settings): Settings => ('inner' in settings ? settings.inner : settings);

/** The same as a candidate by itself. */
export const tunedSettings = (candidate: Candidate): Candidate =>
	'inner' in candidate ? { ...candidate.inner, id: candidate.id } : candidate;

/** What a search of constants is asked, if it is; a method that brings a search of its own is not asked by this. */
export function searchAsked(candidate: Candidate): OptimiseInput | undefined {
	const tuned = tunedPart(candidate);
	return tuned.method === 'trend-seasonal' ? undefined : tuned.optimise;
}

/** What of a candidate is turned and searched. */
export type Tuned = Pick<CandidateInput, 'constants' | 'start'> & { optimise?: OptimiseInput | undefined };

/** Settings with other constants, start, search or fields of their tuned part; a key set to undefined is a key taken away. */
export const withTuned = <S extends Settings>(
	settings: S,
	change: Tuned | Readonly<Record<string, unknown>>,
): S =>
	withoutUnset(
		'inner' in settings
			? { ...settings, inner: withoutUnset({ ...settings.inner, ...change }) }
			: { ...settings, ...change },
	);

/** Settings of a method as a new candidate has them, whatever the series. */
export function usualSettings(method: Method): Settings {
	const fields = method.fields.flatMap(({ key, initial }) => (initial === undefined ? [] : [[key, initial]]));
	// Made from the method's description: what stands in it, only the request's schema could tell.
	const plain = { method: method.id, ...Object.fromEntries(fields) } as Settings;
	// A method around another one has that one's constants in its settings.
	const own = 'inner' in plain ? [] : constantsOfCandidate({ ...plain, id: '' });
	if (own.length === 0) return plain;
	return { ...plain, constants: Object.fromEntries(own.map(({ key, fallback }) => [key, fallback])) };
}

/** A key set to undefined is a key taken away. */
export function withoutUnset<Value extends object>(settings: Value): Value {
	return Object.fromEntries(Object.entries(settings).filter(([, value]) => value !== undefined)) as Value;
}
