/** Figures one after the other; null or NaN where there is none. */
export type Figures = readonly (number | null)[] | Float64Array;

/** A position and the figure at it; null where the line is broken. */
export type Point = readonly [position: number, figure: number | null];

/** As many points as a line is drawn with; denser ones would lie on each other. */
export const DENSE = 2000;

/** The lowest and the highest of each stretch, in their order: as many points of each, so that they stand evenly apart. */
export function evenly(figures: Figures, stretch: number): Point[] {
	const points: Point[] = [];
	for (let begin = 0; begin < figures.length; begin += stretch) {
		const [low, high] = extremes(figures, begin, Math.min(begin + stretch, figures.length));
		for (const i of [Math.min(low, high), Math.max(low, high)])
			points.push([i < 0 ? begin : i, i < 0 ? null : figures[i]!]);
	}
	return points;
}

/** Where the lowest and the highest of a stretch stand; −1 where it has no figure. */
function extremes(figures: Figures, begin: number, end: number): [low: number, high: number] {
	let low = -1;
	let high = -1;
	for (let i = begin; i < end; i++) {
		const value = figures[i]!;
		if (value === null || Number.isNaN(value)) continue;
		if (low < 0 || value < figures[low]!) low = i;
		if (high < 0 || value > figures[high]!) high = i;
	}
	return [low, high];
}

/**
 * The figures from one 0-based position to another as points: all of them, or the lowest and the highest of each stretch
 * where there are more than `most`, so that no peak is lost.
 */
export function thinned(figures: Figures, from: number, to: number, most = DENSE): Point[] {
	const last = Math.min(to, figures.length - 1);
	const first = Math.max(0, from);
	const stretch = Math.max(1, Math.ceil((2 * (last - first + 1)) / most));
	const points: Point[] = [];
	for (let begin = first; begin <= last; begin += stretch) {
		const [low, high] = extremes(figures, begin, Math.min(begin + stretch, last + 1));
		if (low < 0) points.push([begin, null]);
		else for (const i of new Set([Math.min(low, high), Math.max(low, high)])) points.push([i, figures[i]!]);
	}
	return points;
}
