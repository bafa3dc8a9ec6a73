import { describe, expect, test } from 'vitest';
import { seededNormal } from '../numbers/random';
import { evaluate } from '../questions/evaluate';
import { propose } from '../questions/propose';
import { firstPeriods, prepareSeries, type SeriesInput } from '../series/series';
import { indicesOf } from './lent';

const SEASON = [0.4, 0.5, 0.8, 1.1, 1.3, 1.5, 1.6, 1.4, 1.2, 0.9, 0.7, 0.6];
/** Months of a level by a season, with noise. */
function months(periods: number, level: number, noise: number, seed: number): number[] {
	const normal = seededNormal(seed);
	return Array.from({ length: periods }, (_, t) => level * SEASON[t % 12]! * (1 + noise * normal()));
}
const MONTHS = 60;
const GROUP = { name: 'Tyres', values: months(MONTHS, 900, 0.03, 1), start: '2020-01' };
const ITEM = months(MONTHS, 30, 0.1, 2);
/** The item as it would be had it been there for so many months, to December 2024. */
function item(known: number): SeriesInput {
	const at = MONTHS - known;
	const start = `${2020 + Math.floor(at / 12)}-${String((at % 12) + 1).padStart(2, '0')}`;
	return { values: ITEM.slice(at), frequency: 'month', start, group: GROUP };
}
const RULE = { rule: 'ratio-to-moving-average' } as const;
const indices = (
	input: SeriesInput,
	lent?: 'group' | 'both',
	kind: 'multiplicative' | 'additive' = 'multiplicative',
) => indicesOf(prepareSeries(input, 'skip'), kind, { ...RULE, ...(lent && { lent }) });
const group = indices({ ...GROUP, frequency: 'month' });

const candidate = (lent: 'group' | 'both', inner: object = { method: 'average' }) => ({
	id: 'a',
	method: 'deseasonalised',
	season: 'multiplicative',
	index: { ...RULE, lent },
	inner,
});
const answerOf = (series: SeriesInput, more: object) => {
	const [own] = evaluate({ series, candidates: [more], horizon: 12 } as never).candidates;
	return own!;
};

describe('indices that a group lends', () => {
	test('are the group’s, whatever the item sold and however little', () => {
		for (const known of [3, 7, 20]) expect(indices(item(known), 'group').after).toEqual(group.after);
	});

	test('an added season is in proportion to what the item sells of the group', () => {
		const added = indices({ ...GROUP, frequency: 'month' }, undefined, 'additive').after;
		const [own, whole] = [ITEM.slice(-7), GROUP.values.slice(-7)].map((each) =>
			each.reduce((a, b) => a + b, 0),
		) as [number, number];
		indices(item(7), 'group', 'additive').after.forEach((index, j) =>
			expect(index).toBeCloseTo((added[j]! * own) / whole, 9),
		);
	});

	test('moved towards the item’s own by as much as its scatter lets these be told from them', () => {
		const own = indices(item(30));
		const both = indices(item(30), 'both');
		// Worked out again: ratios about their season’s mean, pooled.
		let [scatter, count] = [0, 0];
		const means = own.averages;
		own.ratios.forEach((ratio, i) => {
			if (Number.isNaN(ratio)) return;
			scatter += (ratio - means[(MONTHS - 30 + i) % 12]!) ** 2;
			count++;
		});
		const away = own.after.reduce((sum, index, j) => sum + (index - group.after[j]!) ** 2, 0);
		const weight = Math.max(0, 1 - (9 * (scatter / (count - 12))) / ((count / 12) * away));
		expect(both.weight).toBeCloseTo(weight, 9);
		both.after.forEach((index, j) =>
			expect(index).toBeCloseTo(group.after[j]! + weight * (own.after[j]! - group.after[j]!), 9),
		);
		expect(both.after.reduce((a, b) => a + b, 0)).toBeCloseTo(12, 9);
	});

	test('below two cycles the item’s own cannot be told from them', () => {
		expect(indices(item(20), 'both').after).toEqual(group.after);
	});

	test('a forecast from an earlier origin knows of the group what was known then', () => {
		const series = prepareSeries(item(20), 'skip');
		const then = firstPeriods(series, 12);
		expect(then.group!.values).toHaveLength(MONTHS - 8);
		const known = GROUP.values.slice(0, MONTHS - 8);
		expect(indicesOf(then, 'multiplicative', { ...RULE, lent: 'group' }).after).toEqual(
			indices({ values: known, frequency: 'month', start: '2020-01' }).after,
		);
		// What came later changes nothing that was forecast before.
		const changed = { ...GROUP, values: GROUP.values.map((each, t) => (t < MONTHS - 8 ? each : 9 * each)) };
		const trial = (input: SeriesInput) => {
			const answer = evaluate({ series: input, candidates: [candidate('group')], trial: {} } as never);
			const [own] = answer.candidates;
			return own!.ok ? own!.trial!.missed.find(({ origin }) => origin === 12) : null;
		};
		expect(trial({ ...item(20), group: changed })).toEqual(trial(item(20)));
	});
});

