import type { Candidate } from '../methods/registry';
import { describe, expect, test } from 'vitest';
import { panelSeries } from '../../../tests/made/panel';
import type { CandidateResult } from './answer';
import { evaluate } from './evaluate';
import { prepareSeries } from '../series/series';
import { steadinessAt, steadinessOrigins } from './steadiness';
import { type SteadinessPoint, steadinessWords } from '../words/steadiness';
import { terrain } from './terrain';

const panel = panelSeries(11);
const input = { values: panel.values, frequency: 'step' as const, seasonLength: 4 };
const series = prepareSeries(input, 'skip');
const scoreOf = (candidate: Candidate) =>
	(evaluate({ series: input, candidates: [candidate], detail: 'summary' }).candidates[0] as CandidateResult)
		.measures.own;

describe('terrain', () => {
	test('of one constant: each point is what the candidate scores there', () => {
		const candidate: Candidate = { id: 'a', method: 'ses', constants: { alpha: 0.2 } };
		const land = terrain(series, { candidate, axes: ['alpha'], criterion: 'mad', scoreFrom: null });
		expect(land.axes[0]!.values[0]).toBe(0);
		expect(land.axes[0]!.values.at(-1)).toBe(1);
		for (const i of [0, 17, 80, 160]) {
			const alpha = land.axes[0]!.values[i]!;
			expect(land.values[i]).toBeCloseTo(scoreOf({ ...candidate, constants: { alpha } }).mad!, 9);
		}
		expect(land.valleys[0]!.value).toBeLessThanOrEqual(Math.min(...land.values.map((value) => value!)));
	});

	test('of two of three constants: the third is held where the candidate has it', () => {
		const candidate: Candidate = {
			id: 'a',
			method: 'holt-winters',
			season: 'multiplicative',
			constants: { alpha: 0.9, beta: 0.9, gamma: 0.35 },
		};
		const land = terrain(series, { candidate, axes: ['beta', 'alpha'], criterion: 'mse', scoreFrom: 9 });
		const width = land.axes[0]!.values.length;
		for (const i of [0, 333, 1200, 2024]) {
			const constants = {
				beta: land.axes[0]!.values[i % width]!,
				alpha: land.axes[1]!.values[Math.floor(i / width)]!,
				gamma: 0.35,
			};
			const [answer] = evaluate({
				series: input,
				candidates: [{ ...candidate, constants }],
				scoreFrom: 9,
			}).candidates;
			const scored = (answer as CandidateResult).measures.own.mse!;
			expect(land.values[i]! / scored).toBeCloseTo(1, 9);
		}
		for (const { constants } of land.valleys) expect(constants.gamma).toBe(0.35);
		expect(Object.keys(land.flat).sort()).toEqual(['alpha', 'beta']);
	});

	test('what cannot be had is refused with the reason', () => {
		const zeros = prepareSeries({ values: [4, 0, 0, 0, 0, 0], frequency: 'step' }, 'skip');
		const candidate: Candidate = { id: 'a', method: 'ses', constants: { alpha: 0.2 } };
		expect(() => terrain(zeros, { candidate, axes: ['alpha'], criterion: 'mape', scoreFrom: null })).toThrow(
			/every scored actual is 0/,
		);
	});
});

describe('steadiness', () => {
	const through = (values: number[], candidate: Candidate): SteadinessPoint[] => {
		const whole = prepareSeries({ values, frequency: 'step' }, 'skip');
		const points: SteadinessPoint[] = [];
		for (const origin of steadinessOrigins(values.length)) {
			const point = steadinessAt(whole, candidate, null, origin, points.at(-1)?.constants ?? null);
			if (point) points.push(point);
		}
		return points;
	};

	test('origins: all of a short series, 120 of a long one, the last always', () => {
		expect(steadinessOrigins(5)).toEqual([1, 2, 3, 4, 5]);
		const many = steadinessOrigins(1000);
		expect(many).toHaveLength(120);
		expect(many.at(-1)).toBe(1000);
		expect(many).toEqual([...many].sort((a, b) => a - b));
	});

	test('each origin knows the periods up to it alone, and is as good as a search there', () => {
		const candidate: Candidate = { id: 'a', method: 'holt', optimise: { criterion: 'mad' } };
		const points = through(panel.values.slice(0, 30), candidate);
		expect(points[0]!.origin).toBeGreaterThan(6);
		expect(points.at(-1)!.origin).toBe(30);
		for (const { origin, constants, value } of points) {
			const [alone] = evaluate({
				series: { values: panel.values.slice(0, origin), frequency: 'step' },
				candidates: [candidate],
			}).candidates;
			expect(value).toBeLessThanOrEqual((alone as CandidateResult).search!.value * 1.001);
			const [kept] = evaluate({
				series: { values: panel.values.slice(0, origin), frequency: 'step' },
				candidates: [{ id: 'a', method: 'holt', constants }],
			}).candidates;
			expect((kept as CandidateResult).measures.own.mad).toBeCloseTo(value, 8);
		}
	});

	const point = (origin: number, alpha: number, rival: SteadinessPoint['rival'] = null): SteadinessPoint => ({
		origin,
		constants: { alpha },
		value: 10,
		rival,
	});
	const words = (points: SteadinessPoint[]) =>
		steadinessWords(points, { id: 'a', method: 'ses' }, (origin) => `period ${origin}`);

	test('steady throughout, steady since, and not steady are said apart', () => {
		expect(words([0.3, 0.31, 0.29, 0.3].map((alpha, i) => point(i + 5, alpha)))).toBe(
			'Steady throughout, since period 5: α between 0.29 and 0.31.',
		);
		expect(words([0.9, 0.1, 0.31, 0.29, 0.3].map((alpha, i) => point(i + 5, alpha)))).toBe(
			'Steady since period 7: α between 0.29 and 0.31.',
		);
		expect(words([0.9, 0.2, 0.6, 0.9, 0.1].map((alpha, i) => point(i + 5, alpha)))).toBe(
			'Not steady: since period 7 α moved between 0.10 and 0.90.',
		);
	});

	test('two minima of nearly the same depth are both named', () => {
		const rival = { constants: { alpha: 0.82 }, value: 10.04 };
		expect(words([0.3, 0.31, 0.29].map((alpha, i) => point(i + 5, alpha, rival)))).toContain(
			'Two settings fit almost equally, α 0.29 and α 0.82 (0.40 % apart)',
		);
	});
});
