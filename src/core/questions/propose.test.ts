import fc from 'fast-check';
import * as v from 'valibot';
import { describe, expect, test } from 'vitest';
import { seededNormal, seededUniform } from '../numbers/random';
import type { CandidateResult } from './answer';
import { evaluate, evaluateForecast, EvaluateMemory } from './evaluate';
import { propose, proposedOnly, type Proposal, type Tried } from './propose';
import { CandidatesSchema, parseRequest, RequestError } from './request';

const SHAPE = [0.7, 0.8, 1, 1.2, 1.4, 1.3, 1.1, 1, 0.9, 0.85, 0.8, 0.95];
const monthly = (values: (number | null)[], more: object = {}) =>
	propose({ series: { values, frequency: 'month', start: '2020-01' }, horizon: 6, ...more });
const noise = (seed: number) => {
	const normal = seededNormal(seed);
	return (size: number) => size * normal();
};
const seasonal = (seed = 1, periods = 60) => {
	const draw = noise(seed);
	return Array.from({ length: periods }, (_, t) => Math.round((300 + 2 * t) * SHAPE[t % 12]! + draw(12)));
};
const ran = ({ tried }: Proposal) => tried.filter((one): one is Tried & { ok: true } => one.ok);

describe('a proposal', () => {
	const values = seasonal();
	const proposal = monthly(values);

	test('of an item with a season tries methods that know it, best first, and mixes what came close', () => {
		expect(proposal.diagnosis.season?.length).toBe(12);
		const all = ran(proposal);
		expect(all.length).toBeGreaterThanOrEqual(10);
		const relativeError = all.map(({ trial }) => trial.relativeError!);
		expect(relativeError).toEqual([...relativeError].sort((a, b) => a - b));
		expect(all.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 9);
		// Shares fall as the fourth power of relativeError.
		const [first, second] = all as [Tried & { ok: true }, Tried & { ok: true }];
		expect(first.share / second.share).toBeCloseTo((relativeError[1]! / relativeError[0]!) ** 4, 1);
		expect(all.find(({ candidate }) => candidate.method === 'naive')!.trial.relativeError).toBe(1);
		expect(proposal.candidate).toMatchObject({ method: 'combination' });
		expect(proposal.notes.map(({ code }) => code)).toEqual(['proposal-mix', 'proposal-as-good']);
	});

	test('is the same again, and can be put into a line-up and adopted as it is', () => {
		expect(monthly(values)).toEqual(proposal);
		const lineUp = [proposal.candidate!, ...proposal.others];
		expect(v.safeParse(CandidatesSchema, lineUp).success).toBe(true);
		const [mix] = evaluate({
			series: { values, frequency: 'month', start: '2020-01' },
			candidates: lineUp,
			horizon: 6,
		}).candidates as CandidateResult[];
		mix!.ahead.forEach(({ mean, ranges, period }, i) => {
			const said = proposal.ahead[i]!;
			expect(said.period).toBe(period);
			expect(said.mean! / mean!).toBeCloseTo(1, 12);
			for (const level of ['0.8', '0.95'])
				said.ranges[level]!.forEach((end, i) => expect(end / ranges[level]![i]!).toBeCloseTo(1, 9));
		});
	});

	test('alone is what it is in the whole, and its line-up searches and tries nothing anew', () => {
		const memory = new EvaluateMemory();
		const series = { values, frequency: 'month', start: '2020-01' } as const;
		const { candidate, others } = proposedOnly({ series, horizon: 6 }, memory);
		expect([candidate, others]).toEqual([proposal.candidate, proposal.others]);

		const made: string[] = [];
		for (const kept of [memory.fits, memory.trials] as {
			recall(key: string, make: () => unknown): unknown;
		}[]) {
			const recall = kept.recall.bind(kept);
			kept.recall = (key, make) =>
				recall(key, () => {
					made.push(key);
					return make();
				});
		}
		// Read anew, as from a database, and with its settings in another order.
		const request = parseRequest({
			series: { ...series, values: [...values] },
			candidates: JSON.parse(JSON.stringify([candidate!, ...others])),
			horizon: 6,
		});
		const { answer } = evaluateForecast(request, null, memory);
		expect(made).toEqual([]);
		expect(answer).toEqual(evaluateForecast(request, null).answer);
	});

	test('names the simplest of those that are as good as the best within one standard error', () => {
		const all = ran(proposal);
		const single = all[proposal.single]!;
		expect(single).toBeDefined();
		// Nothing that came closer is simpler: ids run from the simplest method to the least simple.
		const place = ({ candidate }: Tried) => Number(candidate.id.slice(1));
		expect(all.slice(0, proposal.single).every((closer) => place(closer) > place(single))).toBe(true);
	});

	test('says how far off it would have been, honestly', () => {
		const { origins, byStep } = proposal.trial!;
		expect(origins).toBe(36);
		const sum = (list: number[]) => list.reduce((a, b) => a + b, 0);
		const inside = sum(byStep.map((step) => step.inside['0.8']!));
		const ranged = sum(byStep.map((step) => step.ranged));
		expect(inside / ranged).toBeGreaterThan(0.7);
	});
});

