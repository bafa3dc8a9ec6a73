import type { Model, Parameter } from '../contract/model';
import { type Cycles, seasonOf } from '../seasons/cycles';
import { type SeasonKind, wholeOf } from '../seasons/indices';
import type { Criterion } from '../contract/criteria';
import { descend, type Place } from './descend';
import { type LineAndSeason, putFitted, summingTo } from './line-and-season';
import { Problem } from './problem';
import { searchParameters } from './search';

/** What of a line with indices is held; null where it is free. */
export interface HeldLine {
	intercept: number | null;
	slope: number | null;
	/** By season. */
	indices: readonly (number | null)[];
}

/** A model of what is free, and the way back from its parameters. */
interface FreeModel {
	model: Model;
	lineAt(parameters: Float64Array): LineAndSeason;
}

/**
 * The rest of a line with indices where something of it is held: what is free is written as values on which the fitted
 * values depend in a straight line, beside one that turns the line where both are to be found; the usual search does the rest.
 */
export function findBesideHeld(
	values: Float64Array,
	cycles: Cycles,
	kind: SeasonKind,
	scored: Int32Array,
	criterion: Criterion,
	held: HeldLine,
): { found: (LineAndSeason & { value: number })[]; evaluations: number } {
	const free = freeModel(values, cycles, kind, held);
	if (free.model.parameters.length === 0) {
		return { found: [{ ...free.lineAt(new Float64Array(0)), value: NaN }], evaluations: 0 };
	}
	const squares = searchParameters(free.model, values, scored, { criterion: 'mse' });
	const place = { x: squares.parameters, value: squares.search.value };
	const { x, value, evaluations } =
		criterion === 'mse'
			? { ...place, evaluations: 0 }
			: leastKinked(free.model, values, scored, criterion, place.x);
	return {
		found: [{ ...free.lineAt(x), value }],
		evaluations: squares.search.evaluations + evaluations,
	};
}

/** Directions of the line that everything else is settled for, of few seasons and of many: each then costs more. */
const turnsFor = (values: number) => Math.max(8, Math.min(40, Math.round(480 / values)));
/** How many of the lowest are then gone down from with the line free to turn. */
const finishedFor = (values: number) => (values > 24 ? 3 : 6);
const SETTLED = { most: 12, enough: 1e-6 };
const FLOOR = { most: 80, enough: 1e-10 };

/**
 * The least value of a criterion of absolute errors: for directions of the line all around, everything else is settled, each
 * from where the one before it ended; from the lowest, and from the least squares, it goes down to the floor.
 */
function leastKinked(
	model: Model,
	values: Float64Array,
	scored: Int32Array,
	criterion: Criterion,
	squares: Float64Array,
): Place & { evaluations: number } {
	const all = [...model.parameters.keys()];
	const straight = all.filter((index) => model.parameters[index]!.linear);
	const problemOf = (start: Float64Array, free: number[]) => {
		const bounds = free.map((index) => model.parameters[index]!.bounds);
		return new Problem(model, values, scored, criterion, start.slice(), free, bounds);
	};
	let evaluations = 0;
	const down = (start: Float64Array, free: number[], options: typeof FLOOR): Place => {
		const problem = problemOf(start, free);
		const x = Float64Array.from(free, (index) => start[index]!);
		const floor = descend(problem, { x, value: problem.value(x) }, options);
		problem.value(floor.x);
		evaluations += problem.evaluations;
		return { x: problem.parameters.slice(), value: floor.value };
	};
	const first = Float64Array.from(model.parameters, ({ fallback }) => fallback);
	const begun: Place[] = [squares, first].map((x) => ({ x, value: Infinity }));
	const [low, high] = model.parameters[0]!.bounds;
	const turned: Place[] = [];
	if (straight.length < all.length) {
		let from = squares;
		const turns = turnsFor(straight.length);
		for (let turn = 0; turn < turns; turn++) {
			const start = from.slice();
			start[0] = low + ((turn + 0.5) * (high - low)) / turns;
			const settled = down(start, straight, SETTLED);
			if (!Number.isFinite(settled.value)) continue;
			turned.push(settled);
			from = settled.x;
		}
		turned.sort((a, b) => a.value - b.value);
	}
	const floors = [...begun, ...turned.slice(0, finishedFor(straight.length))].map(({ x }) =>
		down(x, all, FLOOR),
	);
	floors.sort((a, b) => a.value - b.value);
	return { ...floors[0]!, evaluations };
}

