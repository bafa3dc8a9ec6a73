import { describe, expect, test } from 'vitest';
import { claimsOfSeasonless, measureLooking, panel } from '../../../bench/rates/looking';
import { seededNormal } from '../numbers/random';
import { parsePeriod } from '../series/period';
import { CALENDAR_SEASON_LENGTH, type Frequency } from '../series/frequency';
import { seasonName } from '../series/season-name';
import { centredLevel, diagnose } from './diagnosis';
import { diagnosisWords } from '../words/diagnosis';

/** As the screen asks: every length, or the one that was set by hand. */
const look = (values: (number | null)[], frequency: Frequency, wanted: number | null = null) =>
	diagnose(values, {
		frequency,
		expected: wanted ?? CALENDAR_SEASON_LENGTH[frequency],
		only: wanted !== null,
	});

const normal = seededNormal(5);
const noise = (n: number, size: number) => Array.from({ length: n }, () => size * normal());
const months = (n: number, value: (t: number) => number, size = 2) =>
	noise(n, size).map((error, t) => value(t) + error);
const words = (
	values: (number | null)[],
	frequency: 'month' | 'quarter' | 'day' | 'step' = 'month',
	wanted: number | null = null,
) =>
	diagnosisWords(look(values, frequency, wanted), {
		frequency,
		first: frequency === 'month' ? parsePeriod('month', '2020-01') : 1,
		level: 100,
		firstSeason: 1,
		seasonLength: 12,
	});
const said = (values: (number | null)[], code: string) =>
	words(values).find((statement) => statement.code === code);

describe('a first look', () => {
	test('a plain season: its length, its strength, its peak', () => {
		const values = months(60, (t) => 100 + 30 * Math.sin((2 * Math.PI * (t - 2)) / 12));
		const { season } = look(values, 'month');
		expect(season).toMatchObject({ length: 12, found: true });
		expect(season!.strength).toBeGreaterThan(0.9);
		expect(said(values, 'season')!.text).toMatch(/A season of 12 months: it explains (9\d|100) %/);
		expect(said(values, 'peaks')!.text).toMatch(/Highest in .*Jun.*lowest in Dec/);
	});

	test('other lengths than the calendar’s: a week in daily data, thirteen, an odd one', () => {
		for (const [length, frequency] of [
			[7, 'day'],
			[13, 'step'],
			[11, 'step'],
			[9, 'month'],
		] as const) {
			const shape = Array.from({ length }, (_, j) => 25 * Math.cos((6.28 * j) / length) + (j === 2 ? 20 : 0));
			const values = months(6 * length, (t) => 100 + shape[t % length]!);
			expect(look(values, frequency).season?.length, `${length}`).toBe(length);
		}
	});

	test('rare demand: more than three periods in ten without any, whole pieces or not, and none below zero', () => {
		const every = (k: number, size = 2) => Array.from({ length: 60 }, (_, t) => (t % k === 0 ? size : 0));
		expect(look(every(3), 'month', 1).rare).toEqual({ some: 20, of: 60, whole: true });
		expect(look(every(3, 0.4), 'month', 1).rare).toEqual({ some: 20, of: 60, whole: false });
		expect(look([...every(3).slice(1), -1], 'month', 1).rare).toBeNull();
		expect(look(new Array(60).fill(0), 'month', 1).rare).toBeNull();
		expect(
			look(
				Array.from({ length: 60 }, (_, t) => (t % 10 < 3 ? 0 : 2)),
				'month',
				1,
			).rare,
		).toBeNull();
		expect(said([0, 0, 5, null, 0], 'rare')!.text).toMatch(/^Rare demand: 1 of 4 months had any\./);
		// A season of noughts is a season.
		const summers = Array.from({ length: 60 }, (_, t) => (t % 12 < 5 ? 0 : 100 + 30 * (t % 12)));
		expect(look(summers, 'month')).toMatchObject({ season: { length: 12 }, rare: null });
	});

	test('set by hand, that length alone is tested', () => {
		const values = months(60, (t) => 100 + 30 * Math.sin((2 * Math.PI * t) / 12));
		expect(look(values, 'month', 5).tested.map(({ length }) => length)).toEqual([5]);
		expect(look(values, 'month', 5).season).toBeNull();
	});

	test('swings that grow with the level, and swings that do not', () => {
		const level = (t: number) => 100 + 2 * t;
		const wave = (t: number) => Math.sin((2 * Math.PI * t) / 12);
		expect(
			look(
				months(84, (t) => level(t) * (1 + 0.3 * wave(t))),
				'month',
			).swings,
		).toMatchObject({ grow: true });
		expect(
			look(
				months(84, (t) => level(t) + 40 * wave(t)),
				'month',
			).swings,
		).toMatchObject({ grow: false, steady: true });
	});

	test('a trend with its slope, a step with its place and levels, a outlier period with what would be usual', () => {
		expect(
			look(
				months(48, (t) => 100 + 0.8 * t),
				'month',
			).trend,
		).toMatchObject({ found: true, slope: expect.closeTo(0.8, 0) });
		const stepped = look(
			months(48, (t) => (t < 30 ? 100 : 130)),
			'month',
		);
		expect(stepped).toMatchObject({ step: { found: true, at: 30 }, trend: { found: false } });
		const outlier = months(48, (t) => (t === 20 ? 160 : 100));
		expect(look(outlier, 'month').outliers).toMatchObject([{ at: 20 }]);
		expect(said(outlier, 'outlier')!.text).toMatch(/Sep 2021, 1[56]\d where (9\d(\.\d)?|10\d) is usual/);
	});

	test('nothing is said of fewer than two cycles, and nothing at all of seven figures', () => {
		const short = look([5, 8, 3, 9, 4, 7, 5], 'month');
		expect(short).toMatchObject({ season: null, tested: [], trend: null, step: null, outliers: [] });
		expect(words([5, 8, 3, 9, 4, 7, 5])).toEqual([
			{ code: 'season', says: 'unknown', text: expect.stringMatching(/Too few figures/) },
		]);
		expect(
			look(
				months(23, (t) => t % 12),
				'month',
			).tested.some(({ length }) => length >= 12),
		).toBe(false);
	});

	test('series that hurt: all equal, all zero, gaps, a single figure', () => {
		for (const values of [
			new Array(40).fill(7),
			new Array(40).fill(0),
			[...new Array(30).fill(null), 5],
			months(40, (t) => 100 + t).map((value, t) => (t % 3 === 0 ? null : value)),
			[1e15, ...new Array(30).fill(0)],
		]) {
			const seen = look(values, 'month');
			expect(JSON.stringify(seen)).not.toMatch(/null,"adjusted"|NaN|Infinity/);
			expect(words(values).every(({ text }) => !/NaN|Infinity|undefined/.test(text))).toBe(true);
		}
		expect(look(new Array(40).fill(7), 'month')).toMatchObject({
			season: null,
			trend: { found: false },
			outliers: [],
		});
	});

	test('shifted and scaled, a series is read as before', () => {
		const values = months(60, (t) => 100 + 20 * Math.sin((2 * Math.PI * t) / 12) + 0.5 * t);
		const [plain, moved] = [
			look(values, 'month'),
			look(
				values.map((value) => 3 * value + 50),
				'month',
			),
		];
		expect(moved.season).toMatchObject({
			length: plain.season!.length,
			strength: expect.closeTo(plain.season!.strength, 9),
		});
		expect(moved.trend!.slope).toBeCloseTo(3 * plain.trend!.slope, 9);
	});
});

