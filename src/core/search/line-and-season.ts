import { type Cycles, seasonOf } from '../seasons/cycles';
import { type SeasonKind, withIndex } from '../seasons/indices';
import { bestLinear } from './linear';
import type { Criterion } from '../contract/criteria';
import { criterionValue } from './criterion';
import { minimiseOnInterval } from './interval';

/** A line with indices put to it: (a + b·t)·i_j with Σ i = P, or a + b·t + i_j with Σ i = 0. */
export interface LineAndSeason {
	intercept: number;
	slope: number;
	/** Season 1 to P. */
	indices: Float64Array;
}

/** Half of an even turn of the line's direction. */
const QUARTER = Math.PI / 2;
/** Slopes that are looked at, as multiples of the figures' spread over half the series. */
const STEEPEST = 8;

/**
 * Line and indices that together minimise a criterion, nothing held; every valley, the deepest first.
 *
 * Once the direction of the line is given (multiplied: the ratio of slope to intercept; added: the slope), each season
 * has one factor (or one height) of its own and is fitted by itself: a weighted mean or median. So the search for P + 2 values
 * is one along a single angle or slope, of which every valley is found; the separation is that of Golub & Pereyra (1973).
 * @param scored 0-based positions that count
 */
export function findLineAndSeason(
	values: Float64Array,
	cycles: Cycles,
	kind: SeasonKind,
	scored: Int32Array,
	criterion: Criterion,
): { found: (LineAndSeason & { value: number })[]; evaluations: number } {
	const n = values.length;
	const centre = (n + 1) / 2;
	const half = Math.max(1, n / 2);
	const own: number[][] = Array.from({ length: cycles.length }, () => []);
	for (const i of scored) own[seasonOf(cycles, i)]!.push(i);
	const seasons = own.map((list) => Int32Array.from(list));
	const along = values.map((_, i) => (i + 1 - centre) / half);
	const problem = { values, along, seasons, scored, criterion, fitted: new Float64Array(n) };
	const { at, heights, low, high, best } = kind === 'multiplicative' ? turned(problem) : climbing(problem);

	let evaluations = 0;
	const counted = (place: number) => {
		evaluations++;
		return at(place);
	};
	const smooth = criterion === 'mse';
	const places =
		smooth && best !== null && kind === 'additive'
			? [best]
			: minimiseOnInterval(counted, low, high, { cells: smooth ? 64 : 128, most: 900 }).valleys.map(
					({ at: place }) => (smooth ? settledAngle(problem, place) : place),
				);
	// Where the figures are a line with indices without an error, least squares has it exactly.
	if (!smooth && best !== null) places.push(best);

	const found = places.flatMap((place) => {
		const height = heights(place);
		const made =
			kind === 'multiplicative'
				? multiplied(place, height, centre, half)
				: added(place, height, centre, half);
		if (!made) return [];
		putFitted(made, cycles, kind, problem.fitted);
		evaluations++;
		return [{ ...made, value: criterionValue(criterion, values, problem.fitted, scored) }];
	});
	found.sort((a, b) => a.value - b.value);
	return { found: distinct(found), evaluations };
}

/** Fitted values of a line with indices: n values. */
export function putFitted(
	{ intercept, slope, indices }: LineAndSeason,
	cycles: Cycles,
	kind: SeasonKind,
	fitted: Float64Array,
): void {
	for (let i = 0; i < fitted.length; i++) {
		fitted[i] = withIndex(kind, intercept + slope * (i + 1), indices[seasonOf(cycles, i)]!);
	}
}

interface Problem {
	values: Float64Array;
	/** t, brought to −1 … 1. */
	along: Float64Array;
	/** Scored positions of each season. */
	seasons: Int32Array[];
	scored: Int32Array;
	criterion: Criterion;
	fitted: Float64Array;
}

/** A criterion along one value, and the height of each season there. */
interface OneWay {
	at(place: number): number;
	heights(place: number): Float64Array;
	low: number;
	high: number;
	/** Where least squares has its minimum, if that is known. */
	best: number | null;
}

