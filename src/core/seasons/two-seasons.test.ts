import { describe, expect, test } from 'vitest';
import { seededNormal } from '../numbers/random';
import type { CandidateResult } from '../questions/answer';
import { evaluate, evaluateChecked } from '../questions/evaluate';
import { compute } from '../working/expression';
import { workingTable } from '../questions/working-table';
import { parseRequest } from '../questions/request';

const START = '2021-01-04';
const DAY = 86_400_000;
/** ISO week of a date, counted here from the Thursdays of its year. */
function weekOf(time: number): number {
	const thursday = new Date(time + (3 - ((new Date(time).getUTCDay() + 6) % 7)) * DAY);
	const first = Date.UTC(thursday.getUTCFullYear(), 0, 1);
	return Math.floor((thursday.getTime() - first) / DAY / 7) + 1;
}
const dates = (n: number) => Array.from({ length: n }, (_, t) => Date.parse(START) + t * DAY);
const WEEK = [0.9, 0.95, 1, 1.05, 1.2, 1.1, 0.8];
const daily = (n: number, noise = 0) => {
	const normal = seededNormal(5);
	return dates(n).map(
		(time, t) =>
			1000 * WEEK[t % 7]! * (1 + 0.3 * Math.sin((2 * Math.PI * weekOf(time)) / 52)) * (1 + noise * normal()),
	);
};
const CANDIDATE = {
	id: 'a',
	method: 'deseasonalised',
	season: 'multiplicative',
	index: { rule: 'ratio-to-moving-average', seasons: ['weekday', 'week-of-year'] },
	inner: { method: 'ses', constants: { alpha: 0.1 } },
};
const ask = (values: number[], candidate: object = CANDIDATE, more: object = {}) =>
	evaluate({
		series: { values, frequency: 'day', start: START },
		candidates: [candidate],
		horizon: 28,
		...more,
	}).candidates[0]!;

