import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { measure, meanChange } from './measures';
import { chanceOfCrossing, lastSignal, signalAt, trackingLimit, trackSignal } from './tracking';
import { commonPositions, scoredPositions, windowOf } from './windows';

const all = (n: number) => Int32Array.from({ length: n }, (_, i) => i);
const yardstick = (naive: number[], change = 2, lag = 1) => ({
	naive: Float64Array.from(naive),
	change,
	lag,
});

describe('measures, by hand', () => {
	// Errors: −2, 4, 0, −1 on actuals 8, 20, 0, 4.
	const actual = Float64Array.of(8, 20, 0, 4);
	const fitted = Float64Array.of(10, 16, 0, 5);
	const result = measure(actual, fitted, all(4), yardstick([NaN, 8, 20, 0]));

	test.each<[string, number | null]>([
		['count', 4],
		['cfe', 1],
		['bias', 0.25],
		['mad', 7 / 4],
		['mse', 21 / 4],
		['rmse', Math.sqrt(21 / 4)],
		// 2/8, 4/20 and 1/4; the zero is left out.
		['mape', (100 * (0.25 + 0.2 + 0.25)) / 3],
		['mapeCount', 3],
		// 4/18, 8/36, 2/9; 0/0 is left out.
		['smape', (100 * (4 / 18 + 8 / 36 + 2 / 9)) / 3],
		['wape', (100 * 7) / 32],
		['mase', 7 / 4 / 2],
		['maseLag', 1],
		// Where the naive forecast exists: 5 against 12 + 20 + 4.
		['relativeMae', 5 / 36],
		['trackingSignal', 4 / 7],
	])('%s', (key, expected) => expect(result[key as 'mad']).toBeCloseTo(expected!, 12));

	test('what cannot be computed is null, never 0, NaN or Infinity', () => {
		const nothing = measure(actual, fitted, new Int32Array(0), yardstick([1, 1, 1, 1]));
		expect(nothing).toMatchObject({
			count: 0,
			bias: null,
			cfe: null,
			mad: null,
			mse: null,
			mape: null,
			mapeCount: 0,
		});
		const zeros = measure(Float64Array.of(0, 0), Float64Array.of(0, 0), all(2), yardstick([0, 0], 0));
		expect(zeros).toMatchObject({
			mad: 0,
			mape: null,
			smape: null,
			wape: null,
			mase: null,
			relativeMae: null,
			trackingSignal: null,
		});
		const flat = measure(Float64Array.of(5, 5), Float64Array.of(4, 4), all(2), yardstick([5, 5], NaN));
		expect(flat).toMatchObject({ mad: 1, relativeMae: null, mase: null });
	});

	test('the mean change leaves out pairs with a missing end, and what lies after the fitting span', () => {
		expect(meanChange(Float64Array.of(1, 4, NaN, 6, 100), 1, 4)).toBe(3);
		expect(meanChange(Float64Array.of(1, 4, 3, 9), 2, 4)).toBe(3.5);
		expect(meanChange(Float64Array.of(1, 4), 2, 2)).toBeNaN();
	});
});

describe('windows', () => {
	test('scored is where both exist, from the first scored period on', () => {
		const actual = Float64Array.of(1, NaN, 3, 4, 5);
		const fitted = Float64Array.of(NaN, 2, 3, NaN, 5);
		expect([...scoredPositions(actual, fitted, 1)]).toEqual([2, 4]);
		expect([...scoredPositions(actual, fitted, 4)]).toEqual([4]);
	});

	test('common is what every list holds, and the same whatever their order', () => {
		const list = fc
			.uniqueArray(fc.integer({ min: 0, max: 30 }))
			.map((values) => Int32Array.from(values.sort((a, b) => a - b)));
		fc.assert(
			fc.property(fc.array(list, { minLength: 1, maxLength: 5 }), (lists) => {
				const expected = [...lists[0]!].filter((value) => lists.every((other) => other.includes(value)));
				expect([...commonPositions(lists)]).toEqual(expected);
				expect([...commonPositions([...lists].reverse())]).toEqual(expected);
			}),
		);
		expect([...commonPositions([])]).toEqual([]);
		expect(windowOf(new Int32Array(0))).toBeNull();
		expect(windowOf(Int32Array.of(3, 5, 9))).toEqual({ from: 4, to: 10, count: 3 });
	});
});

describe('tracking signal', () => {
	const actual = Float64Array.of(10, 12, 8, 11, 15);
	const fitted = Float64Array.of(9, 12, 10, 11, 10);

	test('running: the last point agrees with the measures, zero errors count in the mean', () => {
		const tracking = trackSignal(actual, fitted, all(5), { kind: 'running' });
		expect([...tracking.cfe]).toEqual([1, 1, -1, -1, 4]);
		expect([...tracking.mad]).toEqual([1, 0.5, 1, 0.75, 1.6]);
		expect(lastSignal(tracking)).toBe(
			measure(actual, fitted, all(5), yardstick([1, 1, 1, 1, 1])).trackingSignal,
		);
	});

	test('there is no signal while every error was zero', () => {
		const tracking = trackSignal(actual, actual, all(3), { kind: 'running' });
		expect([0, 1, 2].map((entry) => signalAt(tracking, entry))).toEqual([null, null, null]);
		expect(lastSignal(trackSignal(actual, actual, all(0), { kind: 'running' }))).toBeNull();
	});

	test('smoothed never leaves ±1', () => {
		fc.assert(
			fc.property(
				fc.array(fc.integer({ min: -900, max: 900 }), { minLength: 1, maxLength: 40 }),
				(errors) => {
					const tracking = trackSignal(
						Float64Array.from(errors),
						new Float64Array(errors.length),
						all(errors.length),
						{
							kind: 'smoothed',
							constant: 0.2,
						},
					);
					for (let entry = 0; entry < errors.length; entry++)
						expect(Math.abs(signalAt(tracking, entry) ?? 0)).toBeLessThanOrEqual(1 + 1e-12);
				},
			),
		);
	});

	test('limits unless told otherwise', () => {
		expect(trackingLimit({ kind: 'running' })).toBe(4);
		expect(trackingLimit({ kind: 'smoothed', constant: 0.1 })).toBe(0.5);
		expect(trackingLimit({ kind: 'rolling', periods: 6, limit: 3 })).toBe(3);
	});
});

describe('chance that an unbiased forecast crosses the limit', () => {
	test('none before it can, more the longer it runs, less the wider the limit', () => {
		const chance = (periods: number, limit = 4) => chanceOfCrossing({ kind: 'running', limit }, periods);
		// A sum of at most four errors is at most four times their mean size.
		expect(chance(4)).toBe(0);
		expect(chance(12)).toBeGreaterThan(0);
		expect(chance(60)).toBeGreaterThan(chance(12));
		expect(chance(200)).toBeGreaterThan(chance(60));
		expect(chance(60, 8)).toBeLessThan(chance(60));
	});

	test('the same question has the same answer', () => {
		const ask = () => chanceOfCrossing({ kind: 'rolling', periods: 6, limit: 3 }, 40);
		expect(ask()).toBe(ask());
	});
});
