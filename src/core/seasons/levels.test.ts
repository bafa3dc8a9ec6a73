import { describe, expect, test } from 'vitest';
import { prepareSeries } from '../series/series';
import { cycleMeans, cycleOf, cyclesOf, endOf, seasonOf } from './cycles';
import { isFound, levelBy, levelWords, partsOfLevel } from './levels';
import { type PlainLevel } from './settings';

// Begins in Q3: the first cycle is cut off, and so is the last.
const VALUES = [9, 9, 10, 20, 30, 40, 20, 30, 40, 50, 30, null, 50, 60, 7];
const series = prepareSeries({ values: VALUES, frequency: 'quarter', start: '2020-Q3' }, 'skip');
const cycles = cyclesOf(series);
const means = cycleMeans(series.values, cycles);

describe('cycles', () => {
	test('begin at season 1 of the calendar, wherever the series begins', () => {
		expect(cycles).toEqual({ length: 4, lead: 2, count: 5 });
		expect([0, 1, 2, 5, 6, 14].map((i) => cycleOf(cycles, i))).toEqual([0, 0, 1, 1, 2, 4]);
		expect([0, 1, 2, 5, 6, 14].map((i) => seasonOf(cycles, i))).toEqual([2, 3, 0, 3, 0, 0]);
		expect([-1, 0, 1, 4].map((cycle) => endOf(cycles, cycle))).toEqual([-2, 2, 6, 18]);
	});

	test('have a mean when they are complete: whole, and without a gap', () => {
		expect([...means]).toEqual([NaN, 25, 35, NaN, NaN]);
	});

	test('without a calendar begin with the series', () => {
		const plain = prepareSeries({ values: [1, 2, 3, 4], frequency: 'step', seasonLength: 2 }, 'skip');
		expect([...cycleMeans(plain.values, cyclesOf(plain))]).toEqual([1.5, 3.5]);
	});
});

describe('levels', () => {
	const at = (level: PlainLevel, cycle: number, to = VALUES.length) => {
		const by = levelBy(level, means, series.values, cycles, to);
		return isFound(by) ? by.at(cycle, endOf(cycles, cycle - 1)) : by;
	};

	test('pass over cycles that are not complete, and count from the last that is', () => {
		expect(at({ rule: 'last-cycle' }, 4)).toBe(35);
		expect(at({ rule: 'last-cycle', growth: 0.1 }, 4)).toBeCloseTo(35 * 1.1 ** 2, 12);
		expect(at({ rule: 'cycle-average' }, 4)).toBe(30);
		expect(at({ rule: 'cycle-trend' }, 4)).toBeCloseTo(55, 12);
		expect(at({ rule: 'cycle-smoothing', alpha: 0.3 }, 4)).toBeCloseTo(28, 12);
	});

	test('know nothing of what comes after the period they stand at', () => {
		expect(at({ rule: 'last-cycle' }, 2, 6)).toBe(25);
		expect(at({ rule: 'last-cycle' }, 2, 9)).toBe(25);
		expect(at({ rule: 'last-cycle' }, 1, 5)).toEqual({ needs: 1, has: 0, of: 'cycles' });
		expect(at({ rule: 'cycle-trend' }, 2, 6)).toEqual({ needs: 2, has: 1, of: 'cycles' });
		expect(at({ rule: 'cycle-average', cycles: 3 }, 4)).toEqual({ needs: 3, has: 2, of: 'cycles' });
		expect(at({ rule: 'line' }, 1, 1)).toEqual({ needs: 2, has: 1, of: 'periods' });
	});

	test('of a blend have shares of 1', () => {
		const of: PlainLevel[] = [{ rule: 'line' }, { rule: 'cycle-trend' }];
		expect(partsOfLevel({ rule: 'blend', of, weights: [3, 1] }).map(({ share }) => share)).toEqual([
			0.75, 0.25,
		]);
		expect(partsOfLevel({ rule: 'blend', of }).map(({ share }) => share)).toEqual([0.5, 0.5]);
		expect(partsOfLevel({ rule: 'blend', of, weights: [0, 2] })).toEqual([{ part: of[1], share: 1 }]);
		expect(partsOfLevel({ rule: 'line' })).toEqual([{ part: { rule: 'line' }, share: 1 }]);
	});

	test.each([
		[{ rule: 'last-cycle' }, 'last cycle'],
		[{ rule: 'last-cycle', growth: 0.04 }, 'last cycle +4 %'],
		[{ rule: 'last-cycle', growth: -0.025 }, 'last cycle −2.5 %'],
		[{ rule: 'cycle-average', cycles: 3 }, 'mean of 3 cycles'],
		[{ rule: 'cycle-average', cycles: 1 }, 'last cycle'],
		[{ rule: 'cycle-smoothing', alpha: 0.4 }, 'smoothed cycles α 0.4'],
		[{ rule: 'given', value: 1234.5 }, 'level 1234.5'],
		[{ rule: 'blend', of: [{ rule: 'line' }, { rule: 'cycle-trend' }] }, 'blend of 2'],
	] as const)('%j is called %s', (level, words) => {
		expect(levelWords(level as Parameters<typeof levelWords>[0])).toBe(words);
	});
});
