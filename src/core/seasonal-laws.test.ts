import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { CandidateResult } from './questions/answer';
import { evaluate, EvaluateMemory } from './questions/evaluate';
import type { Frequency } from './series/frequency';
import { runs } from '../../tests/support/runs';

const LEVELS = [
	{ rule: 'last-cycle', growth: 0.05 },
	{ rule: 'cycle-average', cycles: 2 },
	{ rule: 'cycle-smoothing', alpha: 0.4 },
	{ rule: 'cycle-trend' },
	{ rule: 'line' },
	{ rule: 'blend', of: [{ rule: 'line' }, { rule: 'last-cycle' }], weights: [2, 1] },
];
const SEASONAL = [
	...['additive', 'multiplicative'].flatMap((season) => [
		...LEVELS.map((level, i) => ({
			id: `${season} level ${i}`,
			method: 'seasonal-index',
			season,
			index: { rule: i % 2 === 0 ? 'ratio-to-moving-average' : 'ratio-to-overall' },
			level,
		})),
		{ id: `${season} together`, method: 'trend-seasonal', season },
		{ id: `${season} together mad`, method: 'trend-seasonal', season, optimise: { criterion: 'mad' } },
		{
			id: `${season} bare`,
			method: 'deseasonalised',
			season,
			inner: { method: 'ses', constants: { alpha: 0.3 } },
		},
		{
			id: `${season} bare best`,
			method: 'deseasonalised',
			season,
			index: { rule: 'ratio-to-cycle-mean' },
			inner: { method: 'holt', optimise: {}, start: { rule: 'line' } },
		},
	]),
	{ id: 'each', method: 'per-season', inner: { method: 'ses', constants: { alpha: 0.3 } } },
	{ id: 'each line', method: 'per-season', inner: { method: 'linear-trend' } },
	{
		id: 'mixed',
		method: 'combination',
		of: ['each', 'additive bare', 'additive together'],
		weights: 'inverse-mse',
	},
];

const ask = (
	values: (number | null)[],
	more: object = {},
	frequency: Frequency = 'quarter',
	start = '2019-Q2',
) => evaluate({ series: { values, frequency, start }, candidates: SEASONAL, horizon: 6, ...more });
const demand = fc.array(fc.integer({ min: 20, max: 900 }), { minLength: 16, maxLength: 34 });
const swinging = (n: number) =>
	Array.from({ length: n }, (_, t) =>
		Math.round((200 + 4 * t) * [0.7, 1.2, 1.4, 0.7][t % 4]! + ((t * 7919) % 23)),
	);

/** Within a millionth of the size of the figures. */
const near = (a: number | null, b: number | null, size: number, what: string) => {
	if (a === null || b === null) return expect(a, what).toBe(b);
	expect(Math.abs(a - b), what).toBeLessThanOrEqual(1e-6 * size);
};
const ran = (answer: ReturnType<typeof ask>) => answer.candidates.filter((each) => each.ok);

