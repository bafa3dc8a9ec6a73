import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { seededNormal } from '../numbers/random';
import { type Came, gradesOf, runsOf, type Said, scoreOf } from './grades';
import type { Reason } from './reasons';
import { newestPeriod, statusOf, weighed, whyNotIn } from './status';

const JAN = 2026 * 12;

/** A record that says the same figure for every step, with ranges of ± 10 and ± 20 at 80 % and 95 %. */
const record = (id: number, origin: number, mean: number, more: Partial<Said> = {}, horizon = 6): Said => ({
	id,
	carriedFrom: null,
	saw: id * 10,
	size: 0.8,
	steps: Array.from({ length: horizon }, (_, i) => ({
		step: i + 1,
		period: origin + i + 1,
		mean,
		final: mean,
		ranges: { '0.8': [mean - 10, mean + 10] as const, '0.95': [mean - 20, mean + 20] as const },
		spread: 10,
		naive: 90,
		seasonalNaive: null,
	})),
	...more,
});
const came = (period: number, value: number, change: number, leftOut = false): Came => ({
	period,
	value,
	change,
	leftOut,
});

describe('grades', () => {
	test('each period is held against the newest record that was adopted before it came in', () => {
		const records = [record(1, JAN, 100), record(2, JAN + 1, 120), record(3, JAN + 1, 200)];
		const grades = gradesOf(records, [
			came(JAN + 1, 104, 15),
			// Record 3 was adopted when February was already in.
			came(JAN + 2, 131, 25),
			came(JAN + 3, 300, 45),
			came(JAN + 9, 1, 50),
		]);
		expect(
			grades.map(({ period, record, step, error, inside }) => [period, record, step, error, inside]),
		).toEqual([
			[JAN + 1, 1, 1, 4, 0.8],
			[JAN + 2, 2, 1, 11, 0.95],
			[JAN + 3, 3, 2, 100, null],
		]);
	});

	test('a forecast without a range held nothing outside', () => {
		const base = record(1, JAN, 100);
		const steps = base.steps.map((step) => ({ ...step, ranges: { '0.95': null } }));
		const came1 = [came(JAN + 1, 900, 15)];
		expect(gradesOf([{ ...base, steps }], came1)[0]).toMatchObject({ inside: null, ranged: false });
		expect(gradesOf([base], came1)[0]).toMatchObject({ inside: null, ranged: true });
		expect(statusOf({ records: [{ ...base, steps }], came: came1, leadTime: null }).reasons).toEqual([]);
	});

	test('a revised actual is graded anew, one that is left out is shown and not scored', () => {
		const records = [record(1, JAN, 100)];
		const [before] = gradesOf(records, [came(JAN + 1, 104, 15)]);
		const [after] = gradesOf(records, [came(JAN + 1, 99, 15)]);
		expect([before!.error, after!.error]).toEqual([4, -1]);
		const grades = gradesOf(records, [came(JAN + 1, 104, 15), came(JAN + 2, 900, 16, true)]);
		expect(grades.map(({ scored }) => scored)).toEqual([true, false]);
		expect(scoreOf(grades).final).toMatchObject({ count: 1, mad: 4, bias: 4, cfe: 4, relativeMae: 4 / 14 });
	});

	test('what changes by hand added is counted over all periods and over the changed ones', () => {
		const base = record(1, JAN, 100);
		const steps = base.steps.map((step) => (step.step === 2 ? { ...step, final: 130 } : step));
		const score = scoreOf(gradesOf([{ ...base, steps }], [came(JAN + 1, 110, 15), came(JAN + 2, 126, 16)]));
		// Computed: 10 and 26; final: 10 and 4.
		expect([score.computed.mad, score.final.mad, score.added]).toEqual([18, 7, 11]);
		expect(score.changed).toEqual({ count: 1, added: 22 });
		expect(score.inside).toEqual([
			{ level: 0.8, inside: 1, of: 2 },
			{ level: 0.95, inside: 1, of: 2 },
		]);
	});

	const drawn = fc.record({
		records: fc.array(
			fc.record({
				origin: fc.integer({ min: 0, max: 12 }),
				mean: fc.integer({ min: 50, max: 150 }),
				on: fc.boolean(),
			}),
			{
				minLength: 1,
				maxLength: 8,
			},
		),
		came: fc.uniqueArray(
			fc.record({
				period: fc.integer({ min: 1, max: 18 }),
				value: fc.integer({ min: 0, max: 300 }),
				change: fc.integer({ min: 1, max: 99 }),
			}),
			{ selector: ({ period }) => period, maxLength: 18 },
		),
		shuffle: fc.integer(),
	});
	const built = ({
		records,
		came: list,
	}: {
		records: { origin: number; mean: number; on: boolean }[];
		came: { period: number; value: number; change: number }[];
	}) => ({
		records: records.map(({ origin, mean, on }, i) =>
			record(i + 1, origin, mean, { carriedFrom: on && i > 0 ? i : null }),
		),
		came: list.map(({ period, value, change }) => came(period, value, change)),
	});
	const mixed = <T>(list: readonly T[], seed: number) => {
		const draw = seededNormal(seed);
		return list
			.map((each) => [draw(), each] as const)
			.sort(([a], [b]) => a - b)
			.map(([, each]) => each);
	};

	test('laws: order does not matter, no record is held against what it saw, runs add up to the whole', () => {
		fc.assert(
			fc.property(drawn, (each) => {
				const { records, came } = built(each);
				const grades = gradesOf(records, came);
				expect(gradesOf(mixed(records, each.shuffle), mixed(came, each.shuffle + 1))).toEqual(grades);
				for (const grade of grades) {
					const { saw } = records.find(({ id }) => id === grade.record)!;
					expect(saw).toBeLessThan(came.find(({ period }) => period === grade.period)!.change);
					// And none is newer that could have foretold it.
					const later = records.filter(
						(other) =>
							other.id > grade.record &&
							other.saw < came.find(({ period }) => period === grade.period)!.change,
					);
					expect(later.some(({ steps }) => steps.some(({ period }) => period === grade.period))).toBe(false);
				}
				const runs = [...new Set(runsOf(records).values())];
				const parts = runs.map((run) => scoreOf(grades.filter((grade) => grade.run === run)).computed);
				const whole = scoreOf(grades).computed;
				expect(parts.reduce((sum, { count }) => sum + count, 0)).toBe(whole.count);
				expect(parts.reduce((sum, { cfe }) => sum + (cfe ?? 0), 0)).toBeCloseTo(whole.cfe ?? 0, 8);
				expect(parts.reduce((sum, { mad, count }) => sum + (mad ?? 0) * count, 0)).toBeCloseTo(
					(whole.mad ?? 0) * whole.count,
					8,
				);
			}),
		);
	});
});

