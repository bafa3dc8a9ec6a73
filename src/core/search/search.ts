import { MEASURES } from '../accuracy/measures';
import { CannotRun } from '../contract/method';
import type { Model } from '../contract/model';
import type { OptimiseInput } from '../contract/candidate';
import type { Criterion } from '../contract/criteria';
import { bestLinear } from './linear';
import type { Found, Search } from '../contract/found';
import { descend, type Place } from './descend';
import { type IntervalMinimum, minimiseOnInterval, type LocalMinimum } from './interval';
import { Problem } from './problem';
import { minimiseSeveral } from './several';

const FLAT = 1.01;
/** How closely the ends of a flat range are found; they are read to two decimals. */
const FLAT_WIDTH = 5e-4;
/** The same as a share of a constant's range, where several are searched. */
const FLAT_STEP = 2e-3;
/** How often the reach of a flat range is widened in search of its end. */
const MOST_REACHES = 40;
/** A valley that can be left by climbing less than this (relative) belongs to a deeper one. */
const SHALLOW = 1e-4;
/** How many valleys are looked at for being apart. */
const CONSIDERED = 8;

/**
 * Finds the constants (and start values) of a model that minimise a criterion over the scored periods.
 * What is held stays; what is not held is searched within its bounds. The same request has the same answer.
 * @param also places to go down from beside the search's own: values of all parameters of the model
 * @throws CannotRun where the criterion does not exist on this series, or more is searched than is scored.
 */
export function searchParameters(
	model: Model,
	actual: Float64Array,
	scored: Int32Array,
	optimise: OptimiseInput,
	also: readonly Float64Array[] = [],
): Found {
	const problem = problemOf(model, actual, scored, optimise);
	const { free } = problem;
	refuseTooMany(model, free, scored);
	const linear = free.filter((index) => model.parameters[index]!.linear);
	return linear.length > 1 || free.length - linear.length > 1
		? searchSeveral(problem, also, optimise.quick)
		: searchOne(problem);
}

/** What is searched and within which bounds; what is held stands at its value, start values where their rule puts them. */
function problemOf(model: Model, actual: Float64Array, scored: Int32Array, optimise: OptimiseInput): Problem {
	const criterion = optimise.criterion ?? 'mse';
	const parameters = Float64Array.from(model.parameters, (parameter) => parameter.fallback);
	const held = optimise.hold ?? {};
	const free: number[] = [];
	model.parameters.forEach((parameter, index) => {
		const hold = held[parameter.key];
		if (hold === undefined) free.push(index);
		else parameters[index] = hold;
	});
	const bounds = free.map((index) => {
		const { key, bounds } = model.parameters[index]!;
		return optimise.bounds?.[key] ?? bounds;
	});
	return new Problem(model, actual, scored, criterion, parameters, free, bounds);
}

/**
 * The floor of the valley that a place lies in.
 * @param from values of all parameters of the model
 * @returns null where the criterion does not exist there
 */
export function localMinimumFrom(
	model: Model,
	actual: Float64Array,
	scored: Int32Array,
	optimise: OptimiseInput,
	from: Float64Array,
): { constants: Record<string, number>; value: number } | null {
	const problem = problemOf(model, actual, scored, optimise);
	const x = Float64Array.from(problem.free, (index, j) =>
		Math.min(problem.upper[j]!, Math.max(problem.lower[j]!, from[index]!)),
	);
	const start = { x, value: problem.value(x) };
	if (!Number.isFinite(start.value)) return null;
	const floor = descend(problem, start, { most: 40, enough: 1e-8 });
	problem.value(floor.x);
	return { constants: constantsOf(model, problem.parameters), value: floor.value };
}

