import type { Linearised } from './problem';

/** A step, and by how much a straight-line view of the errors says that it lowers the sum of squares. */
export interface Step {
	step: Float64Array;
	predicted: number;
}

/** Steps of least squares over k parameters. Its lists are made once: a search asks for hundreds of steps. */
export class LeastSquares {
	/** Products of derivatives with each other and with the errors: JᵀJ (k × k) and Jᵀe. */
	readonly #square: Float64Array;
	readonly #pull: Float64Array;
	readonly #factor: Float64Array;
	readonly #right: Float64Array;

	constructor(readonly k: number) {
		this.#square = new Float64Array(k * k);
		this.#pull = new Float64Array(k);
		this.#factor = new Float64Array(k * k);
		this.#right = new Float64Array(k);
	}

	/** Takes up another place. */
	about({ errors, derivatives }: Linearised): this {
		const { k } = this;
		const square = this.#square;
		for (let a = 0; a < k; a++) {
			const row = derivatives[a]!;
			for (let b = 0; b <= a; b++) {
				const other = derivatives[b]!;
				let sum = 0;
				for (let i = 0; i < errors.length; i++) sum += row[i]! * other[i]!;
				square[a * k + b] = square[b * k + a] = sum;
			}
			let sum = 0;
			for (let i = 0; i < errors.length; i++) sum += row[i]! * errors[i]!;
			this.#pull[a] = sum;
		}
		return this;
	}

	/**
	 * The damped least-squares step within a box (Levenberg 1944, Marquardt 1963): minimises |e − J d|² + λ Σ D_j d_j²
	 * for lower ≤ d ≤ upper, by going to the least of the parts that are free, stopping at the first edge met, and
	 * letting an edge go again that holds back a fall (active sets).
	 * @param damping λ ≥ 0
	 * @param lower, upper the box about d = 0
	 */
	step(damping: number, lower: Float64Array, upper: Float64Array): Step {
		const { k } = this;
		const square = this.#square;
		const pull = this.#pull;
		const step = new Float64Array(k);
		// 0: free; −1 and 1: held on the lower and the upper edge.
		const held = new Int8Array(k);
		for (let j = 0; j < k; j++)
			held[j] = upper[j]! <= 0 && pull[j]! >= 0 ? 1 : lower[j]! >= 0 && pull[j]! <= 0 ? -1 : 0;
		/** How steeply the damped sum falls as part j grows, halved. */
		const fallOf = (j: number) => {
			let fall = pull[j]! - damping * square[j * k + j]! * step[j]!;
			for (let b = 0; b < k; b++) fall -= square[j * k + b]! * step[b]!;
			return fall;
		};
		for (let round = 0; round < 4 * k + 4; round++) {
			const free: number[] = [];
			for (let j = 0; j < k; j++) if (held[j] === 0) free.push(j);
			const solved = free.length > 0 ? this.#solve(free, step, damping) : null;
			if (solved) {
				let share = 1;
				let first = -1;
				for (let place = 0; place < free.length; place++) {
					const j = free[place]!;
					const move = solved[place]! - step[j]!;
					const room = (move > 0 ? upper[j]! : lower[j]!) - step[j]!;
					if (move !== 0 && room / move < share) {
						share = Math.max(0, room / move);
						first = j;
					}
				}
				for (let place = 0; place < free.length; place++)
					step[free[place]!]! += share * (solved[place]! - step[free[place]!]!);
				if (first >= 0) {
					const above = solved[free.indexOf(first)]! > step[first]!;
					held[first] = above ? 1 : -1;
					step[first] = above ? upper[first]! : lower[first]!;
					continue;
				}
			}
			let worst = -1;
			let most = 0;
			for (let j = 0; j < k; j++) {
				const gain = -held[j]! * fallOf(j) * Math.min(1, upper[j]! - lower[j]!);
				if (held[j] !== 0 && gain > most * (1 + 1e-12) && gain > 1e-14 * Math.abs(pull[j]!)) {
					worst = j;
					most = gain;
				}
			}
			if (worst < 0) break;
			held[worst] = 0;
		}
		let predicted = 0;
		for (let a = 0; a < k; a++) {
			predicted += 2 * pull[a]! * step[a]!;
			for (let b = 0; b < k; b++) predicted -= step[a]! * square[a * k + b]! * step[b]!;
		}
		return { step, predicted };
	}

	/** Solves for the parts in `free`, the others held at `step` (Cholesky); null where the matrix is singular. */
	#solve(free: readonly number[], step: Float64Array, damping: number): Float64Array | null {
		const { k } = this;
		const square = this.#square;
		const pull = this.#pull;
		const factor = this.#factor;
		const right = this.#right;
		const size = free.length;
		for (let a = 0; a < size; a++) {
			const row = free[a]!;
			let value = pull[row]!;
			for (let j = 0; j < k; j++) if (!free.includes(j)) value -= square[row * k + j]! * step[j]!;
			right[a] = value;
			for (let b = 0; b <= a; b++) {
				let entry = square[row * k + free[b]!]!;
				if (a === b) entry += damping * entry + 1e-13 * entry + 1e-300;
				for (let c = 0; c < b; c++) entry -= factor[a * size + c]! * factor[b * size + c]!;
				if (a === b) {
					if (!(entry > 0)) return null;
					factor[a * size + a] = Math.sqrt(entry);
				} else factor[a * size + b] = entry / factor[b * size + b]!;
			}
		}
		for (let a = 0; a < size; a++) {
			for (let c = 0; c < a; c++) right[a]! -= factor[a * size + c]! * right[c]!;
			right[a]! /= factor[a * size + a]!;
		}
		for (let a = size - 1; a >= 0; a--) {
			for (let c = a + 1; c < size; c++) right[a]! -= factor[c * size + a]! * right[c]!;
			right[a]! /= factor[a * size + a]!;
		}
		return right;
	}
}