describe('whatever the series', () => {
	/** Demand of many makes: level, climb, season, noise, zeros, gaps. */
	const made = fc
		.record({
			n: fc.integer({ min: 8, max: 60 }),
			seed: fc.integer({ min: 1, max: 1e6 }),
			climb: fc.constantFrom(0, 0, 3, -6),
			swing: fc.constantFrom(0, 0.3),
			noise: fc.constantFrom(0, 5, 60),
			zeros: fc.constantFrom(0, 0.5),
			gaps: fc.constantFrom(0, 0.2),
			size: fc.constantFrom(1, 1e-5, 1e7),
		})
		.map(({ n, seed, climb, swing, noise, zeros, gaps, size }) => {
			const [normal, uniform] = [seededNormal(seed), seededUniform(seed)];
			return Array.from({ length: n }, (_, t) => {
				const value = (300 + climb * t) * (1 + swing * (SHAPE[t % 12]! - 1)) + noise * normal();
				if (uniform() < gaps && t > 0) return null;
				return uniform() < zeros ? 0 : size * Math.max(0, value);
			});
		});
	const answerOf = (values: (number | null)[], { candidate, others }: Proposal) =>
		evaluate({
			series: { values, frequency: 'month', start: '2020-01' },
			candidates: [candidate!, ...others],
			horizon: 6,
		}).candidates as CandidateResult[];

	test('its candidate says through evaluate what it says itself, lies between its parts, and never below zero', () => {
		fc.assert(
			fc.property(made, (values) => {
				const proposal = monthly(values);
				const [whole, ...parts] = answerOf(values, proposal);
				const size = Math.max(...values.map((value) => Math.abs(value ?? 0)));
				const shares = proposal.tried.reduce((sum, one) => sum + (one.ok ? one.share : 0), 0);
				expect(shares).toBeCloseTo(1, 12);
				proposal.ahead.forEach(({ mean, ranges }, h) => {
					const said = whole!.ahead[h]!;
					expect(Math.abs(mean! - said.mean!)).toBeLessThanOrEqual(1e-9 * size);
					expect(mean!).toBeGreaterThanOrEqual(0);
					for (const [level, range] of Object.entries(ranges)) {
						const other = said.ranges[level] ?? null;
						expect(range === null).toBe(other === null);
						range?.forEach((end, i) => expect(Math.abs(end - other![i]!)).toBeLessThanOrEqual(1e-9 * size));
					}
					const means = parts.map(({ ahead }) => Math.max(0, ahead[h]!.mean!));
					if (means.length === 0) return;
					expect(mean!).toBeGreaterThanOrEqual(Math.min(...means) - 1e-9 * size);
					expect(mean!).toBeLessThanOrEqual(Math.max(...means) + 1e-9 * size);
				});
			}),
			{ numRuns: 60, seed: 7 },
		);
	});

	test('in other units, and from another zero, it is the same', () => {
		fc.assert(
			fc.property(made, fc.constantFrom(0.25, 64), (values, times) => {
				const means = (list: (number | null)[]) => monthly(list).ahead.map(({ mean }) => mean!);
				const size = Math.max(...values.map((value) => Math.abs(value ?? 0)), 1e-9);
				const own = means(values);
				means(values.map((value) => value && value * times)).forEach((mean, h) =>
					expect(Math.abs(mean / times - own[h]!)).toBeLessThanOrEqual(1e-6 * size),
				);
			}),
			{ numRuns: 25, seed: 8 },
		);
		// Without a season nothing multiplies.
		const draw = noise(5);
		const plain = Array.from({ length: 50 }, (_, t) => 400 + 2 * t + draw(20));
		const ahead = (list: number[]) =>
			propose({ series: { values: list, frequency: 'year', start: '1960' }, horizon: 4 }).ahead;
		ahead(plain.map((value) => value + 1000)).forEach(({ mean }, h) =>
			expect(mean! - 1000).toBeCloseTo(ahead(plain)[h]!.mean!, 1),
		);
	});

	test.each([
		['one figure again and again', new Array(30).fill(7)],
		['all zeros', new Array(24).fill(0)],
		['eight periods', [12, 15, 11, 14, 13, 16, 12, 15]],
		['nine of ten missing', Array.from({ length: 60 }, (_, t) => (t % 10 === 4 ? 20 + t : null))],
		['one spike among zeros', Array.from({ length: 40 }, (_, t) => (t === 20 ? 500 : 0))],
	])('%s: a proposal with its reason, and nothing beyond the figures', (_, values) => {
		const { candidate, ahead, notes } = monthly(values);
		const known = values.filter((value) => value !== null);
		expect(candidate).not.toBeNull();
		expect(notes.length).toBeGreaterThan(0);
		for (const { mean } of ahead) {
			expect(mean!).toBeGreaterThanOrEqual(0);
			expect(mean!).toBeLessThanOrEqual(2 * Math.max(...known));
		}
	});

	test('what runs further away than the history ever swung is said', () => {
		const steep = Array.from({ length: 20 }, (_, t) => 100 + 20 * t);
		const yearly = (horizon: number) =>
			propose({ series: { values: steep, frequency: 'year', start: '2010' }, horizon });
		const far = yearly(24);
		expect(far.notes.find(({ code }) => code === 'proposal-runs-far')!.text).toMatch(
			/^The forecast \d+ periods ahead, [\d\u202f]+, is further from the latest figures than the whole history ranges \(380\)/,
		);
		expect(yearly(3).notes.map(({ code }) => code)).not.toContain('proposal-runs-far');
	});
});

