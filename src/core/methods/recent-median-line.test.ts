import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { CandidateResult } from '../questions/answer';
import { evaluate } from '../questions/evaluate';

const line = (values: (number | null)[], seasonLength = 1, horizon = 3) =>
	evaluate({
		series: { values, frequency: 'step', seasonLength },
		candidates: [{ id: 'a', method: 'recent-median-line' }],
		horizon,
	}).candidates[0] as CandidateResult;

describe('the recent median line', () => {
	test('carries a straight line on, however a third of its figures stand out', () => {
		const straight = fc.record({
			intercept: fc.integer({ min: -500, max: 500 }),
			slope: fc.integer({ min: -20, max: 20 }),
			far: fc.uniqueArray(fc.integer({ min: 0, max: 11 }), { maxLength: 3 }),
			by: fc.integer({ min: -5000, max: 5000 }),
		});
		fc.assert(
			fc.property(straight, ({ intercept, slope, far, by }) => {
				const values = Array.from({ length: 12 }, (_, i) => intercept + slope * (i + 1));
				for (const i of far) values[i]! += by;
				line(values).ahead.forEach(({ mean, step }) =>
					expect(mean).toBeCloseTo(intercept + slope * (12 + step), 9),
				);
			}),
		);
	});

	test('forgets what came before the last three cycles, and at least twelve periods', () => {
		const late = [3, 9, 4, 8, 2, 7, 5, 6, 9, 3, 8, 4, 7, 6, 9];
		for (const seasonLength of [1, 5]) {
			const kept = late.slice(-Math.max(12, 3 * seasonLength));
			const early = [900, -400, 700];
			expect(line([...early, ...kept], seasonLength).ahead.map(({ mean }) => mean)).toEqual(
				line(kept, seasonLength).ahead.map(({ mean }) => expect.closeTo(mean!, 9)),
			);
		}
	});

	test('is there from the seventh figure on, and stays where none comes in', () => {
		const { fitted, states } = line([5, 6, null, 8, 9, 10, 11, null, 13]);
		expect(fitted!.map((value) => value !== null)).toEqual([
			false,
			false,
			false,
			false,
			false,
			false,
			false,
			true,
			true,
		]);
		expect(fitted!.slice(7)).toEqual([expect.closeTo(12, 9), expect.closeTo(13, 9)]);
		const slopes = states!.slope as (number | null)[];
		expect(slopes[8]).toBe(slopes[7]);
	});

	test('of fewer than six figures there is none, and that is said', () => {
		const answer = evaluate({
			series: { values: [1, 2, null, 4, 5, 6], frequency: 'step' },
			candidates: [{ id: 'a', method: 'recent-median-line' }],
		}).candidates[0]!;
		expect(answer).toMatchObject({
			ok: false,
			notes: [{ code: 'too-few-periods', figures: { needs: 6, has: 5 } }],
		});
	});
});

describe('seasons that are shrunk', () => {
	const quarters = (values: number[], index: object, season = 'multiplicative') =>
		evaluate({
			series: { values, frequency: 'quarter', start: '2020-Q1' },
			candidates: [
				{
					id: 'a',
					method: 'deseasonalised',
					season,
					index: { rule: 'ratio-to-moving-average', ...index },
					inner: { method: 'naive' },
				},
			],
		}).candidates[0] as CandidateResult;
	const indices = (result: CandidateResult) => result.states!.indices as number[];
	const demand = fc.array(fc.integer({ min: 50, max: 150 }), { minLength: 16, maxLength: 40 });

	test('lie between no season and the season that was found, and keep its sum', () => {
		fc.assert(
			fc.property(demand, fc.constantFrom('multiplicative', 'additive'), (values, season) => {
				const neutral = season === 'multiplicative' ? 1 : 0;
				const [full, part] = [{}, { shrink: true }].map((index) => indices(quarters(values, index, season)));
				const shares = full!.flatMap((index, j) =>
					Math.abs(index - neutral) < 1e-9 ? [] : [(part![j]! - neutral) / (index - neutral)],
				);
				for (const share of shares) {
					expect(share).toBeCloseTo(shares[0]!, 6);
					expect(share).toBeGreaterThanOrEqual(0);
					expect(share).toBeLessThanOrEqual(1 + 1e-12);
				}
				expect(part!.reduce((a, b) => a + b, 0)).toBeCloseTo(4 * neutral, 9);
			}),
		);
	});

	test('a season without scatter is not shrunk; what is held stays', () => {
		const values = Array.from({ length: 20 }, (_, t) => 100 * [0.8, 1.1, 1.3, 0.8][t % 4]!);
		expect(indices(quarters(values, { shrink: true }))).toEqual(
			indices(quarters(values, {})).map((i) => expect.closeTo(i, 9)),
		);
		const noisy = values.map((value, t) => value + ((t * 37) % 29));
		const held = indices(quarters(noisy, { shrink: true, held: [null, 1.5, null, null] }));
		expect(held[1]).toBe(1.5);
		expect(held.reduce((a, b) => a + b, 0)).toBeCloseTo(4, 9);
	});
});
