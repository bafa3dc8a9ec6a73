import { describe, expect, test } from 'vitest';
import { parsePeriod } from '$core/series/period';
import { fillFrom, readColumn } from './paste-column';

describe('a pasted column is read', () => {
	test.each<[string, '.' | ',', (number | null)[]]>([
		['12\n13\n\n15\n', '.', [12, 13, null, 15]],
		['1.5\r\n2.25', '.', [1.5, 2.25]],
		// What figures can only mean goes before the reader's own mark.
		['1,5\n2,25', '.', [1.5, 2.25]],
		['1.204,5\n990,0', '.', [1204.5, 990]],
		// “1,204” alone could be either: the reader's mark says.
		['1,204\n1,310', '.', [1204, 1310]],
		['1,204\n1,310', ',', [1.204, 1.31]],
		['−4\n(7)', '.', [-4, -7]],
	])('%j', (text, mark, values) =>
		expect(readColumn(text, mark, 'month')).toEqual({ value: { values, periods: null } }),
	);

	test('with its periods, in whatever spelling, below a heading or none', () => {
		const at = (period: string) => parsePeriod('month', period);
		for (const text of [
			'Jan 2026\t12\nMar 2026\t(4)',
			'Miesiąc\tPopyt\nstyczeń 2026\t12\nmarzec 2026\t-4',
			'31.01.2026\t12\n31.03.2026\t−4',
		])
			expect(readColumn(text, '.', 'month')).toEqual({
				value: { values: [12, -4], periods: [at('2026-01'), at('2026-03')] },
			});
	});

	test('or refused with its line, as are several columns', () => {
		expect(readColumn('1\nmany\n3', '.', 'month')).toEqual({
			refused: expect.stringMatching(/^Line 2: .*“many”/) as string,
		});
		for (const text of [
			'1\t2\n3\t4',
			'2026-W01\t4\n2026-W02\t5',
			'Jan 2026\t1\t2\nFeb 2026\t3\t4',
			'Jan\t1\nFeb\t2',
		])
			expect(readColumn(text, '.', 'month')).toEqual({
				refused: expect.stringMatching(/A column of figures .*, or months with their figures/) as string,
			});
	});
});

test('what it changes, what is the same, what is blank and what comes after the end is told apart', () => {
	const series = { first: 100, values: [5, 6, null, 8] };
	expect(fillFrom(series, 1, { values: [6, 7, null, 9, 10], periods: null })).toEqual({
		value: {
			changes: [
				{ position: 2, period: 102, from: null, to: 7 },
				{ position: 4, period: 104, from: null, to: 9 },
				{ position: 5, period: 105, from: null, to: 10 },
			],
			same: 1,
			blank: 1,
			appended: 2,
		},
	});
	expect(fillFrom(series, 3, { values: new Array<number>(60_000).fill(1), periods: null })).toEqual({
		refused: expect.stringMatching(/at most/) as string,
	});
	// At their periods, wherever it was pasted.
	expect(fillFrom(series, 0, { values: [7, 9], periods: [102, 105] })).toMatchObject({
		value: {
			changes: [
				{ position: 2, to: 7 },
				{ position: 5, to: 9 },
			],
			appended: 1,
		},
	});
	expect(fillFrom(series, 0, { values: [7], periods: [99] })).toEqual({
		refused: expect.stringMatching(/before the first one/) as string,
	});
});