/** Multiplied: direction (cos θ, sin θ) of the line, and a factor for each season. */
function turned(problem: Problem): OneWay {
	const { values, along, seasons, scored, criterion, fitted } = problem;
	const sums = seasons.map((list) => sumsOf(problem, list));
	const base = new Float64Array(values.length);
	const gain = new Float64Array(values.length);
	const squares = (angle: number) => {
		const [c, s] = [Math.cos(angle), Math.sin(angle)];
		let left = 0;
		for (const { y2, y, yt, count, t, t2 } of sums) {
			const power = c * c * count + 2 * c * s * t + s * s * t2;
			const pull = c * y + s * yt;
			left += y2 - (power > 1e-12 * count ? (pull * pull) / power : 0);
		}
		return left / scored.length;
	};
	const factors = (angle: number): Float64Array => {
		const [c, s] = [Math.cos(angle), Math.sin(angle)];
		if (criterion === 'mse') {
			return Float64Array.from(sums, ({ y, yt, count, t, t2 }) => {
				const power = c * c * count + 2 * c * s * t + s * s * t2;
				return power > 1e-12 * count ? (c * y + s * yt) / power : 0;
			});
		}
		for (let i = 0; i < gain.length; i++) gain[i] = c + s * along[i]!;
		return Float64Array.from(seasons, (list) => bestOf(problem, list, base, gain));
	};
	const at = (angle: number) => {
		if (criterion === 'mse') return squares(angle);
		const heights = factors(angle);
		seasons.forEach((list, j) => {
			for (const i of list) fitted[i] = heights[j]! * gain[i]!;
		});
		return criterionValue(criterion, values, fitted, scored);
	};
	const rough =
		criterion === 'mse'
			? null
			: settledAngle(
					problem,
					minimiseOnInterval(squares, -QUARTER, QUARTER, { cells: 64, most: 300 }).valleys[0]!.at,
				);
	return { at, heights: factors, low: -QUARTER, high: QUARTER, best: rough };
}

/** Added: the slope of the line, and a height for each season. */
function climbing(problem: Problem): OneWay {
	const { values, along, seasons, scored, criterion, fitted } = problem;
	const base = new Float64Array(values.length);
	const gain = new Float64Array(values.length).fill(1);
	let across = 0;
	let width = 0;
	let spread = 0;
	for (const list of seasons) {
		const { y, t, count } = sumsOf(problem, list);
		for (const i of list) {
			const away = along[i]! - t / count;
			across += away * (values[i]! - y / count);
			width += away * away;
			spread = Math.max(spread, Math.abs(values[i]! - y / count));
		}
	}
	const best = width > 0 ? across / width : 0;
	const heights = (slope: number): Float64Array => {
		for (let i = 0; i < base.length; i++) base[i] = slope * along[i]!;
		if (criterion !== 'mse') {
			return Float64Array.from(seasons, (list) => bestOf(problem, list, base, gain));
		}
		return Float64Array.from(seasons, (list) => {
			let sum = 0;
			for (const i of list) sum += values[i]! - base[i]!;
			return sum / list.length;
		});
	};
	const at = (slope: number) => {
		const height = heights(slope);
		seasons.forEach((list, j) => {
			for (const i of list) fitted[i] = height[j]! + base[i]!;
		});
		return criterionValue(criterion, values, fitted, scored);
	};
	const reach = STEEPEST * (spread || 1);
	return { at, heights, low: best - reach, high: best + reach, best };
}

/** The factor or height of one season that is best for the criterion, everything else as it stands. */
function bestOf(problem: Problem, list: Int32Array, base: Float64Array, gain: Float64Array): number {
	const { values, criterion } = problem;
	const best =
		criterion === 'smape'
			? bestSymmetric(values, list, base, gain)
			: bestLinear(criterion, values, base, gain, list, () => NaN);
	return Number.isNaN(best) ? 0 : best;
}

const GOLDEN = (Math.sqrt(5) - 1) / 2;

/**
 * The x that is best for Σ |y − f| / (|y| + |f|), f = base + x·gain. As a function of log x each term is |tanh| of half the
 * distance to its own zero, which is concave on both sides: where base is 0, the least value lies where an error vanishes.
 * With a base it may lie beside such a place too, and is looked for there.
 */
function bestSymmetric(
	values: Float64Array,
	list: Int32Array,
	base: Float64Array,
	gain: Float64Array,
): number {
	const cost = (x: number) => {
		let sum = 0;
		for (const i of list) {
			const [y, f] = [values[i]!, base[i]! + x * gain[i]!];
			const both = Math.abs(y) + Math.abs(f);
			if (both > 0) sum += Math.abs(y - f) / both;
		}
		return sum;
	};
	const zeros: number[] = [];
	let factors = true;
	for (const i of list) {
		if (base[i] !== 0) factors = false;
		if (Math.abs(gain[i]!) > 1e-9) zeros.push((values[i]! - base[i]!) / gain[i]!);
	}
	zeros.sort((a, b) => a - b);
	let place = -1;
	let best = { at: NaN, value: Infinity };
	zeros.forEach((at, k) => {
		const value = cost(at);
		if (value < best.value) [best, place] = [{ at, value }, k];
	});
	if (factors) return best.at;
	for (const side of [place - 1, place]) {
		let [low, high] = [zeros[side] ?? NaN, zeros[side + 1] ?? NaN];
		if (!(high > low)) continue;
		for (let round = 0; round < 24; round++) {
			const [one, two] = [high - GOLDEN * (high - low), low + GOLDEN * (high - low)];
			const lower = cost(one) < cost(two);
			const at = lower ? one : two;
			const value = cost(at);
			if (value < best.value) best = { at, value };
			if (lower) high = two;
			else low = one;
		}
	}
	return best.at;
}

