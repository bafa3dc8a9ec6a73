import tQuantile from '@stdlib/stats-base-dists-t-quantile';
import { describe, expect, test } from 'vitest';
import { seededNormal } from '../numbers/random';
import type { CandidateResult } from '../questions/answer';
import { evaluate } from '../questions/evaluate';

const one = (values: (number | null)[], candidate: object, more: object = {}) => {
	const [answer] = evaluate({
		series: { values, frequency: 'step', seasonLength: 4 },
		candidates: [{ id: 'a', ...candidate }],
		horizon: 6,
		...more,
	}).candidates;
	return answer as CandidateResult;
};
const means = ({ ahead }: CandidateResult) => ahead.map(({ mean }) => mean);

describe('linear trend', () => {
	const line = { method: 'linear-trend' };

	test('a line comes back as itself, gaps or not, and is marked as a fit', () => {
		const result = one([7, 9, null, 13, 15, null, 19], line);
		expect(result.kind).toBe('fit');
		expect(result.states!.line).toEqual({ intercept: 5, slope: 2 });
		expect(result.fitted).toEqual([7, 9, 11, 13, 15, 17, 19]);
		expect(means(result)).toEqual([21, 23, 25, 27, 29, 31]);
	});

	test('its ranges are prediction intervals of the regression', () => {
		const values = [3, 5, 4, 8, 9, 8, 12, 11];
		const result = one(values, line, { levels: [0.9] });
		// By the textbook: m = 8, mean of t 4.5, Σ(t − 4.5)² = 42.
		const { intercept, slope } = result.states!.line!;
		const squared = values.reduce((sum, y, i) => sum + (y - intercept - slope * (i + 1)) ** 2, 0);
		for (const step of [1, 4]) {
			const half = tQuantile(0.95, 6) * Math.sqrt((squared / 6) * (1 + 1 / 8 + (8 + step - 4.5) ** 2 / 42));
			const [low, high] = result.ahead[step - 1]!.ranges['0.9']!;
			expect(high - low).toBeCloseTo(2 * half, 9);
		}
		expect(result.rangeKind).toBe('model');
	});

	test('held back periods do not move it', () => {
		const values = [7, 9, 11, 13, 15, 40, 60];
		const result = one(values, line, { holdout: 2 });
		expect(result.states!.line).toEqual({ intercept: 5, slope: 2 });
		expect(result.measures.holdout!.ahead.mad).toBeCloseTo((23 + 41) / 2, 9);
		expect(result.measures.holdout!.oneStep.mad).toBeCloseTo((23 + 41) / 2, 9);
		expect(means(result)[0]).toBeCloseTo(21, 9);
	});

	test('one actual is not enough for a line', () => {
		const refused = one([null, 4, null], line);
		expect(refused.ok).toBe(false);
		expect(refused.notes[0]!.text).toContain('needs 2 actuals; this series has 1');
	});
});

describe('seasonal naive', () => {
	const repeat = { method: 'seasonal-naive' };

	test('repeats the same season, over a gap the one before it', () => {
		const result = one([1, 2, 3, 4, 11, null, 13, 14, 21, 22], repeat);
		expect(result.fitted).toEqual([null, null, null, null, 1, 2, 3, 4, 11, 2]);
		expect(means(result)).toEqual([13, 14, 21, 22, 13, 14]);
	});

	test('without a season it is the naive forecast', () => {
		const values = [4, 7, null, 6, 9];
		const options = { series: { values, frequency: 'step', seasonLength: 1 } };
		const seasonal = one(values, repeat, options);
		const naive = one(values, { method: 'naive' }, options);
		expect(seasonal.fitted).toEqual(naive.fitted);
		expect(means(seasonal)).toEqual(means(naive));
	});

	test('a season and one period more are needed', () => {
		const refused = one([1, 2, 3, 4], repeat);
		expect(refused).toMatchObject({
			ok: false,
			notes: [{ code: 'too-few-periods', figures: { needs: 5, has: 4 } }],
		});
	});
});

describe('ranges of the smoothing family', () => {
	const normal = seededNormal(2);
	const values = Array.from(
		{ length: 40 },
		(_, t) => 100 + t + 8 * Math.sin((Math.PI * t) / 2) + 5 * normal(),
	);
	const halves = (candidate: object) => {
		const result = one(values, { ...candidate, ranges: 'model' }, { levels: [0.95] });
		expect(result.rangeKind).toBe('model');
		const widths = result.ahead.map(({ ranges }) => (ranges['0.95']![1] - ranges['0.95']![0]) / 2);
		return widths.map((width) => width / widths[0]!);
	};
	const grown = (weights: number[]) =>
		Array.from({ length: 6 }, (_, h) =>
			Math.sqrt(1 + weights.slice(0, h).reduce((sum, c) => sum + c * c, 0)),
		);

	test('grow with the step as the sums of their weights say', () => {
		const close = (actual: number[], wanted: number[]) =>
			actual.forEach((value, i) => expect(value).toBeCloseTo(wanted[i]!, 9));
		close(
			halves({ method: 'holt', constants: { alpha: 0.3, beta: 0.2 } }),
			grown([0.36, 0.42, 0.48, 0.54, 0.6]),
		);
		const damped = [0.8, 1.44, 1.952, 2.3616, 2.68928].map((sum) => 0.3 * (1 + 0.2 * sum));
		close(halves({ method: 'damped-holt', constants: { alpha: 0.3, beta: 0.2, phi: 0.8 } }), grown(damped));
		const seasonal = [0.3, 0.3, 0.3, 0.3 + 0.5 * 0.7, 0.3];
		close(
			halves({
				method: 'holt-winters',
				season: 'additive',
				trend: 'none',
				constants: { alpha: 0.3, gamma: 0.5 },
			}),
			grown(seasonal),
		);
		// a = 0.4: α = 0.64, β = 0.25.
		close(
			halves({ method: 'brown', constants: { alpha: 0.4 } }),
			grown([1, 2, 3, 4, 5].map((i) => 0.64 * (1 + 0.25 * i))),
		);
	});

	test('a multiplied season has ranges from a trial', () => {
		expect(one(values, { method: 'holt-winters', season: 'multiplicative' }).rangeKind).toBe('trial');
	});
});
