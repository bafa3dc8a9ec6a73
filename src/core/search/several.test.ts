import type { Candidate, Settings } from '../methods/registry';
import { describe, expect, test } from 'vitest';
import { denseMinimum } from '../../../tests/support/dense';
import { panelSeries } from '../../../tests/made/panel';
import type { CandidateResult } from '../questions/answer';
import { seededUniform } from '../numbers/random';
import { evaluate } from '../questions/evaluate';
import { CRITERIA } from '../contract/criteria';
import { leastDeviationsStep } from './least-deviations';
import { LeastSquares } from './least-squares';
import { quarterOf } from '../../../tests/support/runs';

const MEMBERS: [string, Settings][] = [
	['double', { method: 'holt' }],
	['damped', { method: 'damped-holt' }],
	['Holt-Winters +', { method: 'holt-winters', season: 'additive' }],
	['Holt-Winters ×', { method: 'holt-winters', season: 'multiplicative' }],
	['Holt-Winters ×, damped', { method: 'holt-winters', season: 'multiplicative', trend: 'damped' }],
];
const SEEDS = [6, 11, 13, 17, 23, 28, 34, 42];

function searched(seed: number, settings: object, optimise: object, periods?: number): CandidateResult {
	const { values, seasonLength } = panelSeries(seed);
	const [answer] = evaluate({
		series: { values: values.slice(0, periods), frequency: 'step', seasonLength },
		candidates: [{ id: 'a', ...settings, optimise }],
		detail: 'summary',
		horizon: 1,
	}).candidates;
	if (!answer?.ok) throw new Error(answer?.notes[0]?.text);
	return answer;
}

// The whole panel of 2,000 series runs by npm run bench -- search; these are a few of each make.
describe.each(MEMBERS)('%s', (_, settings) => {
	test.each(CRITERIA)('by %s: never above what a dense grid with polishing finds', (criterion) => {
		for (const seed of quarterOf(SEEDS, CRITERIA.indexOf(criterion))) {
			if ('season' in settings && seed % 5 === 0) continue;
			const candidate: Candidate = { id: 'a', ...settings };
			const { search, measures } = searched(seed, settings, { criterion });
			const dense = denseMinimum(panelSeries(seed), candidate, criterion);
			expect(search!.value, `series ${seed}`).toBeLessThanOrEqual(dense.value * 1.0001);
			// What the search says it found is what the forecasts score.
			expect(search!.value / measures.own[criterion]!).toBeCloseTo(1, 9);
		}
	});
});

test('of 60 months a search of three constants takes as few passes as it is held to', () => {
	for (const [criterion, middle, most] of [
		['mse', 600, 1500],
		['mad', 2500, 2500],
		['smape', 2500, 2500],
	] as const) {
		const passes: number[] = [];
		for (let seed = 3; passes.length < 24; seed += 5) {
			if (panelSeries(seed).values.length < 60) continue;
			const season = passes.length % 2 ? 'additive' : 'multiplicative';
			passes.push(searched(seed, { method: 'holt-winters', season }, { criterion }, 60).search!.evaluations);
		}
		passes.sort((a, b) => a - b);
		expect(passes[12]).toBeLessThanOrEqual(middle);
		expect(passes.at(-1)).toBeLessThanOrEqual(most);
	}
});

