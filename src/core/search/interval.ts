/** A local minimum on an interval. */
export interface LocalMinimum {
	at: number;
	value: number;
}

export interface IntervalMinimum {
	/** Distinct valleys, deepest first; never empty. */
	valleys: LocalMinimum[];
	/** Points looked at, in ascending order, with their values; the polished minima are among them. */
	points: LocalMinimum[];
}

interface IntervalOptions {
	/** Cells of the even grid that it begins with. */
	cells: number;
	/** The most times that the function is called before polishing. */
	most: number;
}

/** A cell is halved no further than this share of the interval. */
const NARROWEST = 1e-5;
/** Cells that might still hide something this much deeper (relative) than the best are looked into. */
const WORTHWHILE = 2e-5;
/** A valley that can be left by climbing less than this (relative) belongs to its neighbour. */
const SHALLOW = 1e-4;
const POLISHED = 8;
/** Width at which polishing ends: a hundredth of what a constant is read to. */
const POLISH = 1e-6;
const GOLDEN = (Math.sqrt(5) - 1) / 2;

/**
 * All minima of a function on [low, high], global one first.
 *
 * An even grid; then every cell that might hide a deeper point is halved, "might" being judged by the steepest
 * slope seen in it and beside it, doubled (the idea of Piyavskii 1972 with a local slope); then golden section
 * around each minimum found. A criterion such as MAD has a kink wherever an error changes sign, so that neither
 * derivatives nor a grid alone find its floor.
 * @param evaluate finite, or NaN where the function does not exist
 */
export function minimiseOnInterval(
	evaluate: (x: number) => number,
	low: number,
	high: number,
	{ cells, most }: IntervalOptions,
): IntervalMinimum {
	if (!(high > low)) {
		const only = { at: low, value: evaluate(low) };
		return { valleys: [only], points: [only] };
	}
	let points: LocalMinimum[] = [];
	for (let i = 0; i <= cells; i++) {
		const at = i === cells ? high : low + ((high - low) * i) / cells;
		points.push({ at, value: evaluate(at) });
	}
	const narrowest = NARROWEST * (high - low);
	let best = lowest(points);
	for (;;) {
		const refined: LocalMinimum[] = [];
		const slopes = points.map((_, i) => slope(points, i));
		let halved = 0;
		for (let i = 0; i < points.length; i++) {
			const right = points[i]!;
			const left = points[i - 1];
			if (left && points.length + halved < most && hides(points, slopes, i, best, narrowest)) {
				const at = (left.at + right.at) / 2;
				refined.push({ at, value: evaluate(at) });
				halved++;
			}
			refined.push(right);
		}
		points = refined;
		best = lowest(points);
		if (halved === 0) break;
	}
	const floors = localMinima(points)
		.sort((a, b) => points[a]!.value - points[b]!.value)
		.slice(0, POLISHED)
		.map((index) =>
			polish(
				evaluate,
				points[index - 1] ?? points[index]!,
				points[index]!,
				points[index + 1] ?? points[index]!,
			),
		);
	points = [...points, ...floors].sort((a, b) => a.at - b.at);
	return { valleys: separate(points), points };
}

function lowest(points: readonly LocalMinimum[]): number {
	let best = Infinity;
	for (const point of points) if (point.value < best) best = point.value;
	return best;
}

/** Whether the cell that ends at `i` might reach clearly below the best value so far. */
function hides(
	points: readonly LocalMinimum[],
	slopes: readonly number[],
	i: number,
	best: number,
	narrowest: number,
): boolean {
	const left = points[i - 1]!;
	const right = points[i]!;
	const width = right.at - left.at;
	if (width <= narrowest) return false;
	const steepest = Math.max(slopes[i - 1]!, slopes[i]!, slopes[i + 1] ?? 0);
	const reach = (left.value + right.value - 2 * steepest * width) / 2;
	return reach < best * (1 - WORTHWHILE);
}

function slope(points: readonly LocalMinimum[], i: number): number {
	const left = points[i - 1];
	const right = points[i];
	return left && right ? Math.abs((right.value - left.value) / (right.at - left.at)) : 0;
}

/** Indices that are no higher than both neighbours; of a level stretch the first. */
function localMinima(points: readonly LocalMinimum[]): number[] {
	const found: number[] = [];
	for (let i = 0; i < points.length; i++) {
		const here = points[i]!.value;
		if (Number.isNaN(here)) continue;
		const before = points[i - 1]?.value ?? Infinity;
		const after = points[i + 1]?.value ?? Infinity;
		if ((here < before || Number.isNaN(before)) && !(here > after)) found.push(i);
	}
	return found;
}

/** Golden section between the neighbours of a minimum; the minimum itself where nothing lower turns up. */
function polish(
	evaluate: (x: number) => number,
	before: LocalMinimum,
	middle: LocalMinimum,
	after: LocalMinimum,
): LocalMinimum {
	let low = before.at;
	let high = after.at;
	let best = middle;
	let left = high - GOLDEN * (high - low);
	let right = low + GOLDEN * (high - low);
	let leftValue = evaluate(left);
	let rightValue = evaluate(right);
	for (;;) {
		if (leftValue < best.value) best = { at: left, value: leftValue };
		if (rightValue < best.value) best = { at: right, value: rightValue };
		if (high - low < POLISH * Math.max(1, Math.abs(high))) return best;
		if (leftValue <= rightValue) {
			high = right;
			right = left;
			rightValue = leftValue;
			left = high - GOLDEN * (high - low);
			leftValue = evaluate(left);
		} else {
			low = left;
			left = right;
			leftValue = rightValue;
			right = low + GOLDEN * (high - low);
			rightValue = evaluate(right);
		}
	}
}

/** Valleys with a real rise between them, deepest first. */
function separate(points: readonly LocalMinimum[]): LocalMinimum[] {
	const kept: { index: number; valley: LocalMinimum }[] = [];
	for (const index of localMinima(points).sort((a, b) => points[a]!.value - points[b]!.value)) {
		const valley = points[index]!;
		const rise = valley.value + SHALLOW * Math.abs(valley.value);
		const joined = kept.some((other) => {
			const [from, to] = other.index < index ? [other.index, index] : [index, other.index];
			return points.slice(from, to + 1).every((point) => !(point.value > rise));
		});
		if (!joined) kept.push({ index, valley });
	}
	// Where the function exists nowhere there is no valley, and the caller is told so by the value.
	return kept.length > 0 ? kept.map((entry) => entry.valley) : [points[0]!];
}
