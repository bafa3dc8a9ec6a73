import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Answer, CandidateResult } from './answer';
import { evaluate } from './evaluate';
import { GAP_RULES } from '../series/gaps';

const METHODS = [
	{ id: 'naive', method: 'naive' },
	{ id: 'average', method: 'average' },
	{ id: 'drift', method: 'drift' },
	{ id: 'ma', method: 'moving-average', span: 3 },
	{ id: 'wma', method: 'weighted-moving-average', weights: [1, 2, 3] },
	{ id: 'first', method: 'ses', constants: { alpha: 0.3 } },
	{ id: 'mean', method: 'ses', constants: { alpha: 0.3 }, start: { rule: 'mean', k: 4 } },
	{ id: 'line', method: 'ses', constants: { alpha: 0.3 }, start: { rule: 'line' } },
	{ id: 'best', method: 'ses', optimise: {} },
	{ id: 'best start', method: 'ses', optimise: { criterion: 'mad' }, start: { rule: 'optimised' } },
];

const ask = (values: (number | null)[], more: object = {}): Answer =>
	evaluate({ series: { values, frequency: 'step' }, candidates: METHODS, horizon: 4, ...more });

const result = (answer: Answer, id: string): CandidateResult => {
	const found = answer.candidates.find((candidate) => candidate.id === id)!;
	if (!found.ok) throw new Error(found.notes[0]!.text);
	return found;
};

const demand = fc.array(fc.integer({ min: 1, max: 5000 }), { minLength: 8, maxLength: 40 });
const near = (a: number | null, b: number | null, size: number) =>
	a === null || b === null ? expect(a).toBe(b) : expect(Math.abs(a - b)).toBeLessThanOrEqual(1e-6 * size);

describe('laws', () => {
	test('raising the series raises every forecast by as much', () => {
		fc.assert(
			fc.property(demand, fc.integer({ min: -900, max: 900 }), (values, shift) => {
				const plain = ask(values);
				const raised = ask(values.map((value) => value + shift));
				for (const { id } of METHODS.slice(0, 8)) {
					result(plain, id).ahead.forEach(({ mean }, i) =>
						near(mean! + shift, result(raised, id).ahead[i]!.mean, 1e4),
					);
				}
			}),
			{ numRuns: 40 },
		);
	});

	test('scaling the series scales forecasts, errors and ranges, and leaves percentages', () => {
		fc.assert(
			fc.property(demand, fc.constantFrom(0.5, 3, 40), (values, scale) => {
				const plain = ask(values);
				const scaled = ask(values.map((value) => value * scale));
				for (const { id } of METHODS) {
					const [a, b] = [result(plain, id), result(scaled, id)];
					near(a.measures.own.mad! * scale, b.measures.own.mad, 1e4 * scale);
					near(a.measures.own.mape, b.measures.own.mape, 1e4);
					near(a.measures.own.trackingSignal, b.measures.own.trackingSignal, 1e4);
					const [low, high] = [a.ahead[3]!.ranges['0.95']!, b.ahead[3]!.ranges['0.95']!];
					near(low[0] * scale, high[0], 1e5 * scale);
				}
			}),
			{ numRuns: 40 },
		);
	});

	test('a constant series is forecast as itself', () => {
		for (const { id } of METHODS) {
			const candidate = result(ask(new Array(14).fill(70)), id);
			expect(candidate.ahead.map(({ mean }) => mean)).toEqual([70, 70, 70, 70]);
			expect(candidate.measures.own.mad).toBe(0);
			expect(candidate.measures.own.trackingSignal).toBeNull();
			expect(candidate.ahead[0]!.ranges['0.95']).toEqual([70, 70]);
		}
	});

	test('alpha 1 is the naive forecast, alpha 0 never moves', () => {
		const values = [31, 48, 29, 55, 61, 40];
		const candidates = [
			{ id: 'one', method: 'ses', constants: { alpha: 1 } },
			{ id: 'naive', method: 'naive' },
			{ id: 'zero', method: 'ses', constants: { alpha: 0 }, start: { rule: 'given', level: 33 } },
		];
		const answer = ask(values, { candidates });
		expect(result(answer, 'one').fitted).toEqual(result(answer, 'naive').fitted);
		expect(result(answer, 'zero').fitted).toEqual(new Array(6).fill(33));
	});

	test('every forecast uses only what came before', () => {
		fc.assert(
			fc.property(demand, fc.nat(), (values, pick) => {
				const t = pick % values.length;
				const changed = values.map((value, i) => (i >= t ? value + 77 : value));
				const candidates = METHODS.slice(0, 6);
				for (const { id } of candidates) {
					const [a, b] = [values, changed].map((list) => result(ask(list, { candidates }), id).fitted!);
					if (t > 0) expect(a!.slice(0, t + 1)).toEqual(b!.slice(0, t + 1));
				}
			}),
			{ numRuns: 30 },
		);
	});

	test('the same request has the same answer', () => {
		const values = [34, 41, 38, 45, 37, 52, 49, 44, 58, 51, 47, 60];
		expect(JSON.stringify(ask(values))).toBe(JSON.stringify(ask(values)));
	});
});