describe('where there is little to go by', () => {
	test('nothing that is closer than the last actual by more than noise: that is proposed', () => {
		let naive = 0;
		for (let seed = 1; seed <= 12; seed++) {
			const draw = noise(seed);
			let level = 500;
			const walk = Array.from({ length: 60 }, () => (level += draw(10)));
			const { candidate, others, notes } = monthly(walk);
			if (candidate!.method !== 'naive') continue;
			naive++;
			expect(others).toEqual([]);
			expect(notes[0]!.code).toBe('proposal-naive');
		}
		expect(naive).toBeGreaterThanOrEqual(6);
	});

	test.each([
		['one figure', [5]],
		['three', [5, 6, 7]],
		['hardly any', [null, null, 3, null]],
	])('%s: the last one is repeated, and that is said', (_, values) => {
		const { candidate, ahead, notes, trial } = monthly(values);
		const last = values.findLast((value) => value !== null)!;
		expect(candidate!.method).toBe('naive');
		expect(ahead.map(({ mean }) => mean)).toEqual(new Array(6).fill(last));
		expect(notes.map(({ code }) => code)).toEqual(['proposal-naive']);
		expect(trial!.origins).toBe(0);
	});

	test('a year of nothing: the last one is repeated, for all are as good', () => {
		const { candidate, ahead, notes } = monthly(new Array(12).fill(0));
		expect(candidate!.method).toBe('naive');
		expect(ahead.map(({ mean }) => mean)).toEqual(new Array(6).fill(0));
		expect(notes.map(({ code }) => code).sort()).toEqual(['proposal-as-good', 'proposal-naive']);
	});

	test('a season that was found is not given up for want of earlier periods', () => {
		const strong = (periods: number) => monthly(seasonal(3, periods));
		const none = strong(24);
		expect(none.candidate).toMatchObject({ method: 'seasonal-naive' });
		expect(none.notes[0]!.text).toMatch(/^Too few periods for a trial: seasonal naive is proposed/);
		expect(none.ahead.map(({ mean }) => mean)).toEqual(seasonal(3, 24).slice(12, 18));
		const few = strong(27);
		expect(few.candidate!.method).not.toBe('naive');
		expect(few.trial!.origins).toBeGreaterThan(0);
	});

	test('nothing at all: nothing is proposed', () => {
		const { candidate, single, ahead, tried } = monthly([null, null]);
		expect([candidate, single, ahead]).toEqual([null, -1, []]);
		expect(tried.every(({ ok }) => !ok)).toBe(true);
	});

	test('demand that falls to nothing is not forecast below zero, and demand that was below may be', () => {
		const fall = Array.from({ length: 40 }, (_, t) => Math.max(0, 200 - 5.2 * t + ((t * 7) % 5)));
		for (const { mean } of monthly(fall, { horizon: 12 }).ahead) expect(mean).toBeGreaterThanOrEqual(0);
		const below = monthly(
			fall.map((value) => value - 150),
			{ horizon: 12 },
		);
		expect(below.ahead.at(-1)!.mean).toBeLessThan(0);
	});

	test('a request that cannot be is refused with its place', () => {
		expect(() => propose({ series: { values: [1, 'two'], frequency: 'month', start: '2020-01' } })).toThrow(
			RequestError,
		);
		expect(() => monthly([1, 2], { horizon: -1 })).toThrow(/horizon: the horizon is/);
		expect(() => monthly([1, 2], { criterion: 'luck' })).toThrow(/criterion: the criterion is one of/);
	});
});

