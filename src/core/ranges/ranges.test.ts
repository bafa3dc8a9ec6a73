import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { CandidateResult } from '../questions/answer';
import { seededNormal } from '../numbers/random';
import { evaluate } from '../questions/evaluate';
import tQuantile from '@stdlib/stats-base-dists-t-quantile';
import { quantile } from '../numbers/quantile';

const ask = (values: (number | null)[], candidate: object, more: object = {}, seasonLength = 1) =>
	evaluate({
		series: { values, frequency: 'step', seasonLength },
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
		const wandering = ask(noise, { method: 'ses', constants: { alpha: 0.5 }, ranges: 'model' });
		expect(wandering.rangeKind).toBe('model');
		expect(width(wandering, 5, '0.95') / width(wandering, 1, '0.95')).toBeCloseTo(Math.sqrt(1 + 4 * 0.25), 9);
		const still = ask(noise, { method: 'ses', constants: { alpha: 0 }, ranges: 'model' });
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

test('ranges are those of a trial, unless those of the model are asked for or there are too few errors', () => {
	const kindOf = (values: readonly number[], more: object = {}) =>
		ask([...values], { method: 'ses', constants: { alpha: 0.3 }, ...more }).rangeKind;
	expect(kindOf(noise.slice(0, 16))).toBe('trial');
	expect(kindOf(noise.slice(0, 15))).toBe('model');
	expect(kindOf(noise, { ranges: 'model' })).toBe('model');
	// There is no model to be asked.
	expect(ask(noise, { method: 'average', ranges: 'model' }).rangeKind).toBe('trial');
});

describe('ranges from a trial', () => {
	/** Root mean squares of the errors that forecasts from the latest origins made, by step, none less than the one before. */
	function rootsOf(values: readonly number[], span: number, horizon: number) {
		const n = values.length;
		let root = 0;
		return Array.from({ length: horizon }, (_, index) => {
			const errors: number[] = [];
			for (let origin = Math.max(8, n - 36); origin + index < n; origin++) {
				const latest = values.slice(origin - span, origin);
				errors.push(values[origin + index]! - latest.reduce((a, b) => a + b, 0) / span);
			}
			root = Math.max(root, Math.sqrt(errors.reduce((sum, error) => sum + error * error, 0) / errors.length));
			return { root, count: errors.length };
		});
	}

	test('of records by the first rule are 1.1 times the quantile of half as many degrees of freedom times what honest errors come to', () => {
		const values = noise.slice(0, 60);
		const asked = { levels: [0.8, 0.95], rangeRule: 1 };
		const result = ask(values, { method: 'moving-average', span: 5 }, asked);
		expect(result.rangeKind).toBe('trial');
		rootsOf(values, 5, 6).forEach(({ root, count }, index) => {
			for (const level of [0.8, 0.95]) {
				const half = 1.1 * tQuantile((1 + level) / 2, count / 2) * root;
				expect(width(result, index + 1, String(level)) / 2).toBeCloseTo(half, 9);
			}
		});
	});

	test('with fewer than eight errors at a step are widened from the last one that has as many', () => {
		const values = noise.slice(0, 17);
		const result = ask(values, { method: 'naive' }, { levels: [0.8] });
		// Origins 8 to 16: nine errors a step ahead, eight two steps ahead, seven three steps ahead.
		expect(width(result, 4, '0.8') / width(result, 2, '0.8')).toBeCloseTo(Math.SQRT2, 9);
		expect(result.notes.find(({ code }) => code === 'range-basis')).toMatchObject({
			figures: { count: 8, step: 2 },
			text: expect.stringMatching(
				/of 8 past forecasts, up to 2 periods ahead, and are widened further ahead/,
			),
		});
	});

	test('are there for any method that asks for them; with too few errors its model stands in', () => {
		const values = noise.slice(0, 40);
		const asked = ask(values, { method: 'ses', constants: { alpha: 0.4 }, ranges: 'trial' });
		expect(asked.rangeKind).toBe('trial');
		expect(ask(values.slice(0, 14), { method: 'ses', ranges: 'trial' }).rangeKind).toBe('model');
		expect(ask(values, { method: 'ses', ranges: 'model' }).rangeKind).toBe('model');
	});

	test('are wider where more is forecast, and uneven as errors were', () => {
		const values = Array.from({ length: 60 }, (_, t) => {
			const level = [40, 400, 4][t % 3]!;
			return Math.round(level + Math.sqrt(level) * (normal() + (t % 7 === 0 ? 4 : 0)));
		}).map((value) => Math.max(0, value));
		const { ahead } = ask(values, { method: 'seasonal-naive' }, { levels: [0.8] }, 3);
		const reach = ahead.map(({ mean, ranges }) => ranges['0.8']!.map((end) => Math.abs(end - mean!)));
		expect(reach[1]![1]).toBeGreaterThan(2 * reach[0]![1]!);
		expect(reach[0]![1]).toBeGreaterThan(2 * reach[2]![1]!);
		for (const [low, high] of ahead.map(({ ranges }) => ranges['0.8']!))
			expect(low >= 0 && high > low).toBe(true);
	});

	test('with few errors rest on the changes of the series, and that is said; with hardly any figure there is none', () => {
		const values = [5, 7, 6, 9, 8, 7];
		const result = ask(values, { method: 'naive' }, { levels: [0.8], service: 0.9 });
		const root = Math.sqrt((4 + 1 + 9 + 1 + 1) / 5);
		const half = tQuantile(0.9, 5 / 2) * root;
		expect(result.rangeKind).toBe('changes');
		expect(result.ahead[0]!.ranges['0.8']![1]).toBeCloseTo(7 + half, 9);
		expect(result.ahead[3]!.ranges['0.8']![1]).toBeCloseTo(7 + 2 * half, 9);
		// 1, 2 and 3 changes behind the last figure: their sum varies by √(1 + 4 + 9).
		expect(result.together[2]!.ranges['0.8']![1]).toBeCloseTo(21 + half * Math.sqrt(14), 9);
		expect(result.together[2]!.stock).toBeCloseTo(21 + half * Math.sqrt(14), 9);
		expect(result.notes.find(({ code }) => code === 'range-basis')!.text).toMatch(/come from 5 changes/);
		const hardly = ask([5, 7, 6], { method: 'naive' });
		expect(hardly.ahead[0]).toMatchObject({ mean: 6, ranges: { '0.8': null, '0.95': null } });
		expect(hardly.together[0]).toEqual({ mean: 6, ranges: { '0.8': null, '0.95': null } });
		expect(hardly.notes.find(({ code }) => code === 'range-basis')!.text).toMatch(/No range can be shown/);
	});
});

describe('ranges of rare demand', () => {
	const rare = Array.from({ length: 60 }, (_, t) => (t % 4 === 1 ? 1 + ((t * 7) % 5) : 0));

	test('are whole pieces, of stock too, for whatever forecasts a rate; other methods have those of their trial', () => {
		for (const candidate of [{ method: 'croston' }, { method: 'average' }, { method: 'ses' }]) {
			const result = ask(rare, candidate, { service: 0.95 });
			expect(result.rangeKind).toBe('counts');
			const ends = result.ahead.flatMap(({ ranges }) => [...ranges['0.8']!, ...ranges['0.95']!]);
			expect(ends.every((end) => Number.isInteger(end) && end >= 0)).toBe(true);
			const stocks = result.together.map(({ stock }) => stock!);
			expect(stocks.every((stock, i) => Number.isInteger(stock) && stock >= (stocks[i - 1] ?? 0))).toBe(true);
		}
		expect(ask(rare, { method: 'naive' }).rangeKind).toBe('trial');
		expect(ask(rare, { method: 'croston', ranges: 'trial' }).rangeKind).toBe('trial');
	});

	test('are those of a trial where demand comes in parts of a piece, by records of before, and where it is not rare', () => {
		const kindOf = (values: number[], more: object = {}) =>
			ask(values, { method: 'average' }, more).rangeKind;
		expect(kindOf(rare.map((value) => value / 4))).toBe('trial');
		expect(kindOf(rare, { rangeRule: 1 })).toBe('trial');
		expect(kindOf(rare.map((value, t) => (t % 4 === 2 || t % 4 === 3 ? 3 : value)))).toBe('trial');
	});
});

describe('sums of the next periods', () => {
	test('add up the means, and of one period have its own range', () => {
		for (const candidate of [{ method: 'holt' }, { method: 'moving-average', span: 4 }]) {
			const { ahead, together } = ask(noise.slice(0, 60), candidate);
			let sum = 0;
			ahead.forEach(({ mean }, index) => {
				sum += mean!;
				expect(together[index]!.mean).toBeCloseTo(sum, 9);
			});
			const [low, high] = together[0]!.ranges['0.8']!;
			expect(high - low).toBeCloseTo(width({ ahead } as CandidateResult, 1, '0.8'), 9);
		}
	});

	test('of a model are as wide as many runs of it scatter', () => {
		const [alpha, beta, steps] = [0.4, 0.2, 5];
		const candidate = { method: 'holt', constants: { alpha, beta }, ranges: 'model' };
		const { together } = ask(noise, candidate, { levels: [0.8] });
		const one = ask(noise, candidate, { levels: [0.8], horizon: 1 });
		const draw = seededNormal(9);
		let squares = 0;
		for (let run = 0; run < 20_000; run++) {
			let [level, trend, sum] = [0, 0, 0];
			for (let step = 0; step < steps; step++) {
				const error = draw();
				sum += level + trend + error;
				level += trend + alpha * error;
				trend += alpha * beta * error;
			}
			squares += sum * sum;
		}
		const [low, high] = together[steps - 1]!.ranges['0.8']!;
		expect((high - low) / width(one, 1, '0.8') / Math.sqrt(squares / 20_000)).toBeCloseTo(1, 1);
	});
});
