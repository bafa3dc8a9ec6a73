import type { Constant } from '../contract/candidate';
import { type Candidate, constantsOfCandidate } from '../methods/registry';
import { spotWords, twoMinimaWords } from './comparison';

/** The best constants with the periods up to an origin alone. */
export interface SteadinessPoint {
	/** Periods known, 1-based. */
	origin: number;
	constants: Record<string, number>;
	value: number;
	/** The minimum next best, where its value lies within 1 % of the best. */
	rival: { constants: Record<string, number>; value: number } | null;
}

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
	if (points.length < 3)
		return `Too short a history to tell: the best are ${spotWords(constants, last.constants)} now.`;

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
	const two = last.rival && twoMinimaWords(constants, last, last.rival).text;
	if (steady || two) return [steady, two].filter((said) => said !== null).join(' ');
	const lately = Math.max(0, points.length - Math.max(3, Math.ceil(points.length / 4)));
	const moved = constants.map(({ key, symbol }) => {
		const [least, most] = range(key, lately).map((value) => value.toFixed(2));
		return least === most ? `${symbol} stayed at ${least}` : `${symbol} moved between ${least} and ${most}`;
	});
	return `Not steady: since ${period(points[lately]!.origin)} ${moved.join(', ')}.`;
}