describe('weekday and week of the year', () => {
	const values = daily(365 * 3 + 20, 0.03);
	const result = ask(values) as CandidateResult;

	test('are taken as a second calculation takes them', () => {
		const n = values.length;
		const mean = (list: number[]) => list.reduce((a, b) => a + b, 0) / list.length;
		/** A centred average over an even number of periods, its ends at half weight, or over an odd one. */
		const centred = (list: number[], length: number, i: number) => {
			const half = Math.floor(length / 2);
			if (i < half || i >= list.length - half) return NaN;
			const within = list.slice(i - half, i + half + 1);
			const ends = length % 2 === 0 ? (within[0]! + within.at(-1)!) / 2 : 0;
			const rest = within.reduce((a, b) => a + b, 0) - 2 * ends + (length % 2 === 0 ? ends : 0);
			return rest / length;
		};
		const slots = dates(n).map((time) => Math.min(52, weekOf(time)) - 1);
		const bySlot = (ratios: number[], slotOf: (i: number) => number, count: number) =>
			Array.from({ length: count }, (_, slot) =>
				mean(ratios.filter((ratio, i) => slotOf(i) === slot && !Number.isNaN(ratio))),
			);
		const toMean1 = (list: number[]) => list.map((index) => index / mean(list));
		const first = toMean1(
			bySlot(
				values.map((value, i) => value / centred(values, 7, i)),
				(i) => i % 7,
				7,
			),
		);
		const left = values.map((value, i) => value / first[i % 7]!);
		const weeks = bySlot(
			left.map((value, i) => value / centred(left, 364, i)),
			(i) => slots[i]!,
			52,
		);
		const second = toMean1(
			weeks.map((_, j) => mean([weeks[(j + 51) % 52]!, weeks[j]!, weeks[(j + 1) % 52]!])),
		);
		result.states!.indices!.forEach((index, j) => expect(index).toBeCloseTo(first[j]!, 9));
		(result.states!.index as number[]).forEach((index, i) =>
			expect(index).toBeCloseTo(first[i % 7]! * second[slots[i]!]!, 9),
		);
		for (const [h, { mean }] of result.ahead.entries()) {
			const time = Date.parse(START) + (n + h) * DAY;
			const level =
				result.ahead[0]!.mean! /
				(first[n % 7]! * second[Math.min(52, weekOf(Date.parse(START) + n * DAY)) - 1]!);
			expect(mean).toBeCloseTo(level * first[(n + h) % 7]! * second[Math.min(52, weekOf(time)) - 1]!, 6);
		}
	});

	test('forecast days that have both better than one season does', () => {
		const one = ask(
			values,
			{ ...CANDIDATE, index: { rule: 'ratio-to-moving-average' } },
			{ trial: { horizon: 28 } },
		);
		const two = ask(values, CANDIDATE, { trial: { horizon: 28 } });
		const mad = (answer: typeof one) => (answer as CandidateResult).trial!.measures.mad!;
		expect(mad(two)).toBeLessThan(0.8 * mad(one));
	});

	test('week 53 takes week 52’s, and added seasons sum to nothing', () => {
		// 2026 has a week 53.
		const long = daily(365 * 5 + 363);
		const states = (ask(long) as CandidateResult).states!;
		const at = (day: string) => (states['index 2'] as number[])[(Date.parse(day) - Date.parse(START)) / DAY];
		expect(at('2026-12-29')).toBe(at('2026-12-22'));
		const added = ask(values, { ...CANDIDATE, season: 'additive' }) as CandidateResult;
		const seconds = Object.entries(added.states!.figures!).filter(([key]) => key.startsWith('second'));
		expect(seconds).toHaveLength(52);
		expect(seconds.reduce((sum, [, index]) => sum + index, 0)).toBeCloseTo(0, 6);
	});

	test('every figure is spelled out', () => {
		const request = parseRequest({
			series: { values, frequency: 'day', start: START },
			candidates: [CANDIDATE],
			horizon: 8,
		});
		const one = evaluateChecked(request).candidates[0]!;
		if (!one.ok) throw new Error('did not run');
		const table = workingTable(request, one);
		const index = table.columns.find(({ key }) => key === 'index')!;
		expect(compute(index.explain(400)!.expression)).toBeCloseTo(one.perPeriod!.states.index![399]!, 9);
		expect(index.explain(400)!.expression).toMatchObject({ kind: 'apply', operator: '×' });
		expect(compute(table.explainAhead(3)!.expression)).toBeCloseTo(one.ahead[2]!.mean!, 6);
	});

	test('need a year of days, and only days with a season of seven have them', () => {
		expect(ask(daily(200))).toMatchObject({
			ok: false,
			notes: [{ code: 'too-few-cycles', figures: { needs: 364 } }],
		});
		const [months] = evaluate({
			series: { values: daily(60), frequency: 'month', start: '2020-01' },
			candidates: [CANDIDATE],
		}).candidates;
		expect(months).toMatchObject({ ok: false, notes: [{ code: 'no-such-seasons' }] });
		const levels = ask(values, {
			id: 'a',
			method: 'seasonal-index',
			season: 'additive',
			index: CANDIDATE.index,
		});
		expect(levels).toMatchObject({ ok: false, notes: [{ code: 'one-season' }] });
		expect(() => ask(values, { ...CANDIDATE, index: { ...CANDIDATE.index, shrink: true } })).toThrow(
			/none of them held or shrunk/,
		);
		expect(() =>
			ask(values, { ...CANDIDATE, index: { ...CANDIDATE.index, seasons: ['weekday', 'month'] } }),
		).toThrow(/two seasons at once are/);
	});
});

test('hours have an hour of day and a weekday', () => {
	const n = 24 * 7 * 6;
	const values = Array.from(
		{ length: n },
		(_, t) => 100 * (1 + 0.5 * Math.sin((t * Math.PI) / 12)) * WEEK[Math.floor(t / 24) % 7]!,
	);
	const [answer] = evaluate({
		series: { values, frequency: 'hour', start: `${START}T00` },
		candidates: [
			{ ...CANDIDATE, index: { rule: 'ratio-to-moving-average', seasons: ['hour-of-day', 'weekday'] } },
		],
		horizon: 48,
	}).candidates as CandidateResult[];
	const level = (t: number) => 100 * (1 + 0.5 * Math.sin((t * Math.PI) / 12)) * WEEK[Math.floor(t / 24) % 7]!;
	answer!.ahead.forEach(({ mean }, h) => expect(mean! / level(n + h)).toBeCloseTo(1, 1));
});