describe('what is asked of a search is kept', () => {
	const settings = { method: 'holt-winters', season: 'additive' };
	test('any subset held, the rest as good as searched alone', () => {
		for (const hold of [{ beta: 0.2 }, { alpha: 0.3, gamma: 0.4 }, { alpha: 0.1, beta: 0, gamma: 1 }]) {
			const { constants, search } = searched(11, settings, { hold });
			expect(constants).toMatchObject(hold);
			const free = searched(11, settings, {});
			expect(search!.value).toBeGreaterThanOrEqual(free.search!.value * (1 - 1e-9));
			expect(Object.keys(search!.flat).sort()).toEqual(
				['alpha', 'beta', 'gamma'].filter((key) => !(key in hold)).sort(),
			);
		}
	});

	test('own bounds, and a constant that ends on one is named', () => {
		const free = searched(11, settings, {});
		const top = free.constants.alpha! / 2;
		const { constants, search } = searched(11, settings, { bounds: { alpha: [0, top] } });
		expect(constants.alpha).toBeLessThanOrEqual(top);
		if (constants.alpha === top) expect(search!.atBound).toContain('alpha');
		expect(search!.value).toBeGreaterThanOrEqual(free.search!.value * (1 - 1e-9));
	});

	test('the same request has the same answer', () => {
		for (const criterion of ['mse', 'mad'] as const) {
			expect(searched(17, settings, { criterion })).toEqual(searched(17, settings, { criterion }));
		}
	});

	test('basins stand apart, the deepest first, and the flat stretch holds the best', () => {
		for (const seed of SEEDS) {
			const { search, constants } = searched(seed, { method: 'holt' }, { criterion: 'mad' });
			const values = search!.basins.map(({ value }) => value);
			expect(values).toEqual([...values].sort((a, b) => a - b));
			expect(search!.basins[0]!.constants).toEqual(constants);
			for (const [key, [low, high]] of Object.entries(search!.flat)) {
				expect(low).toBeLessThanOrEqual(constants[key]!);
				expect(high).toBeGreaterThanOrEqual(constants[key]!);
				for (const end of [low, high]) {
					const { values: actual, seasonLength } = panelSeries(seed);
					const [moved] = evaluate({
						series: { values: actual, frequency: 'step', seasonLength },
						candidates: [{ id: 'a', method: 'holt', constants: { ...constants, [key]: end } }],
						detail: 'summary',
					}).candidates;
					expect((moved as CandidateResult).measures.own.mad!).toBeLessThanOrEqual(
						search!.value * 1.01 * (1 + 1e-9),
					);
				}
			}
		}
	});
});

/** The least of a function over a fine grid in a box about zero. */
function overGrid(lower: Float64Array, upper: Float64Array, cost: (d: number[]) => number): number {
	let least = Infinity;
	const CELLS = 160;
	for (let i = 0; i <= CELLS; i++) {
		for (let j = 0; j <= CELLS; j++) {
			const at = (k: number, share: number) => lower[k]! + (share / CELLS) * (upper[k]! - lower[k]!);
			least = Math.min(least, cost([at(0, i), at(1, j)]));
		}
	}
	return least;
}

test.each([1, 2, 3, 4, 5, 6, 7, 8])('steps within a box are the best there are (case %i)', (seed) => {
	const uniform = seededUniform(seed);
	const list = (length: number, size: number) =>
		Float64Array.from({ length }, () => size * (2 * uniform() - 1));
	const m = 25;
	const linear = { errors: list(m, 10), derivatives: [list(m, 3), list(m, 3)] };
	const costs = { up: list(m, 1).map(Math.abs), down: list(m, 1).map(Math.abs) };
	const lower = list(2, 2).map((value) => -Math.abs(value));
	const upper = list(2, 2).map(Math.abs);
	const residuals = (d: ArrayLike<number>) =>
		linear.errors.map(
			(error, i) => error - linear.derivatives[0]![i]! * d[0]! - linear.derivatives[1]![i]! * d[1]!,
		);

	const squares = (d: ArrayLike<number>) => residuals(d).reduce((sum, error) => sum + error * error, 0);
	const smooth = new LeastSquares(linear.derivatives.length).about(linear).step(0, lower, upper);
	expect(squares(smooth.step)).toBeLessThanOrEqual(overGrid(lower, upper, squares) * (1 + 1e-9));
	expect(squares([0, 0]) - squares(smooth.step)).toBeCloseTo(smooth.predicted, 6);

	const deviations = (d: ArrayLike<number>) =>
		residuals(d).reduce(
			(sum, error, i) => sum + (error > 0 ? costs.up[i]! * error : -costs.down[i]! * error),
			0,
		);
	const kinked = leastDeviationsStep(linear, costs, lower, upper);
	expect(deviations(kinked.step)).toBeLessThanOrEqual(overGrid(lower, upper, deviations) * (1 + 1e-9));
	expect(deviations([0, 0]) - deviations(kinked.step)).toBeCloseTo(kinked.predicted, 6);
	for (const step of [smooth.step, kinked.step]) {
		step.forEach((part, j) => {
			expect(part).toBeGreaterThanOrEqual(lower[j]! - 1e-12);
			expect(part).toBeLessThanOrEqual(upper[j]! + 1e-12);
		});
	}
});