/** One constant, or one start value, or both: every valley on an interval, the start value settled exactly. */
function searchOne(problem: Problem): Found {
	const { model, actual, scored, criterion, parameters, free } = problem;
	const place = (linear: boolean) => free.findIndex((index) => model.parameters[index]!.linear === linear);
	const [moved, settled] = [place(false), place(true)];
	const x = Float64Array.from(free, (index) => parameters[index]!);
	const base = new Float64Array(actual.length);
	const gain = new Float64Array(actual.length);
	/** Puts the straight-line parameter at its best for the other as it stands. */
	const settle = () => {
		if (settled >= 0) {
			x[settled] = 0;
			problem.pass(x, base);
			x[settled] = 1;
			problem.pass(x, gain);
			for (let i = 0; i < gain.length; i++) gain[i]! -= base[i]!;
			const best = bestLinear(criterion, actual, base, gain, scored, (value) => {
				x[settled] = value;
				return problem.value(x);
			});
			x[settled] = Number.isNaN(best) ? model.parameters[free[settled]!]!.fallback : best;
		}
		return problem.value(x);
	};

	if (moved < 0) {
		const value = settle();
		refuseWithout(criterion, value, scored.length);
		const constants = constantsOf(model, parameters);
		return foundOf(problem, value, [{ constants, value }], {}, []);
	}

	const { key } = model.parameters[free[moved]!]!;
	const [low, high] = [problem.lower[moved]!, problem.upper[moved]!];
	const at = (value: number) => {
		x[moved] = value;
		return settle();
	};
	// Squared errors are smooth in the constants; the others have a kink wherever an error changes sign.
	const cells = criterion === 'mse' ? 32 : 128;
	const minimum = minimiseOnInterval(at, low, high, { cells, most: 900 });
	const best = minimum.valleys[0]!;
	refuseWithout(criterion, best.value, scored.length);
	const flat = flatRange(at, minimum, best);
	const basins = minimum.valleys.map((valley) => {
		parameters[free[moved]!] = valley.at;
		return { constants: constantsOf(model, parameters), value: valley.value };
	});
	const value = at(best.at);
	const atBound = best.at === low || best.at === high ? [key] : [];
	return foundOf(problem, value, basins, { [key]: flat }, atBound);
}

/** Several values at once. */
function searchSeveral(problem: Problem, also: readonly Float64Array[], quick = false): Found {
	const { model, criterion, scored, parameters, free } = problem;
	const first = Float64Array.from(free, (index) => model.parameters[index]!.fallback);
	const places = Array.from(free.keys());
	const parameterAt = (place: number) => model.parameters[free[place]!]!;
	const nonlinear = places.filter((place) => parameterAt(place).role === 'constant');
	const linear = places.filter((place) => parameterAt(place).linear);
	const within = also.map((all) =>
		Float64Array.from(free, (index, j) =>
			Math.min(problem.upper[j]!, Math.max(problem.lower[j]!, all[index]!)),
		),
	);
	const valleys = minimiseSeveral(problem, first, nonlinear, linear, within, quick);
	refuseWithout(criterion, valleys[0]?.value ?? NaN, scored.length);
	const best = ontoBounds(problem, valleys[0]!, nonlinear);
	const flat: Record<string, [number, number]> = {};
	for (const place of nonlinear) flat[parameterAt(place).key] = flatAlong(problem, best, place);
	const basins = apart(problem, [best, ...valleys.slice(1, CONSIDERED)]).map(({ x, value }) => {
		free.forEach((index, j) => (parameters[index] = x[j]!));
		return { constants: constantsOf(model, parameters), value };
	});
	const value = problem.value(best.x);
	const atBound = nonlinear
		.filter((place) => best.x[place] === problem.lower[place] || best.x[place] === problem.upper[place])
		.map((place) => parameterAt(place).key);
	return foundOf(problem, value, basins, flat, atBound);
}

function foundOf(
	{ parameters, free, criterion, evaluations }: Problem,
	value: number,
	basins: Search['basins'],
	flat: Search['flat'],
	atBound: string[],
): Found {
	return {
		parameters,
		searched: free.length,
		search: { criterion, value, evaluations, basins, flat, atBound },
	};
}

/** Closer than this share of its range to a bound, a constant is tried on it. */
const AT_BOUND = 1e-4;

/** The same place with constants that all but touch a bound put on it, where that costs nothing. */
function ontoBounds(problem: Problem, best: Place, nonlinear: readonly number[]): Place {
	let place = best;
	for (const j of nonlinear) {
		for (const bound of [problem.lower[j]!, problem.upper[j]!]) {
			const away = Math.abs(place.x[j]! - bound);
			if (away === 0 || away > AT_BOUND * problem.scale[j]!) continue;
			const x = place.x.slice();
			x[j] = bound;
			const value = problem.value(x);
			if (value <= place.value * (1 + 1e-9)) place = { x, value };
		}
	}
	return place;
}

/** Of several valleys, those with a real rise on the straight way to every deeper one. */
function apart(problem: Problem, valleys: readonly Place[]): Place[] {
	const STOPS = 4;
	const kept: Place[] = [];
	for (const valley of valleys) {
		const rise = valley.value * (1 + SHALLOW);
		const joined = kept.some((deeper) => {
			for (let stop = 1; stop <= STOPS; stop++) {
				const share = stop / (STOPS + 1);
				const x = valley.x.map((at, j) => at + share * (deeper.x[j]! - at));
				if (problem.value(x) > rise) return false;
			}
			return true;
		});
		if (!joined) kept.push(valley);
	}
	return kept;
}

