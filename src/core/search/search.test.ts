import { expect, test } from 'vitest';
import type { CandidateResult } from '../questions/answer';
import { seededNormal, seededUniform } from '../numbers/random';
import { evaluate } from '../questions/evaluate';
import { CRITERIA } from '../contract/criteria';
import { levelPass } from '../methods/smoothing/passes';
import { minimiseOnInterval } from './interval';
import { runs } from '../../../tests/support/runs';

/** Series of many makes: flat, wandering, climbing, stepped, spiky, with zeros. */
function series(seed: number): number[] {
	const normal = seededNormal(seed);
	const uniform = seededUniform(seed + 1);
	const n = 12 + Math.floor(uniform() * 60);
	const kind = seed % 6;
	let level = 100;
	return Array.from({ length: n }, (_, t) => {
		if (kind === 1) level += 5 * normal();
		if (kind === 2) level += 2;
		if (kind === 3 && t === n >> 1) level *= 1.6;
		const spike = kind === 4 && uniform() < 0.1 ? 80 : 0;
		const value = Math.round(level + spike + 12 * normal());
		return kind === 5 && uniform() < 0.25 ? 0 : value;
	});
}

const bestOf = (values: number[], optimise: object, start?: object) =>
	evaluate({
		series: { values, frequency: 'step' },
		candidates: [{ id: 'a', method: 'ses', optimise, ...(start && { start }) }],
		detail: 'summary',
	}).candidates[0] as CandidateResult;

/** The criterion of one pass, written out plainly. */
function plainly(criterion: string, values: number[], alpha: number): number {
	const fitted = new Float64Array(values.length);
	levelPass(Float64Array.from(values), 1, values[0]!, alpha, fitted);
	const pairs = values.map((y, i) => ({ y, f: fitted[i]!, e: Math.abs(y - fitted[i]!) })).slice(1);
	const mean = (list: number[]) => list.reduce((sum, value) => sum + value, 0) / list.length;
	switch (criterion) {
		case 'mse':
			return mean(pairs.map(({ e }) => e * e));
		case 'mad':
			return mean(pairs.map(({ e }) => e));
		case 'mape':
			return 100 * mean(pairs.filter(({ y }) => y !== 0).map(({ y, e }) => e / Math.abs(y)));
		case 'smape':
			return (
				100 *
				mean(pairs.filter(({ y, f }) => y || f).map(({ y, f, e }) => (2 * e) / (Math.abs(y) + Math.abs(f))))
			);
		default:
			return (100 * mean(pairs.map(({ e }) => e))) / mean(pairs.map(({ y }) => Math.abs(y)));
	}
}

test.each(CRITERIA)('%s: never above what a dense grid finds', (criterion) => {
	for (let seed = 1; seed <= runs(60); seed++) {
		const values = series(seed);
		const { search } = bestOf(values, { criterion });
		let least = Infinity;
		for (let i = 0; i <= 4000; i++) least = Math.min(least, plainly(criterion, values, i / 4000));
		expect(search!.value, `series ${seed}`).toBeLessThanOrEqual(least * 1.0001);
		expect(search!.value).toBeCloseTo(plainly(criterion, values, search!.basins[0]!.constants.alpha!), 8);
		expect(search!.evaluations).toBeLessThanOrEqual(1500);
	}
});

test.each(CRITERIA)('%s: a start searched along is never worse than any start tried by hand', (criterion) => {
	for (let seed = 1; seed <= runs(24); seed++) {
		const values = series(seed);
		const { search, start } = bestOf(values, { criterion }, { rule: 'optimised' });
		const [low, high] = [Math.min(...values), Math.max(...values)];
		for (const alpha of [0.02, 0.1, 0.3, 0.6, 0.95, search!.basins[0]!.constants.alpha!]) {
			for (let i = 0; i <= 60; i++) {
				const level = i === 60 ? start!.level : low + ((high - low) * i) / 59;
				const tried = evaluate({
					series: { values, frequency: 'step' },
					candidates: [{ id: 'a', method: 'ses', constants: { alpha }, start: { rule: 'given', level } }],
					detail: 'summary',
				}).candidates[0] as CandidateResult;
				expect(search!.value).toBeLessThanOrEqual(tried.measures.own[criterion]! * 1.0001);
			}
		}
	}
});

test('what is held stays held, and bounds are kept', () => {
	const values = series(1);
	expect(bestOf(values, { hold: { alpha: 0.42 } }).constants.alpha).toBe(0.42);
	const { constants, search } = bestOf(values, { bounds: { alpha: [0.7, 0.8] } });
	expect(constants.alpha).toBeGreaterThanOrEqual(0.7);
	expect(search!.atBound).toEqual(constants.alpha === 0.7 || constants.alpha === 0.8 ? ['alpha'] : []);
});

test('inside the flat range the criterion stays within 1 %, outside it does not', () => {
	const values = series(7);
	const { search } = bestOf(values, {});
	const [low, high] = search!.flat.alpha!;
	const ceiling = search!.value * 1.01;
	expect(low).toBeLessThan(search!.basins[0]!.constants.alpha!);
	for (let i = 0; i <= 20; i++) {
		expect(plainly('mse', values, low + ((high - low) * i) / 20)).toBeLessThanOrEqual(ceiling * (1 + 1e-9));
	}
	if (low > 0) expect(plainly('mse', values, low - 0.002)).toBeGreaterThan(ceiling);
	if (high < 1) expect(plainly('mse', values, high + 0.002)).toBeGreaterThan(ceiling);
});

test('every valley of a function with several is found, deepest first', () => {
	const bumpy = (x: number) => 2 + Math.cos(14 * x) + 0.3 * x;
	const { valleys } = minimiseOnInterval(bumpy, 0, 1, { cells: 64, most: 300 });
	// Two inside, where 14 sin 14x = 0.3, and the end of the interval, towards which it falls again.
	expect(valleys.map(({ at }) => Math.round(at * 1000) / 1000)).toEqual([0.223, 0.672, 1]);
	expect(valleys.map(({ value }) => value)).toEqual(valleys.map(({ value }) => value).sort((a, b) => a - b));
});

test('a search by a percentage that does not exist is refused with what helps', () => {
	const answer = evaluate({
		series: { values: [4, 0, 0, 0, 0], frequency: 'step' },
		candidates: [{ id: 'a', method: 'ses', optimise: { criterion: 'mape' } }],
	});
	expect(answer.candidates[0]).toMatchObject({ ok: false, notes: [{ code: 'criterion-missing' }] });
	expect(answer.candidates[0]!.notes[0]!.text).toMatch(/every scored actual is 0\. Search by MAD or MSE/);
});
