import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { CandidateResult } from '../questions/answer';
import { seededNormal } from '../numbers/random';
import { evaluate } from '../questions/evaluate';
import { quantile } from '../numbers/quantile';

const ask = (values: (number | null)[], candidate: object, more: object = {}) =>
	evaluate({
		series: { values, frequency: 'step' },
		candidates: [{ id: 'a', ...candidate }],
		horizon: 6,
		...more,
	}).candidates[0] as CandidateResult;

const normal = seededNormal(3);
const noise = Array.from({ length: 200 }, () => 500 + 20 * normal());
const width = (result: CandidateResult, step: number, level: string) => {
	const [low, high] = result.ahead[step - 1]!.ranges[level]!;
	return high - low;
};

test('quantiles between order statistics, by hand', () => {
	const sorted = Float64Array.of(1, 2, 4, 8);
	expect([0, 0.25, 0.5, 0.75, 1].map((p) => quantile(sorted, p))).toEqual([1, 1.75, 3, 5, 8]);
	expect(quantile(Float64Array.of(7), 0.3)).toBe(7);
});

test('whatever the order, and whatever was asked before, a quantile is that of the sorted values', () => {
	const list = fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 1, maxLength: 60 });
	const shares = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 5 });
	fc.assert(
		fc.property(list, shares, (values, asked) => {
			const shuffled = Float64Array.from(values);
			const sorted = Float64Array.from(values).sort();
			for (const p of asked) {
				const at = (sorted.length - 1) * p;
				const [low, high] = [sorted[Math.floor(at)]!, sorted[Math.ceil(at)]!];
				expect(quantile(shuffled, p)).toBeCloseTo(low + (high - low) * (at % 1), 9);
			}
			expect(shuffled.slice().sort()).toEqual(sorted);
		}),
	);
});

describe('model ranges', () => {
	test('widen with the step as the level wanders, and not at all where it stands still', () => {
		const wandering = ask(noise, { method: 'ses', constants: { alpha: 0.5 } });
		expect(wandering.rangeKind).toBe('model');
		expect(width(wandering, 5, '0.95') / width(wandering, 1, '0.95')).toBeCloseTo(Math.sqrt(1 + 4 * 0.25), 9);
		const still = ask(noise, { method: 'ses', constants: { alpha: 0 } });
		expect(width(still, 6, '0.95')).toBeCloseTo(width(still, 1, '0.95'), 9);
	});

	test('of a higher level hold those of a lower one', () => {
		const result = ask(noise, { method: 'ses', constants: { alpha: 0.2 } }, { levels: [0.5, 0.8, 0.99] });
		for (const { mean, ranges } of result.ahead) {
			const [a, b, c] = [ranges['0.5']!, ranges['0.8']!, ranges['0.99']!];
			expect(c[0] < b[0] && b[0] < a[0] && a[0] < mean! && mean! < a[1] && a[1] < b[1] && b[1] < c[1]).toBe(
				true,
			);
		}
	});
});

describe('empirical ranges', () => {
	test('hold about as many of the past errors as they promise', () => {
		const result = ask(noise, { method: 'moving-average', span: 5 }, { levels: [0.8] });
		const [low, high] = result.ahead[0]!.ranges['0.8']!;
		const mean = result.ahead[0]!.mean!;
		const errors = result.errors!.filter((error) => error !== null);
		const inside =
			errors.filter((error) => error >= low - mean && error <= high - mean).length / errors.length;
		expect(inside).toBeGreaterThan(0.78);
		expect(inside).toBeLessThan(0.82);
	});

	test('lean with the errors: after a climb the range lies above a lagging forecast', () => {
		const climb = Array.from({ length: 60 }, (_, t) => 100 + 5 * t + (t % 3));
		const result = ask(climb, { method: 'moving-average', span: 6 }, { levels: [0.8] });
		expect(result.ahead[0]!.ranges['0.8']![0]).toBeGreaterThan(result.ahead[0]!.mean!);
	});

	test('with few errors use those of one step, widened, and say how many', () => {
		const result = ask([5, 7, 6, 9, 8, 7], { method: 'naive' }, { levels: [0.8] });
		expect(result.notes.find(({ code }) => code === 'range-basis')!.figures).toEqual({ count: 5, step: 1 });
		expect(width(result, 4, '0.8')).toBeCloseTo(2 * width(result, 1, '0.8'), 9);
	});

	test('without a single error there is no range, and that is said', () => {
		const result = ask([5], { method: 'naive' });
		expect(result.ahead[0]).toMatchObject({ mean: 5, ranges: { '0.8': null, '0.95': null } });
		expect(result.notes.find(({ code }) => code === 'range-basis')!.text).toMatch(/No range can be shown/);
	});
});

test('coverage over a rolling check comes near the level that was promised', () => {
	const { rolling } = ask(
		noise,
		{ method: 'ses', constants: { alpha: 0.1 } },
		{ rolling: { from: 60, horizon: 1, refit: false } },
	);
	const { inside, count } = rolling!.covered['0.95']!;
	expect(count).toBe(140);
	expect(inside / count).toBeGreaterThan(0.9);
	expect(inside / count).toBeLessThan(0.99);
});
