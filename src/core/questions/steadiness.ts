import type { SteadinessPoint } from '../words/steadiness';
import { fitCandidate } from './fit';
import { parametersOf } from '../methods/carry';
import { CannotRun } from '../contract/method';
import { type Candidate, methodOf, searchAsked, withTuned } from '../methods/registry';
import { localMinimumFrom } from '../search/search';
import { firstPeriods, type Series } from '../series/series';

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
		const carried = localMinimumFrom(model, known.values, scored, optimise, parametersOf(model, neighbour));
		if (!carried || carried.value > search.value * AS_DEEP) return point;
		return at(carried.constants, carried.value);
	} catch (error) {
		if (error instanceof CannotRun) return null;
		throw error;
	}
}

const alike = (a: Record<string, number>, b: Record<string, number>) =>
	Object.keys(a).every((key) => Math.abs(a[key]! - b[key]!) < APART);