function sumsOf({ values, along }: Problem, list: Int32Array) {
	const sums = { count: list.length, y: 0, y2: 0, t: 0, t2: 0, yt: 0 };
	for (const i of list) {
		const [y, t] = [values[i]!, along[i]!];
		sums.y += y;
		sums.y2 += y * y;
		sums.t += t;
		sums.t2 += t * t;
		sums.yt += y * t;
	}
	return sums;
}

/** Goes from an angle near a minimum of the squares to where their derivative vanishes (Newton, by secants). */
function settledAngle(problem: Problem, near: number): number {
	const sums = problem.seasons.map((list) => sumsOf(problem, list));
	const rise = (angle: number) => {
		const [c, s] = [Math.cos(angle), Math.sin(angle)];
		let sum = 0;
		for (const { y, yt, count, t, t2 } of sums) {
			const power = c * c * count + 2 * c * s * t + s * s * t2;
			if (!(power > 1e-12 * count)) continue;
			const pull = c * y + s * yt;
			const turn = c * yt - s * y;
			const change = 2 * (c * s * (t2 - count) + (c * c - s * s) * t);
			sum += (pull * pull * change) / (power * power) - (2 * pull * turn) / power;
		}
		return sum;
	};
	let before = near - 1e-5;
	let place = near;
	let riseBefore = rise(before);
	for (let round = 0; round < 12; round++) {
		const here = rise(place);
		const next = place - (here * (place - before)) / (here - riseBefore);
		if (!Number.isFinite(next) || Math.abs(next - near) > 1e-3) return place;
		[before, riseBefore] = [place, here];
		if (Math.abs(next - place) < 1e-15) return next;
		place = next;
	}
	return place;
}

function multiplied(
	angle: number,
	factors: Float64Array,
	centre: number,
	half: number,
): LineAndSeason | null {
	const length = factors.length;
	const size = factors.reduce((a, b) => a + b, 0) / length;
	if (!(Math.abs(size) > 1e-12 * Math.max(...factors.map(Math.abs)))) return null;
	const slope = (size * Math.sin(angle)) / half;
	return {
		intercept: size * Math.cos(angle) - slope * centre,
		slope,
		indices: summingTo(
			factors.map((factor) => factor / size),
			length,
		),
	};
}

function added(slope: number, heights: Float64Array, centre: number, half: number): LineAndSeason {
	const mean = heights.reduce((a, b) => a + b, 0) / heights.length;
	return {
		intercept: mean - (slope / half) * centre,
		slope: slope / half,
		indices: summingTo(
			heights.map((height) => height - mean),
			0,
		),
	};
}

/** The same indices with what rounding left over put to the largest, so that the sum is exact. */
export function summingTo(
	indices: Float64Array,
	whole: number,
	free: readonly number[] = [...indices.keys()],
) {
	const largest = free.reduce(
		(best, j) => (Math.abs(indices[j]!) > Math.abs(indices[best]!) ? j : best),
		free[0]!,
	);
	for (let round = 0; round < 3; round++) {
		const over = indices.reduce((a, b) => a + b, 0) - whole;
		if (over === 0) break;
		indices[largest]! -= over;
	}
	return indices;
}

/** Valleys whose line is another one, the deepest first. */
function distinct<LocalMinimum extends LineAndSeason & { value: number }>(
	sorted: readonly LocalMinimum[],
): LocalMinimum[] {
	const kept: LocalMinimum[] = [];
	for (const valley of sorted) {
		const same = kept.some(
			({ intercept, slope }) =>
				Math.abs(slope - valley.slope) <= 1e-3 * (Math.abs(slope) + Math.abs(intercept) * 1e-3 + 1e-12) &&
				Math.abs(intercept - valley.intercept) <= 1e-3 * (Math.abs(intercept) + 1e-12),
		);
		if (!same) kept.push(valley);
	}
	return kept;
}
