import { descend, type Place } from './descend';
import { leastDeviationsStep } from './least-deviations';
import { evenPoints } from './even';
import { LeastSquares } from './least-squares';
import type { Problem } from './problem';

/** How much is looked at, by how many constants bend the forecast. */
interface Effort {
	/** Points of a look … */
	points: readonly number[];
	/** … and how many looks there are while passes are left. */
	looks: number;
	/** From how many of them it goes down a few steps … */
	begun: number;
	/** … and from how many of the lowest then reached it goes on to the floor. */
	finished: number;
	/** How many times as much is done for long series, at the most. */
	longest: number;
	/** Looks around the best floor, and points of each. */
	rounds: number;
	around: number;
}
const SMOOTH: Effort = {
	points: [0, 16, 80, 150, 320],
	looks: 1,
	begun: 12,
	finished: 6,
	longest: 6,
	rounds: 0,
	around: 0,
};
const KINKED: Effort = {
	points: [0, 60, 300, 500, 900],
	looks: 2,
	begun: 16,
	finished: 5,
	longest: 2.7,
	rounds: 4,
	around: 8,
};
/** Passes after which no further descent is begun, by how many constants bend the forecast … */
const MOST = [2200, 2200, 2200, 1550, 4500];
/** … whatever start values are searched along; and how many passes the first look may then take. */
const MOST_EVER = 15_000;
const MOST_AT_FIRST = 5000;
/** Scored periods at which a search does as much as is said here; of fewer and of more it does more. */
const SHORT = 60;
const FEW = { most: 3, enough: 1e-4 };
const COARSE = { most: 25, enough: 2e-6 };
const FINE = { most: 40, enough: 1e-10 };
/** What is looked at elsewhere may go beyond those passes by so much. */
const RESERVE = 1.25;
/** A place elsewhere is gone down from when it is no higher than so many times the best floor. */
const NEARLY = 1.05;
/** Places closer than this in every constant, as a share of its range, are one. */
const SAME = 2e-3;

/**
 * All valleys that a search over several parameters at once can tell apart, the deepest first.
 *
 * A first look at points spread evenly over the constants that bend the forecast (start values settled or as their
 * rule gives them); then down from those that have no lower point near them (multi-level single linkage, Rinnooy
 * Kan & Timmer 1987): a few steps from many, on to the floor from the lowest. A criterion of absolute errors has
 * many small valleys close to each other: around the best floor it looks again.
 * @param nonlinear places among the searched parameters that are spread over
 * @param linear places whose fitted values depend on them in a straight line, settled at each point
 * @param also further places to go down from
 * @param quick looks no harder than at a series of 60 scored periods
 */
export function minimiseSeveral(
	problem: Problem,
	first: Float64Array,
	nonlinear: readonly number[],
	linear: readonly number[],
	also: readonly Float64Array[] = [],
	quick = false,
): Place[] {
	const effort = problem.criterion === 'mse' ? SMOOTH : KINKED;
	const valleys: Place[] = [];
	const keep = (list: Place[], place: Place) => {
		if (!Number.isFinite(place.value)) return;
		const near = list.findIndex(({ x }) => alike(problem, x, place.x));
		if (near < 0) list.push(place);
		else if (place.value < list[near]!.value) list[near] = place;
	};
	const lowest = (list: Place[]) => list.sort((a, b) => a.value - b.value);
	// A pass that carries derivatives by start values costs as many times more: fewer points, more passes in all.
	const cost = 1 + problem.free.length - nonlinear.length;
	const scored = problem.scored.length;
	// A pass over few periods costs little; the criterion of many hides narrower valleys.
	const times = quick
		? 1
		: scored <= SHORT
			? Math.min(2, SHORT / scored)
			: Math.min(effort.longest, (effort.longest / 2) * (scored / SHORT));
	const points = Math.min(
		((effort.points[nonlinear.length] ?? 0) * times) / Math.sqrt(cost),
		MOST_AT_FIRST / cost,
	);
	const most = Math.min(MOST_EVER, (MOST[nonlinear.length] ?? 0) * times * cost ** 0.75);
	const spent = () => problem.evaluations > most;
	const at = (x: Float64Array): Place => ({ x, value: problem.value(x) });

	const all: Place[] = [];
	const used = new Set<Place>();
	// A long series has had as much of a look at once as another one would add.
	const looks = times > 2 ? 1 : effort.looks;
	for (let look = 0; look < looks && (look === 0 || !spent()); look++) {
		const to = all.length + Math.max(1, Math.ceil(points));
		all.push(...spread(problem, first, nonlinear, linear, all.length, to));
		const fresh = linked(all, nonlinear.length).filter((place) => !used.has(place));
		const begun: Place[] = [];
		for (const start of [
			...(look === 0 ? also.map(at) : []),
			...fresh.slice(0, Math.round(effort.begun * times)),
		]) {
			used.add(start);
			if (!spent() || begun.length === 0) keep(begun, descend(problem, start, FEW));
		}
		for (const place of lowest(begun).slice(0, Math.round(effort.finished * times))) {
			if (!spent() || valleys.length === 0) keep(valleys, descend(problem, place, COARSE));
		}
	}
	if (valleys.length === 0) return [];
	const floor = lowest(valleys)[0]!;
	for (const x of elsewhere(problem, floor.x)) {
		const place = at(x);
		const left = problem.evaluations < RESERVE * most;
		if (left && place.value < floor.value * NEARLY) keep(valleys, descend(problem, place, COARSE));
	}
	for (let round = 0; round < effort.rounds; round++) {
		const best = lowest(valleys)[0]!;
		for (const x of around(problem, best.x, nonlinear, effort.around, round)) {
			if (!spent()) keep(valleys, descend(problem, at(x), COARSE));
		}
		if (!(lowest(valleys)[0]!.value < best.value * (1 - 1e-6))) break;
	}
	lowest(valleys)[0] = descend(problem, valleys[0]!, FINE);
	return valleys;
}

