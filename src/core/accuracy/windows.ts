import { type Frequency, periodsInWords } from '../series/frequency';

/**
 * 0-based positions that a candidate is scored over: from `scoreFrom` (1-based) on, wherever actual and fitted
 * value both exist. Missing and excluded periods have no actual.
 */
export function scoredPositions(actual: Float64Array, fitted: Float64Array, scoreFrom: number): Int32Array {
	const positions = new Int32Array(fitted.length);
	let count = 0;
	for (let i = Math.max(0, scoreFrom - 1); i < fitted.length; i++) {
		if (!Number.isNaN(actual[i]!) && !Number.isNaN(fitted[i]!)) positions[count++] = i;
	}
	return positions.subarray(0, count);
}

/** Positions that every one of the lists holds; each list holds a position once. */
export function commonPositions(lists: readonly Int32Array[]): Int32Array {
	const [first, ...others] = lists;
	if (!first) return new Int32Array(0);
	const end = Math.max(0, ...lists.map((list) => (list.at(-1) ?? -1) + 1));
	const held = new Int32Array(end);
	for (const list of others) for (const position of list) held[position]!++;
	return first.filter((position) => held[position] === others.length);
}

/** What candidates are judged over: the periods that all share, or each one's own. */
export type Judged = 'common' | 'own';

/** Such a window in a sentence: “the 24 months compared”, “its own 31 months”. */
export function overWords(judged: Judged, count: number, frequency: Frequency): string {
	const periods = periodsInWords(frequency, count);
	return judged === 'common' ? `the ${periods} compared` : `its own ${periods}`;
}

/** The common window as the answer shows it, 1-based; null when it is empty. */
export function windowOf(positions: Int32Array): { from: number; to: number; count: number } | null {
	if (positions.length === 0) return null;
	return { from: positions[0]! + 1, to: positions.at(-1)! + 1, count: positions.length };
}