test('the centred average of a line is the line, at both ends too', () => {
	const line = Float64Array.from({ length: 40 }, (_, t) => 5 + 2 * t);
	for (const length of [4, 5, 12])
		for (const [t, value] of centredLevel(line, length).entries()) expect(value).toBeCloseTo(5 + 2 * t, 9);
});

test('seasons have the calendar’s names where they are the calendar’s', () => {
	expect([
		seasonName('month', 12, 3),
		seasonName('quarter', 4, 2),
		seasonName('weekday', 5, 5),
		seasonName('hour', 24, 1),
		seasonName('month', 6, 3),
	]).toEqual(['Mar', 'Q2', 'Fri', '00:00', '3']);
});

test('of series that wander without a season one is claimed in five of a hundred at the most, by every frequency', () => {
	for (const { make, frequency, of, own, any } of claimsOfSeasonless(12)) {
		// Of so few series of one make, chance alone doubles a rate, and more.
		expect(own / of, `${make} by the ${frequency}`).toBeLessThanOrEqual(0.1);
		expect(any / of, `${make} by the ${frequency}`).toBeLessThanOrEqual(0.1);
	}
}, 120_000);

test('on the panel of known makes the readings are mostly right and seldom cry wolf', () => {
	expect(panel().length).toBeGreaterThanOrEqual(500);
	const lines = measureLooking().join('\n');
	const rate = (pattern: RegExp) => Number(pattern.exec(lines)![1]);
	expect(rate(/season there, and found: [^(]*\(([\d.]+)/)).toBeGreaterThan(85);
	expect(rate(/no season, and one cried: [^(]*\(([\d.]+)/)).toBeLessThan(5);
	expect(rate(/trend there, and found: [^(]*\(([\d.]+)/)).toBeGreaterThan(90);
	expect(rate(/step there, and found: [^(]*\(([\d.]+)/)).toBeGreaterThan(85);
	expect(rate(/outlier period there, and found: [^(]*\(([\d.]+)/)).toBeGreaterThan(85);
}, 60_000);