describe('a forecast by them', () => {
	test('is the mean of the figures without the season, with the season put back', () => {
		const known = 7;
		const answer = answerOf(item(known), candidate('group'));
		if (!answer.ok) throw new Error('it runs');
		const bare = ITEM.slice(-known).map((value, i) => value / group.after[(MONTHS - known + i) % 12]!);
		const level = bare.reduce((a, b) => a + b, 0) / known;
		answer.ahead.forEach(({ mean }, h) => expect(mean).toBeCloseTo(level * group.after[h % 12]!, 9));
		expect(answer.notes.find(({ code }) => code === 'season-lent')?.text).toContain('Tyres');
	});

	test('says what it needs where no group is known, or it is too new itself', () => {
		const alone = answerOf({ ...item(7), group: undefined }, candidate('group'));
		expect(alone.ok ? [] : alone.notes.map(({ code }) => code)).toEqual(['no-group-season']);
		const short = { ...GROUP, values: GROUP.values.slice(-20), start: '2023-05' };
		const new_ = answerOf({ ...item(7), group: short }, candidate('both'));
		expect(new_.ok ? '' : new_.notes[0]!.text).toMatch(/“Tyres” has 20 periods/);
	});

	test('indices held or typed are not lent', () => {
		const typed = { ...candidate('group'), index: { ...RULE, lent: 'group', shrink: true } };
		expect(() => answerOf(item(7), typed)).toThrow(/a group lends/);
	});
});

describe('what is proposed for an item that is too new to show a season', () => {
	const missed = (series: SeriesInput) => {
		const came = months(MONTHS + 12, 30, 0, 2).slice(MONTHS);
		return propose({ series, horizon: 12 } as never).ahead.reduce(
			(sum, { mean }, h) => sum + Math.abs(came[h]! - mean!),
			0,
		);
	};
	test.each([5, 7, 14, 20])('of %i months: the season of its group, and it is said', (known) => {
		const proposal = propose({ series: item(known), horizon: 12 } as never);
		expect(proposal.notes[0]!.code).toBe('proposal-lent');
		const asked = [proposal.candidate!, ...proposal.others];
		expect(asked.some((each) => 'index' in each && each.index?.lent === 'group')).toBe(true);
		expect(missed(item(known))).toBeLessThan(0.7 * missed({ ...item(known), group: undefined }));
	});

	test('of three cycles its own season is enough, and a group without one lends nothing', () => {
		const codes = (series: SeriesInput) =>
			propose({ series, horizon: 12 } as never).notes.map(({ code }) => code);
		expect(codes(item(36))).not.toContain('proposal-lent');
		const flat = { ...GROUP, values: GROUP.values.map((_, t) => 900 + ((t * 7919) % 101)) };
		expect(codes({ ...item(7), group: flat })).not.toContain('proposal-lent');
	});
});
