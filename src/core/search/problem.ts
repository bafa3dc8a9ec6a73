import type { Model } from '../contract/model';
import type { Criterion } from '../contract/criteria';
import { criterionValue } from './criterion';

/** A fitted value's own cost as its error grows or shrinks, straight lines on both sides of no error. */
export interface Costs {
	/** For each scored position, what a unit of error costs where the actual is above the forecast … */
	up: Float64Array;
	/** … and where it is below. */
	down: Float64Array;
}

/** Errors and their derivatives at one place. */
export interface Linearised {
	/** m errors y − f of the scored positions. */
	errors: Float64Array;
	/** k rows of m derivatives of the fitted values. */
	derivatives: Float64Array[];
}

/** What a search minimises: a criterion as a function of some of a model's parameters. Counts its passes. */
export class Problem {
	/** Passes over the series; one that carries k derivatives counts as 1 + k. */
	evaluations = 0;
	/** All parameters of the model; those that are searched are written here before each pass. */
	readonly parameters: Float64Array;
	readonly lower: Float64Array;
	readonly upper: Float64Array;
	/** The size of a sensible first step in each searched parameter. */
	readonly scale: Float64Array;
	readonly #fitted: Float64Array;
	readonly #derivatives: Float64Array;
	/** Errors and derivatives at the place last looked at. */
	readonly #errors: Float64Array;
	readonly #rows: Float64Array[];
	readonly #gapless: boolean;
	readonly #all: readonly number[];

	/**
	 * @param parameters all of the model's, what is held at its value
	 * @param free indices of the searched ones
	 * @param bounds [lower, upper] of each searched one
	 */
	constructor(
		readonly model: Model,
		readonly actual: Float64Array,
		readonly scored: Int32Array,
		readonly criterion: Criterion,
		parameters: Float64Array,
		readonly free: readonly number[],
		bounds: readonly (readonly [number, number])[],
	) {
		this.parameters = parameters;
		this.lower = Float64Array.from(bounds, ([low]) => low);
		this.upper = Float64Array.from(bounds, ([, high]) => high);
		this.#fitted = new Float64Array(actual.length);
		this.#derivatives = new Float64Array(free.length * actual.length);
		this.#errors = new Float64Array(scored.length);
		// Scored periods that follow each other are a stretch of each row of derivatives: nothing is copied.
		const [first = 0, m] = [scored[0], scored.length];
		this.#gapless = scored[m - 1] === first + m - 1;
		this.#rows = free.map((_, j) => {
			const from = j * actual.length + first;
			return this.#gapless ? this.#derivatives.subarray(from, from + m) : new Float64Array(m);
		});
		this.#all = free.map((_, place) => place);
		const spread = spreadOf(actual, scored);
		this.scale = Float64Array.from(free, (index, j) => {
			const width = this.upper[j]! - this.lower[j]!;
			return Number.isFinite(width)
				? Math.max(width, 1e-12)
				: model.parameters[index]!.key === 'trend'
					? spread / 4
					: model.parameters[index]!.key === 'slope'
						? spread / actual.length
						: spread;
		});
	}

	/** Fitted values at x. */
	pass(x: ArrayLike<number>, fitted: Float64Array): void {
		this.#put(x);
		this.evaluations++;
		this.model.pass(this.parameters, fitted);
	}

	/** The criterion at x; Infinity where the recursion leads nowhere. */
	value(x: ArrayLike<number>): number {
		this.pass(x, this.#fitted);
		const value = criterionValue(this.criterion, this.actual, this.#fitted, this.scored);
		return Number.isFinite(value) ? value : Infinity;
	}

	/**
	 * Errors and derivatives at x by the parameters in `wanted` (places among the searched ones; all by default);
	 * null where the recursion leads nowhere. The lists are the problem's own: they hold until the next look.
	 */
	linearised(x: ArrayLike<number>, wanted?: readonly number[]): Linearised | null {
		this.#put(x);
		const places = wanted ?? this.#all;
		this.evaluations += 1 + places.length;
		this.model.derivatives!(
			this.parameters,
			places.map((place) => this.free[place]!),
			this.#fitted,
			this.#derivatives,
		);
		const n = this.actual.length;
		const m = this.scored.length;
		const errors = this.#errors;
		// 0 for as long as everything is finite, which is asked once at the end.
		let lost = 0;
		for (let position = 0; position < m; position++) {
			const i = this.scored[position]!;
			const error = this.actual[i]! - this.#fitted[i]!;
			errors[position] = error;
			lost += 0 * error;
		}
		for (let j = 0; j < places.length; j++) {
			const row = this.#rows[j]!;
			if (!this.#gapless)
				for (let position = 0; position < m; position++)
					row[position] = this.#derivatives[j * n + this.scored[position]!]!;
			for (let position = 0; position < m; position++) lost += 0 * row[position]!;
		}
		if (lost !== 0) return null;
		return { errors, derivatives: this.#rows.slice(0, places.length) };
	}

	/**
	 * The criterion, up to a factor, as a sum of costs that are straight on both sides of no error; exact for
	 * absolute and percentage errors, and to first order for the symmetric percentage.
	 */
	costs(errors: Float64Array): Costs {
		const m = this.scored.length;
		const up = new Float64Array(m);
		const down = new Float64Array(m);
		for (let position = 0; position < m; position++) {
			const y = this.actual[this.scored[position]!]!;
			const size = Math.abs(y);
			if (this.criterion === 'mape') {
				up[position] = down[position] = size > 0 ? 1 / size : 0;
			} else if (this.criterion === 'smape') {
				const f = y - errors[position]!;
				const both = size + Math.abs(f);
				const kink = size > 0 ? 1 / size : 0;
				// 2|y − f| / (|y| + |f|) by f: 4|y| / (|y| + |f|)² while both are on one side of zero, else flat.
				const here = both > 0 && y * f > 0 ? (4 * size) / (both * both) : 0;
				up[position] = errors[position]! > 0 ? here : kink;
				down[position] = errors[position]! < 0 ? here : kink;
			} else {
				up[position] = down[position] = 1;
			}
		}
		return { up, down };
	}

	#put(x: ArrayLike<number>): void {
		for (let j = 0; j < this.free.length; j++) this.parameters[this.free[j]!] = x[j]!;
	}
}

/** Standard deviation of the scored actuals, or their size where they do not differ. */
function spreadOf(actual: Float64Array, scored: Int32Array): number {
	const m = scored.length;
	let mean = 0;
	for (let position = 0; position < m; position++) mean += actual[scored[position]!]! / m;
	let square = 0;
	for (let position = 0; position < m; position++) square += (actual[scored[position]!]! - mean) ** 2 / m;
	return Math.sqrt(square) || Math.abs(mean) || 1;
}