const START: Omit<Parameter, 'key' | 'fallback'> = {
	role: 'start',
	bounds: [-Infinity, Infinity],
	linear: true,
};

/** A model of what is free, every fitted value straight in all its parameters but a first one that turns the line. */
export function freeModel(values: Float64Array, cycles: Cycles, kind: SeasonKind, held: HeldLine): FreeModel {
	const n = values.length;
	const centre = (n + 1) / 2;
	const half = Math.max(1, n / 2);
	const present = values.filter((value) => !Number.isNaN(value));
	const mean = present.reduce((a, b) => a + b, 0) / present.length;
	const whole = wholeOf(kind, cycles.length);
	const free = held.indices.flatMap((index, j) => (index === null ? [j] : []));
	const last = free.at(-1);
	const kept = held.indices.reduce<number>((sum, index) => sum + (index ?? 0), 0);
	const moved = free.slice(0, -1);
	const usual = kind === 'multiplicative' ? 1 : 0;
	const first = free.length > 0 ? (whole - kept) / free.length : usual;

	/** Indices from those that are moved; the last free one takes up the sum. */
	const indicesFrom = (chosen: ArrayLike<number>, from: number): Float64Array => {
		const indices = Float64Array.from(held.indices, (index) => index ?? 0);
		moved.forEach((j, place) => (indices[j] = chosen[from + place]!));
		if (last === undefined) return indices;
		indices[last] = 0;
		indices[last] = whole - indices.reduce((a, b) => a + b, 0);
		return summingTo(indices, whole, [last]);
	};
	const indexParameters = moved.map((j): Parameter => ({ ...START, key: `index ${j + 1}`, fallback: first }));
	const lineFree = held.intercept === null && held.slope === null;
	const lineGiven = held.intercept !== null && held.slope !== null;
	const interceptFor = (slope: number) => held.intercept ?? mean - slope * centre;

	if (kind === 'additive' || lineGiven || free.length === 0) {
		// Everything that is free moves the fitted values in a straight line.
		const line: Parameter[] = [
			...(held.intercept === null ? [{ ...START, key: 'middle', fallback: mean }] : []),
			...(held.slope === null ? [{ ...START, key: 'trend', fallback: 0 }] : []),
		];
		const lineAt = (chosen: Float64Array): LineAndSeason => {
			let place = 0;
			const middle = held.intercept === null ? chosen[place++]! : NaN;
			const slope = held.slope ?? chosen[place++]! / half;
			const intercept = held.intercept ?? middle - slope * centre;
			return { intercept, slope, indices: indicesFrom(chosen, place) };
		};
		return { model: straightModel([...line, ...indexParameters], lineAt, cycles, kind, n), lineAt };
	}
	if (lineFree) {
		// At one direction of the line: its size, and a factor for each season that is free.
		const parameters: Parameter[] = [
			{ key: 'turn', role: 'constant', bounds: [-Math.PI / 2, Math.PI / 2], fallback: 0, linear: false },
			{ ...START, key: 'size', fallback: mean },
			...moved.map((j): Parameter => ({ ...START, key: `factor ${j + 1}`, fallback: mean * first })),
		];
		const factors = (chosen: ArrayLike<number>) => {
			const size = chosen[1]!;
			const list = Float64Array.from(held.indices, (index) => (index ?? 0) * size);
			let rest = (whole - kept) * size;
			moved.forEach((j, place) => {
				list[j] = chosen[2 + place]!;
				rest -= list[j]!;
			});
			list[last!] = rest;
			return list;
		};
		const lineAt = (chosen: Float64Array): LineAndSeason => {
			const size = chosen[1]!;
			const slope = (size * Math.sin(chosen[0]!)) / half;
			const scaled = factors(chosen).map((factor, j) => held.indices[j] ?? factor / size);
			return {
				intercept: size * Math.cos(chosen[0]!) - slope * centre,
				slope,
				indices: summingTo(scaled, whole, [last!]),
			};
		};
		const direction = (angle: number, i: number) =>
			Math.cos(angle) + (Math.sin(angle) * (i + 1 - centre)) / half;
		const turn = (angle: number, i: number) => -Math.sin(angle) + (Math.cos(angle) * (i + 1 - centre)) / half;
		return { model: bentModel(parameters, factors, direction, turn, cycles, n), lineAt };
	}
	// One of the line is held: the other is turned by an angle, so that it may be of any size.
	const slopeHeld = held.slope !== null;
	const unit = slopeHeld ? Math.max(Math.abs(mean), 1e-9) : Math.max(Math.abs(mean), 1e-9) / half;
	const middle = slopeHeld ? mean - held.slope! * centre : 0;
	const parameters: Parameter[] = [
		{ key: 'turn', role: 'constant', bounds: [-1.5, 1.5], fallback: 0, linear: false },
		...indexParameters,
	];
	const freeAt = (angle: number) => middle + unit * Math.tan(angle);
	const lineAt = (chosen: Float64Array): LineAndSeason => {
		const value = freeAt(chosen[0]!);
		return {
			intercept: slopeHeld ? value : interceptFor(0),
			slope: slopeHeld ? held.slope! : value,
			indices: indicesFrom(chosen, 1),
		};
	};
	const direction = (angle: number, i: number) =>
		slopeHeld ? freeAt(angle) + held.slope! * (i + 1) : held.intercept! + freeAt(angle) * (i + 1);
	const turn = (angle: number, i: number) => (unit / Math.cos(angle) ** 2) * (slopeHeld ? 1 : i + 1);
	return {
		model: bentModel(parameters, (chosen) => indicesFrom(chosen, 1), direction, turn, cycles, n),
		lineAt,
	};
}