/**
 * Places of the even spread, from the `from`-th to the `to`-th, denser towards the lower ends of the nonlinear parameters, where
 * the criterion turns fastest.
 */
function spread(
	problem: Problem,
	first: Float64Array,
	nonlinear: readonly number[],
	linear: readonly number[],
	from: number,
	to: number,
): Place[] {
	const k = nonlinear.length;
	const { shares } = evenPoints(k, to);
	const squares = new LeastSquares(linear.length);
	const places: Place[] = [];
	for (let i = from; i < to; i++) {
		const x = first.slice();
		for (let axis = 0; axis < k; axis++) {
			const place = nonlinear[axis]!;
			const lower = problem.lower[place]!;
			x[place] = lower + shares[i * k + axis]! ** 1.6 * (problem.upper[place]! - lower);
		}
		if (linear.length > 0) solveLinear(problem, x, linear, squares);
		places.push({ x, value: problem.value(x) });
	}
	return places;
}

/** Puts the linear parameters at their best for the others as they stand; leaves them where that fails. */
function solveLinear(
	problem: Problem,
	x: Float64Array,
	linear: readonly number[],
	squares: LeastSquares,
): void {
	const view = problem.linearised(x, linear);
	if (!view) return;
	const wide = linear.map((place) => 100 * problem.scale[place]!);
	const lower = Float64Array.from(wide, (width) => -width);
	const upper = Float64Array.from(wide);
	const { step } =
		problem.criterion === 'mse'
			? squares.about(view).step(1e-9, lower, upper)
			: leastDeviationsStep(view, problem.costs(view.errors), lower, upper);
	linear.forEach((place, j) => (x[place]! += step[j]!));
}

/** Places of the even spread that have no lower one near them, the lowest first. */
function linked(places: readonly Place[], k: number): Place[] {
	const { near } = evenPoints(k, places.length);
	const lower = (a: number, b: number) =>
		places[a]!.value < places[b]!.value || (places[a]!.value === places[b]!.value && a < b);
	return places
		.filter((place, at) => Number.isFinite(place.value) && !near[at]!.some((other) => lower(other, at)))
		.sort((a, b) => a.value - b.value);
}

/** Places on a scatter about x, wider with each round. */
function around(
	problem: Problem,
	x: Float64Array,
	nonlinear: readonly number[],
	count: number,
	round: number,
): Float64Array[] {
	const GOLDEN = 0.618034;
	return Array.from({ length: count }, (_, i) => {
		const moved = x.slice();
		nonlinear.forEach((place, axis) => {
			// Even and repeatable: multiples of irrational numbers, folded into −1 … 1.
			const turn = ((i + 1 + count * round) * GOLDEN ** (axis + 1) * Math.sqrt(axis + 2)) % 1;
			const width = problem.scale[place]! * 0.08 * (1 + round);
			const to = x[place]! + (2 * turn - 1) * width;
			moved[place] = Math.min(problem.upper[place]!, Math.max(problem.lower[place]!, to));
		});
		return moved;
	});
}

/**
 * Places that a straight step rarely reaches: the same product of level and trend constant (the trend learns by αβ
 * of each error, so that with a small α a long narrow valley runs along this product), and the damping at either end,
 * where a trend that hardly moves forecasts nearly the same.
 */
function elsewhere(problem: Problem, x: Float64Array): Float64Array[] {
	const places = problem.free.map((index) => problem.model.parameters[index]!.key);
	const [alpha, beta] = [places.indexOf('alpha'), places.indexOf('beta')];
	const moved: Float64Array[] = [];
	if (alpha >= 0 && beta >= 0) {
		const product = x[alpha]! * x[beta]!;
		for (const share of [1, 0.3, 0.1]) {
			const place = x.slice();
			place[beta] = problem.lower[beta]! + share * (problem.upper[beta]! - problem.lower[beta]!);
			place[alpha] = product / place[beta]!;
			if (place[alpha]! >= problem.lower[alpha]! && place[alpha]! <= problem.upper[alpha]!) moved.push(place);
		}
	}
	for (const bounded of [places.indexOf('phi'), places.indexOf('gamma')]) {
		if (bounded < 0) continue;
		for (const end of [problem.lower[bounded]!, problem.upper[bounded]!]) {
			const place = x.slice();
			place[bounded] = end;
			moved.push(place);
		}
	}
	return moved;
}

function alike(problem: Problem, a: Float64Array, b: Float64Array): boolean {
	return a.every((value, j) => Math.abs(value - b[j]!) <= SAME * problem.scale[j]!);
}