/** The stretch along one constant, everything else held, over which the criterion stays within 1 % of the best. */
function flatAlong(problem: Problem, best: Place, place: number): [number, number] {
	const ceiling = best.value * FLAT;
	const x = best.x.slice();
	const at = (value: number) => {
		x[place] = value;
		return problem.value(x);
	};
	const edge = (bound: number): number => {
		const home = best.x[place]!;
		if (bound === home) return home;
		let inside = home;
		let outside = bound;
		for (let reach = 0.02 * problem.scale[place]!, round = 0; ; reach *= 2.5, round++) {
			// A value that nothing depends on has no end to be found.
			if (round === MOST_REACHES) return inside;
			const next = home + Math.sign(bound - home) * Math.min(reach, Math.abs(bound - home));
			if (at(next) <= ceiling) {
				inside = next;
				if (next === bound) return bound;
			} else {
				outside = next;
				break;
			}
		}
		while (Math.abs(outside - inside) > FLAT_STEP * problem.scale[place]!) {
			const middle = (inside + outside) / 2;
			if (middle === inside || middle === outside) break;
			if (at(middle) <= ceiling) inside = middle;
			else outside = middle;
		}
		return inside;
	};
	return [edge(problem.lower[place]!), edge(problem.upper[place]!)];
}

/**
 * For some of a model's parameters, the stretch around their value over which the criterion stays within 1 % of the best,
 * everything else held.
 * @param best values of all parameters
 * @param places indices of those that are asked about
 */
export function flatAround(
	model: Model,
	actual: Float64Array,
	scored: Int32Array,
	criterion: Criterion,
	best: Float64Array,
	places: readonly number[],
): Record<string, [number, number]> {
	const anywhere = places.map(() => [-Infinity, Infinity] as const);
	const problem = new Problem(model, actual, scored, criterion, best.slice(), places, anywhere);
	const x = Float64Array.from(places, (place) => best[place]!);
	const place = { x, value: problem.value(x) };
	return Object.fromEntries(
		places.map((index, j) => [model.parameters[index]!.key, flatAlong(problem, place, j)]),
	);
}

/** Start values fit anything when there are as many of them as there are errors. */
function refuseTooMany(model: Model, free: readonly number[], scored: Int32Array): void {
	const starts = free.filter((index) => model.parameters[index]!.role === 'start').length;
	if (starts === 0 || scored.length > free.length) return;
	throw new CannotRun({
		code: 'too-few-periods',
		text: `Searching ${free.length} values, ${starts} of them of the start, needs more than ${free.length} scored periods; there are ${scored.length}. Start by a rule instead.`,
		figures: { needs: free.length + 1, has: scored.length },
	});
}

/** The values of a model's constants by name, start values left out. */
export function constantsOf(model: Model, parameters: Float64Array): Record<string, number> {
	const constants: Record<string, number> = {};
	model.parameters.forEach((parameter, index) => {
		if (parameter.role === 'constant') constants[parameter.key] = parameters[index]!;
	});
	return constants;
}

function refuseWithout(criterion: Criterion, value: number, scored: number): void {
	if (Number.isFinite(value)) return;
	const name = MEASURES[criterion].name;
	const reason =
		scored === 0
			? `There is no period to score, so ${name} cannot be searched. Bring in more periods or score from an earlier one.`
			: criterion === 'mse' || criterion === 'mad'
				? `${name} cannot be searched: with any constants the recursion runs away from these figures. Start it otherwise, or take another method.`
				: `${name} does not exist for this series: every scored actual is 0. Search by MAD or MSE instead.`;
	throw new CannotRun({
		code: 'criterion-missing',
		text: reason,
		figures: { scored },
	});
}

/** The stretch around the best over which the function stays within 1 %, its ends found by halving. */
function flatRange(
	at: (x: number) => number,
	{ points }: IntervalMinimum,
	best: LocalMinimum,
): [number, number] {
	const ceiling = best.value * FLAT;
	const start = points.indexOf(best);
	const edge = (direction: -1 | 1): number => {
		let inside = best.at;
		for (let i = start + direction; ; i += direction) {
			const point = points[i];
			if (!point) return inside;
			if (point.value <= ceiling) {
				inside = point.at;
				continue;
			}
			let outside = point.at;
			while (Math.abs(outside - inside) > FLAT_WIDTH) {
				const middle = (inside + outside) / 2;
				if (at(middle) <= ceiling) inside = middle;
				else outside = middle;
			}
			return inside;
		}
	};
	return [edge(-1), edge(1)];
}