describe('laws of methods with indices', () => {
	test('scaling the series scales forecasts and errors, and leaves percentages', () => {
		fc.assert(
			fc.property(demand, fc.constantFrom(0.5, 4, 64), (values, scale) => {
				const [plain, scaled] = [ran(ask(values)), ran(ask(values.map((value) => value * scale)))];
				expect(scaled.map(({ id }) => id)).toEqual(plain.map(({ id }) => id));
				plain.forEach((a, i) => {
					const b = scaled[i]!;
					// Of several equally good lines a search may take another one.
					if (a.id.includes('together') || a.id === 'mixed' || a.id.includes('best')) {
						near(a.measures.own.mse! * scale ** 2, b.measures.own.mse, 1e7 * scale ** 2, a.id);
						return;
					}
					a.ahead.forEach(({ mean }, h) => near(mean! * scale, b.ahead[h]!.mean, 1e3 * scale, a.id));
					near(a.measures.own.mape, b.measures.own.mape, 1e3, a.id);
					near(a.measures.own.trackingSignal, b.measures.own.trackingSignal, 1e3, a.id);
				});
			}),
			{ numRuns: runs(25) },
		);
	});

	test('raising the series raises every forecast of an added season by as much', () => {
		fc.assert(
			fc.property(demand, fc.integer({ min: 1, max: 900 }), (values, shift) => {
				const [plain, raised] = [ran(ask(values)), ran(ask(values.map((value) => value + shift)))];
				for (const a of plain) {
					// A growth rate is of the whole level, and raised with it.
					if (!/^additive (level [1-4]|bare$)|^each/.test(a.id)) continue;
					const b = raised.find(({ id }) => id === a.id)!;
					a.ahead.forEach(({ mean }, h) => near(mean! + shift, b.ahead[h]!.mean, 1e3, a.id));
				}
			}),
			{ numRuns: runs(25) },
		);
	});

	test('a constant series is forecast as itself', () => {
		for (const candidate of ran(ask(new Array(20).fill(70)))) {
			if (candidate.id.endsWith('level 0')) continue; // grows by its rate
			candidate.ahead.forEach(({ mean }) => near(mean, 70, 70, candidate.id));
			expect(candidate.measures.own.mad, candidate.id).toBeLessThan(1e-9);
		}
	});

	test('what is held back is not seen: the forecast flown over it is that of the shorter series', () => {
		const values = swinging(29);
		const held = ran(ask(values, { holdout: 5 }));
		const short = ran(ask(values.slice(0, 24), { horizon: 5 }));
		expect(held.map(({ id }) => id)).toEqual(short.map(({ id }) => id));
		held.forEach((candidate, i) => {
			const flown = short[i]!.ahead.map(({ mean }, h) => Math.abs(values[24 + h]! - mean!));
			near(candidate.measures.holdout!.ahead.mad, flown.reduce((a, b) => a + b, 0) / 5, 1e3, candidate.id);
			expect(candidate.fitted, candidate.id).toEqual(short[i]!.fitted);
		});
	});

	test('a trial runs for each of them', () => {
		for (const candidate of ran(ask(swinging(26), { trial: { origins: 10, horizon: 3 } }))) {
			expect(candidate.trial!.byStep[0]!.count, candidate.id).toBeGreaterThan(5);
			expect(candidate.trial!.byStep[2]!.mad, candidate.id).not.toBeNull();
		}
	});

	test('rates per day come back as totals', () => {
		const values = swinging(24);
		const series = { values, frequency: 'quarter', start: '2019-Q1', perDay: true };
		for (const candidate of evaluate({ series, candidates: SEASONAL, horizon: 4 }).candidates) {
			if (!candidate.ok) throw new Error(candidate.notes[0]!.text);
			candidate.ahead.forEach(({ mean }) => expect(mean, candidate.id).toBeGreaterThan(50));
			expect(candidate.ahead.every(({ mean }) => mean! < 2000)).toBe(true);
		}
	});

	test('excluded periods are neither fitted nor scored', () => {
		const values = swinging(28);
		const outlier = values.with(9, 90_000);
		const [plain, spoiled] = [values, outlier].map((list) =>
			ran(
				evaluate({
					series: { values: list, frequency: 'quarter', start: '2019-Q2', excluded: [10] },
					candidates: SEASONAL,
				}),
			),
		);
		plain!.forEach((candidate, i) => {
			expect(spoiled![i]!.ahead, candidate.id).toEqual(candidate.ahead);
			expect(spoiled![i]!.measures.own, candidate.id).toEqual(candidate.measures.own);
		});
	});
});

test('answers are the same with what is remembered, whatever is turned in between', () => {
	const memory = new EvaluateMemory();
	const request = (alpha: number, held: number | null) => ({
		series: { values: swinging(30), frequency: 'quarter', start: '2019-Q1' },
		candidates: [
			{ id: 's', method: 'ses', constants: { alpha } },
			{
				id: 'i',
				method: 'seasonal-index',
				season: 'multiplicative',
				index: { rule: 'ratio-to-overall', held: [held, null, null, null] },
				level: { rule: 'line' },
			},
			{ id: 'inner', method: 'combination', of: ['s', 'i'] },
			{ id: 'outer', method: 'combination', of: ['inner', 's'], weights: [3, 1] },
		],
	});
	let before: CandidateResult | null = null;
	for (const [alpha, held] of [
		[0.2, null],
		[0.7, null],
		[0.7, 0.9],
		[0.2, null],
	] as const) {
		const asked = request(alpha, held);
		const answer = evaluate(asked, memory);
		expect(answer).toEqual(evaluate(asked));
		const outer = answer.candidates[3] as CandidateResult;
		if (before) expect(outer.ahead).not.toEqual(before.ahead);
		before = outer;
	}
});
