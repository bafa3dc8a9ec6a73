import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Answer, CandidateResult, Evaluated } from './answer';
import { METHODS as ALL_METHODS } from '../methods/registry';
import { evaluate, evaluateChecked, evaluateForecast, meansAhead } from './evaluate';
import { parseRequest } from './request';
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

test('a forecast by itself is what it is in the whole answer, beside those that cannot run too', () => {
	const values = [12, 15, 11, 14, 18, 13, 17, 16, 20, 15, 19, 21];
	const candidates = [
		{ id: 'mix', method: 'combination', of: ['best', 'line'] },
		...METHODS,
		{ id: 'too long', method: 'moving-average', span: 40 },
	];
	const asked = { series: { values, frequency: 'step' }, candidates, aside: ['drift'] };
	const request = parseRequest(asked);
	const { candidates: all } = evaluateChecked(request);
	const { answer, constants, missed } = evaluateForecast(request, 'best');
	expect(answer).toEqual({ ...all[0], notes: [] });
	expect(constants).toEqual(all.map((each) => (each.ok ? each.constants : {})));
	const tried = evaluateChecked(parseRequest({ ...asked, trial: {} })).candidates;
	const missedOf = (id: string) => tried.find((each) => each.id === id && each.ok) as CandidateResult;
	expect(missed).toEqual({ own: missedOf('mix').trial!.missed, beside: missedOf('best').trial!.missed });
	expect(evaluateForecast(request, 'too long').missed).toBeNull();
	const alone = parseRequest({ ...asked, candidates: [candidates.at(-1)!], aside: [] });
	expect(evaluateForecast(alone, null).answer).toMatchObject({
		ok: false,
		notes: [{ figures: { has: 12 } }],
	});
	expect(meansAhead(request)[0]).toEqual((all[0] as Evaluated).ahead.map(({ mean }) => mean));
});

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
					// One percentage of an actual of 1 may be in the thousands.
					near(a.measures.own.mape, b.measures.own.mape, Math.max(1e4, 10 * (a.measures.own.mape ?? 0)));
					near(a.measures.own.trackingSignal, b.measures.own.trackingSignal, 1e4);
					const [own, larger] = [a.ahead[3]!.ranges['0.95'], b.ahead[3]!.ranges['0.95']];
					expect(own === null).toBe(larger === null);
					if (own && larger) near(own[0] * scale, larger[0], 1e5 * scale);
				}
			}),
			{ numRuns: 40 },
		);
	});

	test('a constant series is forecast as itself', () => {
		for (const { id } of METHODS) {
			const candidate = result(ask(new Array(20).fill(70)), id);
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
		const outlier = [40, 42, 41, 999, 43, 40, 42];
		const series = { values: outlier, frequency: 'step', excluded: [4] };
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
		expect(ahead.relativeMae).toBe(1);
		expect(result(held, 'naive').ahead[0]!.mean).toBe(51);
	});
});

