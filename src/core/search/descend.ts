import { leastDeviationsStep } from './least-deviations';
import { LeastSquares } from './least-squares';
import type { Problem } from './problem';

/** A place that no small step improves, and the criterion there. */
export interface Place {
	x: Float64Array;
	value: number;
}

interface DescentOptions {
	/** Steps after which it ends wherever it is. */
	most: number;
	/** It ends when a step promises less than this share of the value. */
	enough: number;
}

/** Goes down from a place to the minimum of its valley, whatever the criterion, within bounds. */
export function descend(problem: Problem, from: Place, options: DescentOptions): Place {
	return problem.criterion === 'mse'
		? bySquares(problem, from, options)
		: byDeviations(problem, from, options);
}

/** Least squares with damped steps. */
function bySquares(problem: Problem, from: Place, { most, enough }: DescentOptions): Place {
	let { x, value } = from;
	let damping = 1e-3;
	const m = problem.scored.length;
	const squares = new LeastSquares(x.length);
	for (let round = 0; round < most; round++) {
		const linear = problem.linearised(x);
		if (!linear) break;
		squares.about(linear);
		const { lower, upper } = room(problem, x);
		let moved = false;
		while (damping < 1e8) {
			const { step, predicted } = squares.step(damping, lower, upper);
			if (!(predicted > enough * value * m)) break;
			const next = moveWithin(problem, x, step);
			const there = problem.value(next);
			if (there < value) {
				const ratio = ((value - there) * m) / predicted;
				damping = ratio > 0.75 ? damping / 8 : ratio < 0.25 ? damping * 3 : damping / 2;
				x = next;
				value = there;
				moved = true;
				break;
			}
			damping *= 8;
		}
		if (!moved) break;
	}
	return { x, value };
}

const FIRST_REACH = 0.15;
const LAST_REACH = 1e-7;

/** Sums of straight costs: each step solves the straight-line view exactly within a reach that grows and shrinks. */
function byDeviations(problem: Problem, from: Place, { most, enough }: DescentOptions): Place {
	let { x, value } = from;
	let reach = FIRST_REACH;
	for (let round = 0; round < most && reach > LAST_REACH; round++) {
		const linear = problem.linearised(x);
		if (!linear) break;
		const costs = problem.costs(linear.errors);
		let sum = 0;
		linear.errors.forEach((error, i) => (sum += error > 0 ? costs.up[i]! * error : -costs.down[i]! * error));
		// The costs are the criterion up to a factor.
		const unit = sum > 0 ? value / sum : 1;
		let moved = false;
		while (reach > LAST_REACH) {
			const { lower, upper } = room(problem, x, reach);
			const { step, predicted } = leastDeviationsStep(linear, costs, lower, upper);
			if (!(predicted * unit > enough * value)) return { x, value };
			const next = moveWithin(problem, x, step);
			const there = problem.value(next);
			const ratio = (value - there) / (predicted * unit);
			if (ratio > 0.1) {
				if (ratio > 0.7) reach *= 2;
				else if (ratio < 0.3) reach /= 2;
				x = next;
				value = there;
				moved = true;
				break;
			}
			const taken = step.reduce((most, part, j) => Math.max(most, Math.abs(part) / problem.scale[j]!), 0);
			reach = 0.35 * Math.min(reach, taken);
		}
		if (!moved) break;
	}
	return { x, value };
}

/** How far each parameter may move from x. */
function room(
	problem: Problem,
	x: Float64Array,
	reach = Infinity,
): { lower: Float64Array; upper: Float64Array } {
	const [lower, upper] = [new Float64Array(x.length), new Float64Array(x.length)];
	for (let j = 0; j < x.length; j++) {
		lower[j] = Math.max(problem.lower[j]! - x[j]!, -reach * problem.scale[j]!);
		upper[j] = Math.min(problem.upper[j]! - x[j]!, reach * problem.scale[j]!);
	}
	return { lower, upper };
}

function moveWithin(problem: Problem, x: Float64Array, step: Float64Array): Float64Array {
	const moved = new Float64Array(x.length);
	for (let j = 0; j < x.length; j++)
		moved[j] = Math.min(problem.upper[j]!, Math.max(problem.lower[j]!, x[j]! + step[j]!));
	return moved;
}
