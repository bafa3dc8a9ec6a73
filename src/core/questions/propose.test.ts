import * as v from 'valibot';
import { describe, expect, test } from 'vitest';
import { seededNormal } from '../numbers/random';
import type { CandidateResult } from './answer';
import { evaluate } from './evaluate';
import { propose, type Proposal, type Tried } from './propose';
import { CandidatesSchema, RequestError } from './request';

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
		const closeness = all.map(({ trial }) => trial.closeness!);
		expect(closeness).toEqual([...closeness].sort((a, b) => a - b));
		expect(all.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 9);
		// Shares fall as the fourth power of closeness.
		const [first, second] = all as [Tried & { ok: true }, Tried & { ok: true }];
		expect(first.share / second.share).toBeCloseTo((closeness[1]! / closeness[0]!) ** 4, 9);
		expect(all.find(({ candidate }) => candidate.method === 'naive')!.trial.closeness).toBe(1);
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
			// Weights in a line-up are written with two places.
			expect(said.mean! / mean!).toBeCloseTo(1, 4);
			const width = ([low, high]: [number, number]) => high - low;
			expect(width(said.ranges['0.8']!) / width(ranges['0.8']!)).toBeCloseTo(1, 2);
		});
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
		['a year of nothing', new Array(12).fill(0)],
		['hardly any', [null, null, 3, null]],
	])('%s: the last one is repeated, and that is said', (_, values) => {
		const { candidate, ahead, notes, trial } = monthly(values);
		const last = values.findLast((value) => value !== null)!;
		expect(candidate!.method).toBe('naive');
		expect(ahead.map(({ mean }) => mean)).toEqual(new Array(6).fill(last));
		expect(notes.map(({ code }) => code)).toEqual(['proposal-naive']);
		expect(trial!.origins).toBe(0);
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