/** A model whose fitted values are straight in all its parameters. */
function straightModel(
	parameters: readonly Parameter[],
	lineAt: (chosen: Float64Array) => LineAndSeason,
	cycles: Cycles,
	kind: SeasonKind,
	n: number,
): Model {
	const put = (chosen: Float64Array, fitted: Float64Array) => putFitted(lineAt(chosen), cycles, kind, fitted);
	// What one unit of each parameter adds is the same everywhere.
	const none = new Float64Array(n);
	put(new Float64Array(parameters.length), none);
	const units = parameters.map((_, place) => {
		const row = new Float64Array(n);
		put(
			Float64Array.from(parameters, (_, other) => (other === place ? 1 : 0)),
			row,
		);
		return row.map((value, i) => value - none[i]!);
	});
	return modelOf(parameters, put, (_, wanted, derivatives) => {
		wanted.forEach((index, row) => derivatives.set(units[index]!, row * n));
	});
}

/** A model of a line that is turned by its first parameter, with a factor for each season straight in the others. */
function bentModel(
	parameters: readonly Parameter[],
	factorsAt: (chosen: ArrayLike<number>) => Float64Array,
	direction: (angle: number, i: number) => number,
	turn: (angle: number, i: number) => number,
	cycles: Cycles,
	n: number,
): Model {
	const none = factorsAt(new Float64Array(parameters.length));
	const units = parameters.map((_, place) =>
		place === 0
			? none
			: factorsAt(Float64Array.from(parameters, (_, other) => (other === place ? 1 : 0))).map(
					(factor, j) => factor - none[j]!,
				),
	);
	const put = (chosen: Float64Array, fitted: Float64Array) => {
		const factors = factorsAt(chosen);
		for (let i = 0; i < n; i++) fitted[i] = direction(chosen[0]!, i) * factors[seasonOf(cycles, i)]!;
	};
	return modelOf(parameters, put, (chosen, wanted, derivatives) => {
		const factors = factorsAt(chosen);
		wanted.forEach((index, row) => {
			for (let i = 0; i < n; i++) {
				const j = seasonOf(cycles, i);
				derivatives[row * n + i] =
					index === 0 ? turn(chosen[0]!, i) * factors[j]! : direction(chosen[0]!, i) * units[index]![j]!;
			}
		});
	});
}

function modelOf(
	parameters: readonly Parameter[],
	put: (chosen: Float64Array, fitted: Float64Array) => void,
	derivativesAt: (chosen: Float64Array, wanted: readonly number[], derivatives: Float64Array) => void,
): Model {
	return {
		firstFitted: 1,
		parameters,
		pass: put,
		derivatives(chosen, wanted, fitted, derivatives) {
			put(chosen, fitted);
			derivativesAt(chosen, wanted, derivatives);
		},
		run() {
			throw new Error('Only searched with: the method itself records the run.');
		},
	};
}
