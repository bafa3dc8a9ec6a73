import type { Costs, Linearised } from './problem';

/** A row that stands in the basis: a scored position without error, an edge of the box, or nothing yet. */
type Row =
	{ kind: 'error'; position: number } | { kind: 'edge'; part: number; side: 1 | -1 } | { kind: 'free' };

/** Below this share of the largest figure a number counts as nothing. */
const NOTHING = 1e-11;

/**
 * The step that minimises Σ cost(e_i − J_i·d) within a box, costs being straight on both sides of zero: a linear
 * programme, solved by going from corner to corner along the edges where k errors vanish, each time as far as a
 * weighted median says (Barrodale & Roberts 1973; Bloomfield & Steiger 1983).
 * @param lower, upper the box about d = 0; finite
 * @returns the step, and by how much the sum of costs falls
 */
export function leastDeviationsStep(
	{ errors, derivatives }: Linearised,
	{ up, down }: Costs,
	lower: Float64Array,
	upper: Float64Array,
): { step: Float64Array; predicted: number } {
	const m = errors.length;
	const k = derivatives.length;
	const step = new Float64Array(k);
	const left = errors.slice();
	const inBasis = new Uint8Array(m);
	const basis: Row[] = Array.from({ length: k }, () => ({ kind: 'free' }));
	// Direction j moves the j-th row of the basis by one and leaves the others where they are.
	const directions = Array.from({ length: k }, (_, j) => {
		const unit = new Float64Array(k);
		unit[j] = 1;
		return unit;
	});
	const rates = new Float64Array(m);
	const gradient = new Float64Array(k);
	const kinks: { at: number; rise: number; row: Row }[] = [];
	let largest = 0;
	for (const error of errors) largest = Math.max(largest, Math.abs(error));
	const zero = NOTHING * largest;
	let predicted = 0;

	for (let round = 0; round < 30 + 15 * k; round++) {
		gradient.fill(0);
		for (let i = 0; i < m; i++) {
			if (inBasis[i]) continue;
			const cost = left[i]! >= 0 ? -up[i]! : down[i]!;
			if (cost !== 0) for (let j = 0; j < k; j++) gradient[j]! += cost * derivatives[j]![i]!;
		}
		let best = { slot: -1, sign: 1 as 1 | -1, fall: 0, steepness: 0 };
		for (let slot = 0; slot < k; slot++) {
			const direction = directions[slot]!;
			let along = 0;
			let size = 0;
			for (let j = 0; j < k; j++) {
				along += gradient[j]! * direction[j]!;
				size += Math.abs(direction[j]!);
			}
			const row = basis[slot]!;
			for (const sign of [1, -1] as const) {
				if (row.kind === 'edge' && row.side === sign) continue;
				// The error in the basis falls as its row rises.
				const own = row.kind === 'error' ? (sign > 0 ? down[row.position]! : up[row.position]!) : 0;
				const fall = sign * along + own;
				const steepness = -fall / (size || 1);
				if (steepness > best.steepness) best = { slot, sign, fall, steepness };
			}
		}
		if (best.slot < 0 || best.steepness <= 1e-13) break;

		const direction = directions[best.slot]!.map((part) => best.sign * part);
		kinks.length = 0;
		for (let i = 0; i < m; i++) {
			let rate = 0;
			for (let j = 0; j < k; j++) rate += derivatives[j]![i]! * direction[j]!;
			rates[i] = rate;
			// A position that the direction all but leaves alone meets no zero worth stopping at.
			if (inBasis[i] || Math.abs(rate) < 1e-14) continue;
			const at = left[i]! / rate;
			if (at > 0 || (left[i] === 0 && rate > 0)) {
				kinks.push({
					at: Math.max(0, at),
					rise: (up[i]! + down[i]!) * Math.abs(rate),
					row: { kind: 'error', position: i },
				});
			}
		}
		for (let part = 0; part < k; part++) {
			const move = direction[part]!;
			if (Math.abs(move) < 1e-14) continue;
			const side = move > 0 ? 1 : -1;
			const room = (move > 0 ? upper[part]! : lower[part]!) - step[part]!;
			kinks.push({ at: Math.max(0, room / move), rise: Infinity, row: { kind: 'edge', part, side } });
		}
		kinks.sort((a, b) => a.at - b.at);
		let fall = best.fall;
		let reached = 0;
		let entering: Row | null = null;
		for (const { at, rise, row } of kinks) {
			predicted -= fall * (at - reached);
			reached = at;
			fall += rise;
			if (fall >= 0) {
				entering = row;
				break;
			}
		}
		if (!entering) break;
		for (let j = 0; j < k; j++) step[j]! += reached * direction[j]!;
		for (let i = 0; i < m; i++) {
			left[i]! -= reached * rates[i]!;
			if (Math.abs(left[i]!) <= zero) left[i] = 0;
		}
		const leaving = basis[best.slot]!;
		if (leaving.kind === 'error') inBasis[leaving.position] = 0;
		basis[best.slot] = entering;
		if (entering.kind === 'error') {
			inBasis[entering.position] = 1;
			left[entering.position] = 0;
		}
		if (!exchange(directions, best.slot, entering, derivatives)) break;
	}
	for (let j = 0; j < k; j++) step[j] = Math.min(upper[j]!, Math.max(lower[j]!, step[j]!));
	return { step, predicted };
}

/** Directions for a basis whose row at `slot` was exchanged; false where they are no longer independent. */
function exchange(
	directions: Float64Array[],
	slot: number,
	row: Row,
	derivatives: readonly Float64Array[],
): boolean {
	const k = directions.length;
	const value = (direction: Float64Array): number => {
		if (row.kind === 'edge') return direction[row.part]!;
		let sum = 0;
		if (row.kind === 'error')
			for (let j = 0; j < k; j++) sum += derivatives[j]![row.position]! * direction[j]!;
		return sum;
	};
	const pivot = value(directions[slot]!);
	if (Math.abs(pivot) < 1e-14) return false;
	const turned = directions[slot]!.map((part) => part / pivot);
	for (let other = 0; other < k; other++) {
		if (other === slot) continue;
		const share = value(directions[other]!);
		for (let j = 0; j < k; j++) directions[other]![j]! -= share * turned[j]!;
	}
	directions[slot] = turned;
	return true;
}