describe('windows', () => {
	const values = [34, 41, 38, 45, 37, null, 49, 44, 58, 51, 47, 60];

	test('the common window is what every candidate that runs has', () => {
		const answer = ask(values);
		expect(answer.window).toEqual({ from: 4, to: 12, count: 8 });
		for (const { id } of METHODS) expect(result(answer, id).measures.common.count).toBe(8);
		expect(result(answer, 'naive').measures.own.count).toBe(10);
		expect(result(answer, 'mean').measures.own.count).toBe(11);
	});

	test('scoreFrom overrides where every candidate begins', () => {
		const answer = ask(values, { scoreFrom: 9 });
		for (const { id } of METHODS) {
			expect(result(answer, id).scoreFrom).toBe(9);
			expect(result(answer, id).tracking!.map(({ t }) => t)).toEqual([9, 10, 11, 12]);
		}
	});

	test('excluded periods are neither fitted nor scored', () => {
		const freak = [40, 42, 41, 999, 43, 40, 42];
		const series = { values: freak, frequency: 'step', excluded: [4] };
		const answer = evaluate({ series, candidates: METHODS, horizon: 1 });
		expect(result(answer, 'average').ahead[0]!.mean).toBeCloseTo((40 + 42 + 41 + 43 + 40 + 42) / 6, 12);
		expect(result(answer, 'naive').errors![3]).toBeNull();
		expect(result(answer, 'naive').fitted![4]).toBe(41);
	});

	test('held-back periods change nothing that was fitted, and are scored both ways', () => {
		const full = [34, 41, 38, 45, 37, 52, 49, 44, 58, 51];
		const held = ask(full, { holdout: 3 });
		const cut = ask(full.slice(0, 7));
		for (const { id } of METHODS) {
			expect(result(held, id).constants).toEqual(result(cut, id).constants);
			expect(result(held, id).fitted).toEqual(result(cut, id).fitted);
			expect(result(held, id).measures.own).toEqual(result(cut, id).measures.own);
		}
		const { ahead, oneStep } = result(held, 'naive').measures.holdout!;
		expect(ahead.mad).toBeCloseTo((5 + 9 + 2) / 3, 12);
		expect(oneStep.mad).toBeCloseTo((5 + 14 + 7) / 3, 12);
		expect(ahead.theil).toBe(1);
		expect(result(held, 'naive').ahead[0]!.mean).toBe(51);
	});

	test('a rolling check scores by horizon and says how many fell inside', () => {
		const full = [34, 41, 38, 45, 37, 52, 49, 44, 58, 51];
		const answer = ask(full, { rolling: { from: 6, horizon: 2, refit: true }, levels: [0.8] });
		const { byHorizon, covered } = result(answer, 'naive').rolling!;
		expect(byHorizon.map(({ count }) => count)).toEqual([4, 3]);
		expect(byHorizon[0]!.mad).toBeCloseTo((3 + 5 + 14 + 7) / 4, 12);
		expect(byHorizon[1]!.mad).toBeCloseTo((8 + 9 + 7) / 3, 12);
		expect(covered['0.8']!.count).toBe(4);
		expect(result(answer, 'best').rolling!.byHorizon[0]!.count).toBe(4);
	});
});

describe('a rolling check', () => {
	const wandering = Array.from({ length: 30 }, (_, t) => 200 + ((t * 29) % 37) + (t > 14 ? 60 : 0));
	const check = (candidate: object, refit: boolean) =>
		result(
			ask(wandering, { candidates: [{ id: 'x', ...candidate }], rolling: { from: 10, horizon: 1, refit } }),
			'x',
		).rolling!.byHorizon[0]!;

	test('with frozen constants makes the very forecasts of the fit, from the first origin on', () => {
		const searched = result(ask(wandering, { candidates: [{ id: 'x', method: 'ses', optimise: {} }] }), 'x');
		const errors = searched.errors!.slice(10).map((error) => Math.abs(error!));
		const mad = errors.reduce((sum, error) => sum + error, 0) / errors.length;
		const frozen = check({ method: 'ses', optimise: {} }, false);
		expect(frozen.count).toBe(20);
		expect(frozen.mad).toBeCloseTo(mad, 9);
	});

	test('fitted anew at each origin knows nothing of what comes later', () => {
		// The best constant of the whole series has seen the step half way; the early origins have not.
		expect(check({ method: 'ses', optimise: {} }, true).mad).not.toBe(
			check({ method: 'ses', optimise: {} }, false).mad,
		);
		expect(check({ method: 'naive' }, true)).toEqual(check({ method: 'naive' }, false));
	});

	test('passes over origins at which the method cannot run yet', () => {
		const { count } = check({ method: 'moving-average', span: 14 }, true);
		expect(count).toBe(16);
	});
});

