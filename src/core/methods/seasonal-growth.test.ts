import { expect, test } from 'vitest';
import { evaluate } from '../questions/evaluate';

const ask = (values: (number | null)[], horizon = 6) => {
	const [result] = evaluate({
		series: { values, frequency: 'quarter', start: '2024-Q1' },
		candidates: [{ id: 'g', method: 'seasonal-growth' }],
		horizon,
	}).candidates;
	return result!;
};
const means = (values: (number | null)[], horizon?: number) => {
	const result = ask(values, horizon);
	return result.ok ? result.ahead.map(({ mean }) => mean) : result.notes[0]!.text;
};
const near = (actual: unknown, expected: (number | null)[]) =>
	expect(actual).toEqual(expected.map((value) => (value === null ? null : expect.closeTo(value, 9))));

test('the last cycle times what it grew by on the one before, once more for each cycle', () => {
	// 110 on 100.
	near(means([10, 20, 30, 40, 12, 22, 33, 43]), [13.2, 24.2, 36.3, 47.3, 13.2 * 1.1, 24.2 * 1.1]);
});

test('each quarter was forecast by what was known before it', () => {
	const result = ask([10, 20, 30, 40, 12, 22, 33, 43, 14]);
	expect(result.ok && result.fitted!.slice(0, 8)).toEqual(new Array(8).fill(null));
	expect(result.ok && result.fitted![8]).toBeCloseTo(13.2, 9);
});

test('a figure without its like says nothing of the growth, and has none to repeat', () => {
	// Of the pairs 12:10, –:20, 33:30, 43:40 three are there: 88 on 80.
	near(means([10, 20, 30, 40, 12, null, 33, 43], 4), [13.2, null, 36.3, 47.3]);
});

test('it says what it needs', () => {
	expect(means([10, 20, 30, 40, 12, 22, 33])).toMatch(/needs 8 periods, two seasons of 4; this series has 7/);
	expect(means([10, -20, 30, 40, 12, 22, 33, 43])).toMatch(/not below 0/);
	// Nothing sold in the cycle before: there is no ratio.
	expect(means([0, 0, 0, 0, 12, 22, 33, 43])).toMatch(
		/needs periods with figures above 0 and the same seasons/,
	);
	// Nor where decimals went through the sum before: what they leave in it is rounding.
	near(means([0.7, 0.1, 0.2, 0.3, 0, 0, 0, 0, 12, 22, 33, 43], 2), [null, null]);
});
