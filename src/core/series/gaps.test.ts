import { expect, test } from 'vitest';
import { fillGaps, type GapRule } from './gaps';
import { prepareSeries, seasonAt } from './series';

const filled = (values: (number | null)[], rule: GapRule, seasonLength = 1, excluded: number[] = []) =>
	[...fillGaps(values, rule, seasonLength, excluded)].map((value) => (Number.isNaN(value) ? null : value));

const holes = [null, 10, null, null, 16, null];

test.each<[GapRule, (number | null)[]]>([
	['skip', holes],
	['zero', [0, 10, 0, 0, 16, 0]],
	['carry-forward', [null, 10, 10, 10, 16, 16]],
	['interpolate', [null, 10, 12, 14, 16, null]],
])('%s', (rule, expected) => expect(filled(holes, rule)).toEqual(expected));

test('seasonal takes the cycle before, else the cycle after, else leaves the gap', () => {
	expect(filled([1, null, 3, null, 5, null, null, 8, null], 'seasonal', 3)).toEqual([
		1,
		5,
		3,
		1,
		5,
		3,
		null,
		8,
		null,
	]);
});

test('an excluded figure is missing under every rule and does not come back through its neighbours', () => {
	expect(filled([10, 900, null, 20], 'carry-forward', 1, [2])).toEqual([10, null, 10, 20]);
	expect(filled([10, 900, null, 40], 'interpolate', 1, [2])).toEqual([10, null, 30, 40]);
	expect(filled([10, 900, null, 40], 'zero', 1, [2])).toEqual([10, null, 0, 40]);
});

test('seasons follow the calendar from whatever season the series begins in', () => {
	const values = new Array<number>(30).fill(1);
	const months = prepareSeries({ values, frequency: 'month', start: '2022-11' }, 'skip');
	expect([1, 2, 3, 14].map((t) => seasonAt(months, t))).toEqual([11, 12, 1, 12]);
	const odd = prepareSeries({ values, frequency: 'month', start: '2022-11', seasonLength: 5 }, 'skip');
	expect([1, 5, 6].map((t) => seasonAt(odd, t))).toEqual([1, 5, 1]);
});
