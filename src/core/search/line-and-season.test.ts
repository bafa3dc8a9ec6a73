import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { seededNormal } from '../numbers/random';
import type { Cycles } from '../seasons/cycles';
import { type SeasonKind, withIndex } from '../seasons/indices';
import { CRITERIA, type Criterion } from '../contract/criteria';
import { criterionValue } from './criterion';
import { findBesideHeld, type HeldLine } from './held-line';
import { findLineAndSeason, type LineAndSeason, putFitted, summingTo } from './line-and-season';

const KINDS = ['multiplicative', 'additive'] as const;

const cyclesFor = (length: number, lead: number, n: number): Cycles => ({
	length,
	lead,
	count: Math.ceil((lead + n) / length),
});
const all = (values: Float64Array) => Int32Array.from(values.keys()).filter((i) => !Number.isNaN(values[i]!));

function valueOf(
	values: Float64Array,
	cycles: Cycles,
	kind: SeasonKind,
	criterion: Criterion,
	made: LineAndSeason,
): number {
	const fitted = new Float64Array(values.length);
	putFitted(made, cycles, kind, fitted);
	return criterionValue(criterion, values, fitted, all(values));
}

/** A line with a season and noise, from a seed. */
function noisy(seed: number, n: number, length: number, kind: SeasonKind): Float64Array {
	const normal = seededNormal(seed);
	const shape = Array.from({ length }, (_, j) => Math.sin((2 * Math.PI * j) / length));
	return Float64Array.from({ length: n }, (_, t) => {
		const line = 200 + 1.5 * t;
		const season = kind === 'multiplicative' ? 1 + 0.3 * shape[t % length]! : 50 * shape[t % length]!;
		return Math.max(1, withIndex(kind, line, season) + 20 * normal());
	});
}

describe.each(KINDS)('line and indices, %s', (kind) => {
	test.each(CRITERIA)('by %s: no small step in any value is better, and the sum is kept', (criterion) => {
		for (const [seed, n, length, lead] of [
			[1, 40, 4, 0],
			[2, 38, 4, 3],
			[3, 60, 12, 5],
			[4, 30, 7, 2],
		] as const) {
			const values = noisy(seed, n, length, kind);
			const cycles = cyclesFor(length, lead, n);
			const { found } = findLineAndSeason(values, cycles, kind, all(values), criterion);
			const best = found[0]!;
			expect(best.value).toBeCloseTo(valueOf(values, cycles, kind, criterion, best), 9);
			const sum = best.indices.reduce((a, b) => a + b, 0);
			expect(Math.abs(sum - (kind === 'additive' ? 0 : length))).toBeLessThan(1e-12);
			const unit = kind === 'additive' ? 1 : 0.01;
			for (const step of [-2, -0.1, -0.003, 0.003, 0.1, 2]) {
				const tried: LineAndSeason[] = [
					{ ...best, intercept: best.intercept + step },
					{ ...best, slope: best.slope + 0.05 * step },
				];
				for (let j = 1; j < length; j++) {
					const indices = best.indices.slice();
					indices[0]! += step * unit;
					indices[j]! -= step * unit;
					tried.push({ ...best, indices });
				}
				for (const other of tried) {
					expect(valueOf(values, cycles, kind, criterion, other)).toBeGreaterThanOrEqual(
						best.value * (1 - 1e-6),
					);
				}
			}
		}
	});

	test('scaling the figures scales the line, and multiplied indices stay', () => {
		fc.assert(
			fc.property(
				fc.array(fc.integer({ min: 20, max: 900 }), { minLength: 14, maxLength: 30 }),
				fc.constantFrom(0.5, 3, 40),
				fc.integer({ min: 0, max: 3 }),
				(list, scale, lead) => {
					const values = Float64Array.from(list);
					const cycles = cyclesFor(4, lead, values.length);
					const [plain, scaled] = [values, values.map((value) => value * scale)].map(
						(each) => findLineAndSeason(each, cycles, kind, all(each), 'mse').found[0]!,
					);
					expect(scaled!.value).toBeCloseTo(plain!.value * scale * scale, 3);
					if (plain!.value > 1) {
						expect(scaled!.slope / scale).toBeCloseTo(plain!.slope, 6);
						plain!.indices.forEach((index, j) => {
							const own = kind === 'additive' ? scaled!.indices[j]! / scale : scaled!.indices[j]!;
							expect(own).toBeCloseTo(index, 5);
						});
					}
				},
			),
			{ numRuns: 40 },
		);
	});

	test('missing figures are passed over', () => {
		const values = noisy(9, 36, 4, kind);
		const gaps = values.map((value, i) => (i % 5 === 2 ? NaN : value));
		const cycles = cyclesFor(4, 0, 36);
		const { found } = findLineAndSeason(gaps, cycles, kind, all(gaps), 'mse');
		expect(Number.isFinite(found[0]!.value)).toBe(true);
		expect(found[0]!.slope).toBeCloseTo(1.5, 0);
	});

	test('nothing held is what holding at the best gives', () => {
		const values = noisy(5, 44, 4, kind);
		const cycles = cyclesFor(4, 1, 44);
		for (const criterion of CRITERIA) {
			const free = findLineAndSeason(values, cycles, kind, all(values), criterion).found[0]!;
			const holds: HeldLine[] = [
				{ intercept: null, slope: free.slope, indices: [null, null, null, null] },
				{ intercept: free.intercept, slope: null, indices: [null, null, null, null] },
				{ intercept: null, slope: null, indices: [free.indices[0]!, null, null, null] },
				{ intercept: null, slope: null, indices: [...free.indices] },
			];
			for (const held of holds) {
				const { found } = findBesideHeld(values, cycles, kind, all(values), criterion, held);
				expect(found[0]!.value).toBeLessThanOrEqual(free.value * 1.0001);
				expect(found[0]!.value).toBeGreaterThanOrEqual(free.value * (1 - 1e-6));
			}
		}
	});

	test('with everything held there is nothing to find', () => {
		const values = noisy(6, 20, 4, kind);
		const indices = kind === 'additive' ? [1, 2, -3, 0] : [0.5, 1.5, 1.2, 0.8];
		const held = { intercept: 150, slope: 2, indices };
		const { found, evaluations } = findBesideHeld(
			values,
			cyclesFor(4, 0, 20),
			kind,
			all(values),
			'mse',
			held,
		);
		expect(found[0]).toMatchObject({ intercept: 150, slope: 2, indices: Float64Array.from(indices) });
		expect(evaluations).toBe(0);
	});
});

test('every valley is found: two lines that explain as much', () => {
	// One season climbs as much as the other falls: the line may follow either.
	const values = Float64Array.from({ length: 20 }, (_, t) => (t % 2 === 0 ? 40 + 3 * t : 100 - 3 * t));
	const { found } = findLineAndSeason(values, cyclesFor(2, 0, 20), 'multiplicative', all(values), 'mad');
	expect(found.length).toBeGreaterThan(1);
	expect(Math.sign(found[0]!.slope)).not.toBe(Math.sign(found[1]!.slope));
});

test('what rounding leaves over goes to the largest free index', () => {
	const indices = summingTo(Float64Array.from([0.1, 0.2, 0.3, 0.4 + 1e-13]), 1);
	expect(indices.reduce((a, b) => a + b, 0)).toBe(1);
	expect([...indices.slice(0, 3)]).toEqual([0.1, 0.2, 0.3]);
	const held = summingTo(Float64Array.from([2, 1, 1 + 1e-12]), 4, [1, 2]);
	expect(held[0]).toBe(2);
	expect(held.reduce((a, b) => a + b, 0)).toBe(4);
});