describe('of rare demand', () => {
	const uniform = seededUniform(8);
	const values = Array.from({ length: 60 }, () => (uniform() < 0.2 ? 1 + Math.floor(6 * uniform()) : 0));
	const proposal = monthly(values, { horizon: 12 });

	test('only methods that forecast its rate are tried, by squared errors, and something is forecast', () => {
		expect(proposal.diagnosis.rare).toMatchObject({ of: 60, whole: true });
		expect(new Set(ran(proposal).map(({ candidate }) => candidate.method))).toEqual(
			new Set(['average', 'ses', 'croston']),
		);
		const average = ran(proposal).find(({ candidate }) => candidate.method === 'average')!;
		let [own, naive] = [0, 0];
		for (let origin = 24; origin < 60; origin++) {
			const mean = values.slice(0, origin).reduce((a, b) => a + b, 0) / origin;
			for (const value of values.slice(origin, origin + 12)) {
				own += (value - mean) ** 2;
				naive += (value - values[origin - 1]!) ** 2;
			}
		}
		expect(average.trial.relativeError).toBeCloseTo(Math.sqrt(own / naive), 9);
		const rate = values.reduce((a, b) => a + b, 0) / 60;
		for (const { mean } of proposal.ahead) expect(Math.abs(mean! / rate - 1)).toBeLessThan(0.5);
		expect(proposal.notes[0]).toMatchObject({
			code: 'rare-demand',
			text: expect.stringContaining('of 60 months'),
		});
	});

	test('that most periods lie below its rate is no fault of a forecast', () => {
		const few = values.map((value, t) => (t === 0 ? 2 : t % 3 === 0 ? value : 0));
		const [average] = evaluate({
			series: { values: few, frequency: 'month', start: '2020-01' },
			candidates: [{ id: 'a', method: 'average' }],
		}).candidates as CandidateResult[];
		const below = average!.errors!.filter((error) => error !== null && error < 0).length;
		expect(below).toBeGreaterThan(51);
		expect(average!.notes.map(({ code }) => code)).not.toContain('one-sided-errors');
	});

	test('its ranges are whole pieces, the same through evaluate', () => {
		const [mix] = evaluate({
			series: { values, frequency: 'month', start: '2020-01' },
			candidates: [proposal.candidate!, ...proposal.others],
			horizon: 12,
		}).candidates as CandidateResult[];
		expect(mix!.rangeKind).toBe('counts');
		expect(mix!.ahead.map(({ ranges }) => ranges)).toEqual(proposal.ahead.map(({ ranges }) => ranges));
		for (const { ranges } of proposal.ahead)
			for (const end of ranges['0.95']!) expect(Number.isInteger(end) && end >= 0).toBe(true);
	});

	test('before anything can be tried, the average stands in for nothing', () => {
		const { candidate, ahead, notes } = monthly([0, 0, 4, 0, 0, 2]);
		expect(candidate!.method).toBe('average');
		expect(ahead[0]!.mean).toBe(1);
		expect(notes.map(({ code }) => code)).toEqual(['rare-demand', 'proposal-untried']);
	});
});