describe('tracking', () => {
	const values = [10, 12, 9, 13, 11, 15];

	test('rolling and smoothed signals, by hand', () => {
		const candidates = [{ id: 'n', method: 'naive' }];
		const rolling = result(
			ask(values, { candidates, tracking: { kind: 'rolling', periods: 2 } }),
			'n',
		).tracking!;
		expect(rolling.map(({ cfe }) => cfe)).toEqual([2, -1, 1, 2, 2]);
		expect(rolling.map(({ mad }) => mad)).toEqual([2, 2.5, 3.5, 3, 3]);
		const smoothed = result(
			ask(values, { candidates, tracking: { kind: 'smoothed', constant: 0.5 } }),
			'n',
		).tracking!;
		expect(smoothed[1]).toEqual({ t: 3, error: -3, cfe: -1, mad: 2, signal: -0.5 });
	});
});

describe('ranges', () => {
	test('a method without a model takes quantiles of its own errors, and widens where they run out', () => {
		const values = Array.from({ length: 24 }, (_, i) => 100 + ((i * 37) % 11));
		const answer = ask(values, { candidates: [{ id: 'n', method: 'naive' }], horizon: 8, levels: [0.5] });
		const candidate = result(answer, 'n');
		expect(candidate.rangeKind).toBe('empirical');
		const errors = (h: number) =>
			values
				.slice(h)
				.map((value, i) => value - values[i]!)
				.sort((a, b) => a - b);
		const quartile = (list: number[]) => {
			const at = (list.length - 1) / 4;
			return list[Math.floor(at)]! + (list[Math.ceil(at)]! - list[Math.floor(at)]!) * (at % 1);
		};
		// 24 periods have 23 one-step errors and 20 four-step ones; five steps ahead there are 19, too few.
		expect(candidate.ahead[0]!.ranges['0.5']![0]).toBeCloseTo(values[23]! + quartile(errors(1)), 9);
		expect(candidate.ahead[3]!.ranges['0.5']![0]).toBeCloseTo(values[23]! + quartile(errors(4)), 9);
		expect(candidate.ahead[7]!.ranges['0.5']![0]).toBeCloseTo(
			values[23]! + Math.sqrt(2) * quartile(errors(4)),
			9,
		);
		expect(candidate.notes.find(({ code }) => code === 'range-basis')!.figures).toEqual({
			count: 20,
			step: 4,
		});
	});

	test('searched constants cost degrees of freedom', () => {
		const values = [34, 41, 38, 45, 37, 52, 49, 44, 58, 51, 47, 60];
		const candidates = [
			{ id: 'best', method: 'ses', optimise: {} },
			{ id: 'same', method: 'ses', constants: { alpha: 0 } },
		];
		const alpha = result(ask(values, { candidates }), 'best').constants.alpha!;
		candidates[1]!.constants = { alpha };
		const answer = ask(values, { candidates });
		const width = (id: string) => {
			const [low, high] = result(answer, id).ahead[0]!.ranges['0.95']!;
			return high - low;
		};
		expect(width('best') / width('same')).toBeCloseTo(Math.sqrt(11 / 10), 9);
	});
});

describe('series that hurt', () => {
	const cases: [string, (number | null)[]][] = [
		['one value', [5]],
		['two values', [5, 9]],
		['all zero', new Array<number>(20).fill(0)],
		['all missing', new Array<null>(12).fill(null)],
		['one huge value', [1, 2, 1, 1e15, 2, 1, 2, 1]],
		['tiny values', [1e-300, 2e-300, 1e-300, 3e-300]],
		['negatives and zeros', [-5, 0, 5, -10, 0, 10, -3]],
		['leading and trailing gaps', [null, null, 4, 6, 5, 7, null, null]],
		['nine tenths missing', Array.from({ length: 40 }, (_, i) => (i % 10 === 3 ? i : null))],
		['a thousand', Array.from({ length: 1000 }, (_, i) => 50 + (i % 7))],
	];
	test.each(cases)('%s: nothing but finite numbers and nulls leaves the core', (_name, values) => {
		for (const gaps of GAP_RULES) {
			const answer = ask(values, { gaps, holdout: values.length > 4 ? 2 : 0 });
			const text = JSON.stringify(answer, (_key, value: unknown) => {
				if (typeof value === 'number' && !Number.isFinite(value)) throw new Error('not finite');
				return value;
			});
			expect(text).not.toMatch(/NaN|Infinity/);
			for (const candidate of answer.candidates) {
				if (!candidate.ok)
					expect(candidate.notes[0]!.text).toMatch(/needs|is to start|cannot|does not exist/);
			}
		}
	});
});