describe('status', () => {
	const codes = (reasons: readonly Reason[]) => reasons.map(({ code }) => code);
	/** Twelve closed periods, each carried on, that missed by what is given. */
	const carried = (errors: readonly number[], last: Partial<Said> = {}) => {
		const records = errors.map((_, i) =>
			record(i + 1, JAN + i, 100, { carriedFrom: i === 0 ? null : i, saw: i }, 3),
		);
		const end = record(
			errors.length + 1,
			JAN + errors.length,
			100,
			{ carriedFrom: errors.length, saw: errors.length, ...last },
			3,
		);
		return {
			records: [...records, end],
			came: errors.map((error, i) => came(JAN + i + 1, 100 + error, i + 1)),
			leadTime: null,
		};
	};

	test('a quiet item has no reason; its grades are those of the newest run', () => {
		const status = statusOf(carried([4, -6, 3, -2, 8, -7, 1, -3, 5, -4, 2, -1]));
		expect(codes(status.reasons)).toEqual([]);
		expect([status.grades.length, status.last]).toEqual([12, JAN + 12]);
		const anew = statusOf(carried([4, -6, 3], { carriedFrom: null }));
		expect(anew.grades).toEqual([]);
	});

	test('never adopted, and ran out: with the lead time that the item has', () => {
		expect(
			statusOf({ records: [], came: [came(JAN, 30, 1), came(JAN + 1, 50, 1)], leadTime: null }).reasons,
		).toEqual([{ code: 'no-forecast', stake: 40 }]);
		const quiet = carried([1, -1, 1]);
		expect(codes(statusOf(quiet).reasons)).toEqual([]);
		expect(statusOf({ ...quiet, leadTime: 4 }).reasons).toEqual([
			{ code: 'ran-out', stake: 301 / 3, until: JAN + 6, left: 3, needed: 4 },
		]);
	});

	test('the newest actual outside the widest range, by how much and to which side', () => {
		expect(statusOf(carried([1, -1, 34])).reasons).toEqual([
			expect.objectContaining({ code: 'outside', period: JAN + 3, by: 14, level: 0.95, stake: 34 }),
		]);
		expect(statusOf(carried([1, -1, -34])).reasons[0]).toMatchObject({ by: -14 });
		// An earlier one is no reason to look now.
		expect(codes(statusOf(carried([1, -34, 1])).reasons)).toEqual([]);
	});

	test('drift: since when, to which side, how far, and how seldom an unbiased forecast shows it', () => {
		const { reasons } = statusOf(carried([2, -3, 1, 9, 8, 10, 9, 8, 10, 9, 8, 9]));
		expect(codes(reasons)).toEqual(['drifts']);
		expect(reasons[0]).toMatchObject({ side: 'above', from: JAN + 4 });
		const [drift] = reasons as Extract<Reason, { code: 'drifts' }>[];
		expect(drift!.since).toBeGreaterThan(JAN + 6);
		// Smoothed, they turn with the first 9.
		expect(drift!.off).toBeCloseTo(80 / 9, 9);
		expect(drift!.periods).toBeGreaterThan(200);
		// A stricter limit is no alarm yet.
		expect(codes(statusOf({ ...carried([2, -3, 1, 9, 8, 10, 9, 8]), limit: 0.99 }).reasons)).toEqual([]);
	});

	test('one outlier period is outside its range, and no drift then or later', () => {
		const outlier = [2, -3, 1, 900];
		expect(codes(statusOf(carried(outlier)).reasons)).toEqual(['outside']);
		expect(codes(statusOf(carried([...outlier, 3, -2, 4])).reasons)).toEqual([]);
	});

	test('worse than naive only beyond the noise, and from eight grades on', () => {
		const worse = (count: number) => {
			const quiet = carried(Array.from({ length: count }, (_, i) => (i % 2 ? 9 : -9) + (i % 3)));
			// The last actual was within 2.
			const near = quiet.records.map((each) => ({
				...each,
				steps: each.steps.map((step) => ({ ...step, naive: 100 + ((step.period - JAN - 1) % 2 ? 8 : -8) })),
			}));
			return codes(statusOf({ ...quiet, records: near }).reasons);
		};
		expect([worse(7), worse(12)]).toEqual([[], ['worse-than-naive']]);
	});

	test('ranges that hold too few', () => {
		const errors = Array.from({ length: 12 }, (_, i) => (i % 2 ? 15 : -15)).map((error, i) =>
			i === 11 ? 3 : error,
		);
		const { reasons } = statusOf(carried(errors));
		const off = reasons.find(({ code }) => code === 'ranges-off');
		// One of twelve inside 80 %.
		expect(off).toMatchObject({ level: 0.8, inside: 1, of: 12 });
	});

	test('not in: half or more of a frequency have a period that this one has not', () => {
		const newest = newestPeriod([
			{ last: JAN, items: 3 },
			{ last: JAN + 1, items: 4 },
			{ last: JAN + 5, items: 1 },
		]);
		expect(newest).toEqual({ period: JAN + 1, have: 5, items: 8 });
		expect(whyNotIn(JAN, newest, 7)).toEqual({
			code: 'not-in',
			stake: 7,
			last: JAN,
			newest: JAN + 1,
			have: 5,
			items: 8,
		});
		expect([whyNotIn(JAN + 1, newest, 7), whyNotIn(JAN + 5, newest, 7), newestPeriod([])]).toEqual([
			null,
			null,
			null,
		]);
	});

	test('the weightiest reason comes first', () => {
		const reasons: Reason[] = [
			{ code: 'ranges-off', stake: 9, level: 0.8, inside: 1, of: 12, chance: 0.001 },
			{ code: 'outside', stake: 1, period: JAN, actual: 2, by: 1, level: 0.95, chance: 0.05 },
			{ code: 'no-forecast', stake: 0 },
		];
		expect(codes(weighed(reasons))).toEqual(['no-forecast', 'outside', 'ranges-off']);
	});
});
