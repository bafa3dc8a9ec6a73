import { describe, expect, test } from 'vitest';
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
	])('%j', (text, mark, values) => expect(readColumn(text, mark)).toEqual({ value: values }));

	test('or refused with its line, as are several columns', () => {
		expect(readColumn('1\nmany\n3', '.')).toEqual({
			refused: expect.stringMatching(/^Line 2: .*“many”/) as string,
		});
		expect(readColumn('1\t2\n3\t4', '.')).toEqual({
			refused: expect.stringMatching(/One column .*, and 2 were pasted/) as string,
		});
	});
});

test('what it changes, what is the same, what is blank and what comes after the end is told apart', () => {
	const series = { first: 100, values: [5, 6, null, 8] };
	expect(fillFrom(series, 1, [6, 7, null, 9, 10])).toEqual({
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
	expect(fillFrom(series, 3, new Array<number>(60_000).fill(1))).toEqual({
		refused: expect.stringMatching(/at most/) as string,
	});
});
