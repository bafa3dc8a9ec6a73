import { fitCandidate } from './fit';
import { parametersOf } from '../methods/carry';
import type { Constant } from '../contract/candidate';
import { CannotRun } from '../contract/method';
import { type Candidate, constantsOfCandidate, methodOf, searchAsked, withTuned } from '../methods/registry';
import { valleyFrom } from '../search/search';
import { firstPeriods, type Series } from '../series/series';

/** The best constants with the periods up to an origin alone. */
export interface SteadinessPoint {
	/** Periods known, 1-based. */
	origin: number;
	constants: Record<string, number>;
	value: number;
	/** The valley next best, where its value lies within 1 % of the best. */
	rival: { constants: Record<string, number>; value: number } | null;
}

/** Longer series are looked at from so many origins, evenly apart. */
const MOST_ORIGINS = 120;
const RIVAL = 1.01;
const AS_DEEP = 1.001;
const APART = 0.05;

/** The origins at which the best constants are looked for: all, or so many of a long series; the last among them. */
export function steadinessOrigins(periods: number): number[] {
	const count = Math.min(periods, MOST_ORIGINS);
	const origins = Array.from({ length: count }, (_, i) => periods - Math.round((i * periods) / count));
	return origins.filter((origin) => origin > 0).reverse();
}

/**
 * The best constants with the first `origin` periods alone, searched afresh and from a neighbouring origin's answer
 * as well. Where the valley that the neighbour leads to is as deep as the best within 0.1 %, it is kept: what jumps then,
 * jumps for a gain that can be seen.
 * @param candidate with the `optimise` it is searched by
 * @param neighbour constants that were the best one origin before
 * @returns null where that many periods are too few: fewer scored errors than twice the values searched, and two
 */
export function steadinessAt(
	series: Series,
	candidate: Candidate,
	scoreFrom: number | null,
	origin: number,
	neighbour: Readonly<Record<string, number>> | null,
): SteadinessPoint | null {
	const known = firstPeriods(series, origin);
	const optimise = searchAsked(candidate) ?? {};
	try {
		const { constants, search, scored, searched } = fitCandidate(
			known,
			withTuned(candidate, { optimise }),
			scoreFrom,
		);
		if (!search || scored.length < 2 * searched + 2) return null;
		const at = (best: Record<string, number>, value: number): SteadinessPoint => ({
			origin,
			constants: best,
			value,
			rival:
				search.basins.find((basin) => basin.value <= search.value * RIVAL && !alike(basin.constants, best)) ??
				null,
		});
		const point = at(constants, search.value);
		if (!neighbour) return point;
		const model = methodOf(candidate.method).bind(known, candidate);
		const carried = valleyFrom(model, known.values, scored, optimise, parametersOf(model, neighbour));
		if (!carried || carried.value > search.value * AS_DEEP) return point;
		return at(carried.constants, carried.value);
	} catch (error) {
		if (error instanceof CannotRun) return null;
		throw error;
	}
}

const alike = (a: Record<string, number>, b: Record<string, number>) =>
	Object.keys(a).every((key) => Math.abs(a[key]! - b[key]!) < APART);

/** A constant that stays within so much of its range is steady. */
const STEADY = 0.1;

/**
 * What the best constants through time say, in a sentence.
 * @param points by origin, at least one
 * @param period names the period that an origin ends with
 */
export function steadinessWords(
	points: readonly SteadinessPoint[],
	candidate: Candidate,
	period: (origin: number) => string,
): string {
	const constants = constantsOfCandidate(candidate);
	const last = points.at(-1)!;
	const spot = (at: Readonly<Record<string, number>>) =>
		constants.map(({ key, symbol }) => `${symbol} ${at[key]!.toFixed(2)}`).join(', ');
	if (points.length < 3) return `Too short a history to tell: the best are ${spot(last.constants)} now.`;

	const range = (key: Constant['key'], from: number) => {
		const values = points.slice(from).map((point) => point.constants[key]!);
		return [Math.min(...values), Math.max(...values)] as const;
	};
	const steadyFrom = (from: number) =>
		constants.every(({ key, searched: [low, high] }) => {
			const [least, most] = range(key, from);
			return most - least <= STEADY * (high - low);
		});
	let since = points.length - 1;
	while (since > 0 && steadyFrom(since - 1)) since--;
	const stretch = constants.map(({ key, symbol }) => {
		const [least, most] = range(key, since).map((value) => value.toFixed(2));
		return least === most ? `${symbol} at ${least}` : `${symbol} between ${least} and ${most}`;
	});
	const stayed = points.length - since;
	const steady =
		since === 0
			? `Steady throughout, since ${period(points[0]!.origin)}: ${stretch.join(', ')}.`
			: stayed >= Math.max(3, points.length / 4)
				? `Steady since ${period(points[since]!.origin)}: ${stretch.join(', ')}.`
				: null;
	const rival = last.rival;
	const apart = rival && last.value > 0 ? (100 * (rival.value / last.value - 1)).toFixed(2) : '0.00';
	const two = rival
		? `Two valleys of nearly the same depth, at ${spot(last.constants)} and at ${spot(rival.constants)}, ${apart} % apart: a few more periods may tip it over.`
		: null;
	if (steady || two) return [steady, two].filter((said) => said !== null).join(' ');
	const lately = Math.max(0, points.length - Math.max(3, Math.ceil(points.length / 4)));
	const moved = constants.map(({ key, symbol }) => {
		const [least, most] = range(key, lately).map((value) => value.toFixed(2));
		return least === most ? `${symbol} stayed at ${least}` : `${symbol} moved between ${least} and ${most}`;
	});
	return `Not steady: since ${period(points[lately]!.origin)} ${moved.join(', ')}.`;
}