describe('a trial', () => {
	const wandering = Array.from({ length: 30 }, (_, t) => 200 + ((t * 29) % 37) + (t > 14 ? 60 : 0));
	const trialOf = (candidate: object, trial: object = {}) =>
		result(ask(wandering, { candidates: [{ id: 'x', ...candidate }], trial }), 'x').trial!;

	test('leaves out origins where nothing had come in yet: there was nothing to repeat', () => {
		const late = [...new Array<null>(12).fill(null), 34, 41, 38, 45, 37];
		const given = { method: 'ses', start: { rule: 'given', at: 0, level: 40 } };
		const { trial } = result(ask(late, { candidates: [{ id: 'x', ...given }], trial: { horizon: 6 } }), 'x');
		expect(trial!.missed.map(({ origin }) => origin)).toEqual([13, 14, 15, 16]);
	});

	test('goes through the latest origins from the eighth period on, step by step, against the naive forecast', () => {
		const full = [34, 41, 38, 45, 37, 52, 49, 44, 58, 51, 47];
		const { trial } = result(
			ask(full, { candidates: [{ id: 'x', method: 'average' }], trial: { horizon: 2 }, levels: [0.8] }),
			'x',
		);
		const mean = (count: number) => full.slice(0, count).reduce((a, b) => a + b, 0) / count;
		const ahead = (step: number) =>
			[8, 9, 10]
				.filter((origin) => origin + step <= full.length)
				.map((origin) => ({
					own: Math.abs(full[origin + step - 1]! - mean(origin)),
					naive: Math.abs(full[origin + step - 1]! - full[origin - 1]!),
				}));
		const sum = (list: number[]) => list.reduce((a, b) => a + b, 0);
		expect(trial!.origins).toBe(3);
		for (const step of [1, 2]) {
			const errors = ahead(step);
			const scored = trial!.byStep[step - 1]!;
			// With so few errors ranges are those of the series’ own changes.
			expect([scored.step, scored.count, scored.ranged]).toEqual([step, errors.length, errors.length]);
			expect(scored.mad).toBeCloseTo(sum(errors.map(({ own }) => own)) / errors.length, 12);
			expect(scored.relativeError).toBeCloseTo(
				sum(errors.map(({ own }) => own)) / sum(errors.map(({ naive }) => naive)),
				12,
			);
		}
		const root = Math.sqrt(sum(ahead(1).map(({ own }) => own ** 2)) / 3);
		expect(trial!.byStep[0]!.rms).toBeCloseTo(root, 12);
		expect(trial!.byStep[1]!.rms!).toBeGreaterThanOrEqual(root);
	});

	test('of so many origins, and no more than there are', () => {
		expect(trialOf({ method: 'naive' }).origins).toBe(22);
		expect(trialOf({ method: 'naive' }, { origins: 5 }).origins).toBe(5);
		expect(trialOf({ method: 'moving-average', span: 14 }).origins).toBe(16);
		expect(trialOf({ method: 'naive' }).byStep[0]!.relativeError).toBe(1);
	});

	test('has seen nothing of what came later, whatever the method: it is what a shorter series would have said', () => {
		const seasonal = Array.from(
			{ length: 30 },
			(_, t) => 200 + 3 * t + [30, -10, -40, 20][t % 4]! + ((t * 29) % 17),
		);
		const candidates = [
			...ALL_METHODS.filter(({ id }) => id !== 'combination').map(({ id, fields, constants }) => ({
				id,
				method: id,
				...Object.fromEntries(fields.map(({ key, initial }) => [key, initial])),
				...(constants.length > 0 && { optimise: {} }),
			})),
			{ id: 'lagging', method: 'holt', start: { rule: 'line' }, optimise: {} },
			{ id: 'mixed', method: 'combination', of: ['holt', 'seasonal-index'], weights: 'equal' },
		];
		const quarterly = (values: number[], more: object) =>
			evaluate({
				series: { values, frequency: 'quarter', start: '2018-Q1' },
				horizon: 3,
				levels: [0.8],
				...more,
			});
		const whole = quarterly(seasonal, { candidates, trial: { horizon: 3 } });
		const held = candidates.map((candidate) => {
			const { constants } = result(whole, candidate.id);
			return Object.keys(constants).length === 0
				? candidate
				: 'inner' in candidate
					? { ...candidate, inner: { ...(candidate.inner as object), constants, optimise: undefined } }
					: { ...candidate, constants, optimise: undefined };
		});
		const sums = new Map(candidates.map(({ id }) => [id, [0, 0, 0]]));
		for (let origin = 8; origin < 30; origin++) {
			const then = quarterly(seasonal.slice(0, origin), { candidates: held });
			for (const { id } of candidates)
				result(then, id).ahead.forEach(({ mean }, h) => {
					if (origin + h < 30) sums.get(id)![h]! += Math.abs(seasonal[origin + h]! - mean!);
				});
		}
		for (const { id } of candidates) {
			const { byStep } = result(whole, id).trial!;
			byStep.forEach(({ count, mad }, h) => {
				expect(count, id).toBe(22 - h);
				expect(mad! / (sums.get(id)![h]! / count), `${id}, ${h + 1} ahead`).toBeCloseTo(1, 9);
			});
		}
	});

	test('with constants found again at each origin is another one than with those of today', () => {
		// The best constant of the whole series has seen the step half way; the early origins have not.
		const searched = { method: 'ses', optimise: {} };
		expect(trialOf(searched, { refit: true }).byStep[0]!.mad).not.toBe(trialOf(searched).byStep[0]!.mad);
		expect(trialOf({ method: 'naive' }, { refit: true })).toEqual(trialOf({ method: 'naive' }));
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
		expect(codes(answer, 'first')).toEqual(expect.arrayContaining(['alarm', 'one-sided-errors']));
		const bound = result(answer, 'best').notes.find(({ code }) => code === 'constant-at-bound')!;
		expect(bound.figures).toEqual({ constant: 'alpha', value: 1 });
		expect(bound.text).toContain('naive');
		expect(result(answer, 'best').search!.atBound).toEqual(['alpha']);
		expect(codes(answer, 'average')).toContain('no-better-than-naive');
		expect(codes(answer, 'drift')).toContain('no-errors');
	});

	test('zeros are left out of the percentage error and said so', () => {
		const answer = ask([5, 0, 7, 0, 6, 8, 0, 5, 6, 0, 4, 7, 0, 8, 5, 6, 7, 4]);
		const { mapeCount, count } = result(answer, 'naive').measures.own;
		expect([mapeCount, count]).toEqual([12, 17]);
		expect(codes(answer, 'naive')).toContain('percentage-error-incomplete');
	});

	test('a last actual outside its own range, a trend carried far, a lead within noise', () => {
		const calm = Array.from({ length: 24 }, (_, t) => 50 + ((t * 7) % 4));
		expect(codes(ask([...calm, 300]), 'first')).toContain('last-actual-outside-range');
		// A range from few errors flags nothing.
		expect(codes(ask([...calm.slice(0, 11), 300]), 'first')).not.toContain('last-actual-outside-range');
		expect(codes(ask([50, 52, 55, 57, 61, 60], { horizon: 6 }), 'drift')).toContain('trend-carried-far');
		const noise = ask([34, 41, 38, 45, 37, 52, 49, 44, 58, 51, 47, 60]);
		expect(
			noise.candidates.some((entry) => entry.notes.some(({ code }) => code === 'lead-may-be-chance')),
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

describe('periods held back', () => {
	const values = Array.from(
		{ length: 48 },
		(_, t) => 400 + 3 * t + 60 * Math.sin((t * Math.PI) / 6) + ((t * 7919) % 41),
	);
	const asked = (series: number[], more: object) =>
		evaluate({
			series: { values: series, frequency: 'month', start: '2020-01' },
			candidates: [
				{ id: 'w', method: 'holt-winters', season: 'additive', optimise: {} },
				{ id: 's', method: 'ses', constants: { alpha: 0.4 } },
				{ id: 'n', method: 'naive' },
			],
			horizon: 6,
			...more,
		});

	test('are forecast at the cut as if nothing after it were known, ranges and all', () => {
		const before = asked(values.slice(0, 36), { horizon: 12 }).candidates as CandidateResult[];
		const held = asked(values, { holdout: 12 }).candidates as CandidateResult[];
		held.forEach(({ heldBack, measures }, i) => {
			expect(heldBack).toHaveLength(12);
			heldBack!.forEach(({ mean, ranges, period }, h) => {
				const wanted = before[i]!.ahead[h]!;
				expect(period).toBe(wanted.period);
				expect(mean).toBeCloseTo(wanted.mean!, 9);
				// A trial of six steps widens what lies beyond them; those it knows are the same.
				if (h < 6) ranges['0.8']!.forEach((end, k) => expect(end).toBeCloseTo(wanted.ranges['0.8']![k]!, 6));
			});
			const misses = heldBack!.map(({ mean }, h) => Math.abs(values[36 + h]! - mean!));
			expect(measures.holdout!.ahead.mad).toBeCloseTo(misses.reduce((a, b) => a + b, 0) / 12, 9);
		});
		// Step by step, naive repeats the actual before each.
		expect(held[2]!.heldBack!.map(({ oneStep }) => oneStep)).toEqual(values.slice(35, 47));
	});

	test('whoever misses least of them is said to lead by that reading, and by a trial where one is asked for', () => {
		const request = parseRequest({
			series: { values, frequency: 'month', start: '2020-01' },
			candidates: [
				{ id: 'w', method: 'holt-winters', season: 'additive', optimise: {} },
				{ id: 's', method: 'ses', constants: { alpha: 0.4 } },
				{ id: 'n', method: 'naive' },
			],
			holdout: 12,
			horizon: 6,
			trial: { horizon: 6 },
		});
		const { leads, candidates } = evaluateChecked(request);
		const least = (madOf: (one: Evaluated) => number | null) =>
			(candidates as Evaluated[]).toSorted((a, b) => madOf(a)! - madOf(b)!)[0]!.id;
		expect(leads.ahead!.id).toBe(least(({ measures }) => measures.holdout!.ahead.mad));
		expect(leads['step-by-step']!.id).toBe(least(({ measures }) => measures.holdout!.oneStep.mad));
		expect(leads.trial!.id).toBe(least(({ trial }) => trial!.measures.mad));
		expect(leads.ahead!.note.text).toMatch(/ of the holdout: may be chance|: a clear difference/);
		expect(evaluateChecked({ ...request, holdout: 0, trial: null }).leads).toMatchObject({ common: {} });
	});

	test('a trial measured as a whole is the sum of its steps', () => {
		for (const one of asked(values, { trial: { horizon: 6 } }).candidates as CandidateResult[]) {
			const { byStep, measures } = one.trial!;
			const count = byStep.reduce((sum, step) => sum + step.count, 0);
			expect(measures.count).toBe(count);
			expect(measures.mad! * count).toBeCloseTo(
				byStep.reduce((sum, { mad, count }) => sum + mad! * count, 0),
				6,
			);
			const naive = byStep.reduce((sum, step) => sum + step.naive! * step.count, 0);
			expect(measures.relativeMae!).toBeCloseTo((measures.mad! * count) / naive, 9);
		}
	});
});

test('candidates that stand aside are neither compared nor do they narrow what the others share', () => {
	const values = Array.from({ length: 40 }, (_, t) => 200 + 2 * t + ((t * 37) % 19));
	const asked = (more: object) =>
		evaluate({
			series: { values, frequency: 'month', start: '2020-01' },
			candidates: [
				{ id: 'n', method: 'naive' },
				{ id: 's', method: 'ses', constants: { alpha: 0.4 } },
				{ id: 'late', method: 'moving-average', span: 24 },
				{ id: 'd', method: 'drift' },
			],
			...more,
		});
	expect(asked({}).window).toEqual({ from: 25, to: 40, count: 16 });
	const answer = asked({ aside: ['late', 'd'] });
	expect(answer.window).toEqual({ from: 2, to: 40, count: 39 });
	const notes = answer.candidates.flatMap(({ notes }) =>
		notes.filter(({ code }) => code.startsWith('lead-')),
	);
	expect(notes).toHaveLength(1);
	expect(['n', 's']).toContain(notes[0]!.figures.runnerUp);
	const [, , late] = answer.candidates as CandidateResult[];
	expect(late!.measures.common.count).toBe(16);
	expect(() => asked({ aside: ['x'] })).toThrow(/aside stand candidates of this request/);
});

test('what is to be in stock for the next periods lies as far above their sum as the range of twice that chance', () => {
	const values = Array.from({ length: 40 }, (_, t) => 200 + ((t * 37) % 59));
	const asked = (service: number | null) =>
		(
			evaluate({
				series: { values, frequency: 'month', start: '2020-01' },
				candidates: [{ id: 'a', method: 'average' }],
				horizon: 4,
				levels: [0.9],
				...(service !== null && { service }),
			}).candidates as CandidateResult[]
		)[0]!.together;
	asked(0.95).forEach(({ stock, ranges }) => expect(stock).toBeCloseTo(ranges['0.9']![1], 9));
	asked(0.5).forEach(({ stock, mean }) => expect(stock).toBeCloseTo(mean!, 9));
	expect(asked(null)[0]).not.toHaveProperty('stock');
	expect(() => asked(1)).toThrow(/service: the service level/);
});
