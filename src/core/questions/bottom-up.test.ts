import { describe, expect, test } from 'vitest';
import { seededNormal } from '../numbers/random';
import { parsePeriod } from '../series/period';
import type { Candidate } from '../methods/registry';
import { directBesideSum, forecastsFrom, latestOrigins } from './bottom-up';
import { parseRequest } from './request';

const END = parsePeriod('month', '2024-12');
const HORIZON = 3;
const request = (values: (number | null)[], candidate: Omit<Candidate, 'id'>) => {
	const first = 2024 * 12 + 11 - (values.length - 1);
	const start = `${Math.floor(first / 12)}-${String((first % 12) + 1).padStart(2, '0')}`;
	return parseRequest({
		series: { values, frequency: 'month', start },
		candidates: [{ id: 'a', ...candidate }],
		horizon: HORIZON,
	});
};
const naive = { method: 'naive' } as const;
const average = { method: 'average' } as const;
const ORIGINS = latestOrigins(END);
const rowAt = (rows: readonly Float64Array[], origin: string) => [
	...rows[parsePeriod('month', origin) - ORIGINS.from]!,
];
const whole = Array.from({ length: 48 }, (_, t) => 100 + 10 * (t % 5));

describe('what would have been forecast from earlier origins', () => {
	test('is what was known there says, as far as there are actuals', () => {
		const rows = forecastsFrom(request(whole, average), 'a', ORIGINS, true);
		expect(rows).toHaveLength(36);
		const known = whole.slice(0, 36);
		const mean = known.reduce((a, b) => a + b, 0) / 36;
		expect(rowAt(rows, '2023-12')).toEqual([mean, mean, mean].map((each) => expect.closeTo(each, 9)));
	});

	test('repeats the last actual where it cannot be tried yet, and adds nothing before it began', () => {
		const young = whole.slice(-10);
		const rows = forecastsFrom(request(young, average), 'a', ORIGINS, true);
		expect(rowAt(rows, '2024-01')).toEqual([0, 0, 0]);
		expect(rowAt(rows, '2024-05')).toEqual([young[2], young[2], young[2]]);
		expect(rowAt(rows, '2024-11')[0]).toBeCloseTo(young.slice(0, 9).reduce((a, b) => a + b, 0) / 9, 9);
	});

	test('a group has none where it cannot be tried yet', () => {
		const rows = forecastsFrom(request(whole.slice(-10), average), 'a', ORIGINS, false);
		expect(rowAt(rows, '2024-09')).toEqual([NaN, NaN, NaN]);
		expect(rowAt(rows, '2024-10')[0]).not.toBeNaN();
	});

	test('adds nothing after the item has ended', () => {
		const { series, ...rest } = request(whole, naive);
		const ended = { ...rest, series: { ...series, values: series.values.slice(0, 40) } };
		expect(rowAt(forecastsFrom(ended, 'a', ORIGINS, true), '2024-06')).toEqual([0, 0, 0]);
	});
});

describe('a group forecast as one, beside the sum of its items’ forecasts', () => {
	const normal = seededNormal(5);
	const items = [0, 1, 2].map((i) => Array.from({ length: 60 }, () => 50 * (i + 1) + 15 * normal()));
	const total = items[0]!.map((_, t) => items.reduce((sum, each) => sum + each[t]!, 0));
	const summed = (candidate: Omit<Candidate, 'id'>) => {
		const rows = items.map((values) => forecastsFrom(request(values, candidate), 'a', ORIGINS, true));
		return rows[0]!.map((row, place) =>
			row.map((_, h) => rows.reduce((sum, each) => sum + each[place]![h]!, 0)),
		);
	};
	const beside = (own: Omit<Candidate, 'id'>, theirs: Omit<Candidate, 'id'>) => {
		const asked = request(total, own);
		return directBesideSum(asked, forecastsFrom(asked, 'a', ORIGINS, false), summed(theirs), ORIGINS)!;
	};

	test('misses by the same where both say the same', () => {
		expect(beside(naive, naive)).toMatchObject({ count: 36, gain: 0 });
	});

	test('is closer where it is, by the share of what both missed by', () => {
		const { gain } = beside(average, naive);
		let [own, theirs] = [0, 0];
		for (let known = 24; known < 60; known++) {
			const mean = total.slice(0, known).reduce((a, b) => a + b, 0) / known;
			for (const actual of total.slice(known, known + HORIZON)) {
				own += Math.abs(actual - mean);
				theirs += Math.abs(actual - total[known - 1]!);
			}
		}
		expect(gain).toBeCloseTo(1 - own / theirs, 9);
		expect(gain).toBeGreaterThan(0.1);
		expect(beside(naive, average).gain).toBeLessThan(-0.1);
	});
});