describe('notes', () => {
	const codes = (answer: Answer, id: string) => result(answer, id).notes.map(({ code }) => code);

	test('a climb under simple smoothing: one-sided, out of its limits, best constant on its bound', () => {
		const climb = Array.from({ length: 20 }, (_, i) => 100 + 10 * i);
		const answer = ask(climb);
		expect(codes(answer, 'first')).toEqual(
			expect.arrayContaining(['tracking-signal-out', 'one-sided-errors']),
		);
		const bound = result(answer, 'best').notes.find(({ code }) => code === 'constant-at-bound')!;
		expect(bound.figures).toEqual({ constant: 'alpha', value: 1 });
		expect(bound.text).toContain('naive');
		expect(result(answer, 'best').search!.atBound).toEqual(['alpha']);
		expect(codes(answer, 'average')).toContain('no-better-than-naive');
		expect(codes(answer, 'drift')).toContain('no-errors');
	});

	test('zeros are left out of the percentage error and said so', () => {
		const answer = ask([5, 0, 7, 0, 6, 8, 0, 5]);
		const { mapeCount, count } = result(answer, 'naive').measures.own;
		expect([mapeCount, count]).toEqual([4, 7]);
		expect(codes(answer, 'naive')).toContain('percentage-error-incomplete');
		expect(codes(answer, 'naive')).toContain('range-below-zero');
	});

	test('a last actual outside its own range, a trend carried far, a lead within noise', () => {
		const calm = Array.from({ length: 24 }, (_, t) => 50 + ((t * 7) % 4));
		expect(codes(ask([...calm, 300]), 'first')).toContain('last-actual-outside-range');
		// A range from few errors accuses nobody.
		expect(codes(ask([...calm.slice(0, 11), 300]), 'first')).not.toContain('last-actual-outside-range');
		expect(codes(ask([50, 52, 55, 57, 61, 60], { horizon: 6 }), 'drift')).toContain('trend-carried-far');
		const noise = ask([34, 41, 38, 45, 37, 52, 49, 44, 58, 51, 47, 60]);
		expect(
			noise.candidates.some((entry) => entry.notes.some(({ code }) => code === 'lead-within-noise')),
		).toBe(true);
	});

	test('a season is named only where there is one', () => {
		const wave = Array.from({ length: 36 }, (_, i) => 100 + 30 * Math.sin((i * Math.PI) / 6) + (i % 5));
		const months = (values: number[]) =>
			evaluate({ series: { values, frequency: 'month', start: '2022-01' }, candidates: [] }).notes.map(
				({ code }) => code,
			);
		expect(months(wave)).toContain('looks-seasonal');
		expect(months(wave.map((_, i) => 100 + ((i * 7919) % 23)))).not.toContain('looks-seasonal');
		expect(months(wave.map((_, i) => 10 * i))).toEqual([]);
	});
});

test('a summary leaves the per-period lists out and keeps the figures', () => {
	const values = [34, 41, 38, 45, 37, 52];
	const summary = result(ask(values, { detail: 'summary' }), 'ma');
	expect(Object.keys(summary)).not.toEqual(
		expect.arrayContaining(['fitted', 'errors', 'states', 'tracking']),
	);
	expect(summary.measures).toEqual(result(ask(values), 'ma').measures);
});

test('what lies ahead is named by the calendar of the series', () => {
	const ahead = (frequency: string, start: string) =>
		result(
			evaluate({
				series: { values: [1, 2, 3], frequency, start },
				candidates: METHODS.slice(0, 1),
				horizon: 2,
			}),
			'naive',
		).ahead.map(({ period }) => period);
	expect(ahead('month', '2024-10')).toEqual(['2025-01', '2025-02']);
	expect(ahead('week', '2020-W51')).toEqual(['2021-W01', '2021-W02']);
	expect(ahead('weekday', '2024-02-28')).toEqual(['2024-03-04', '2024-03-05']);
	expect(ahead('day', '2024-02-27')).toEqual(['2024-03-01', '2024-03-02']);
});
