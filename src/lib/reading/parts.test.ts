import { describe, expect, test } from 'vitest';
import { formatPeriod } from '$core/series/period';
import { decimalMark, readFigure, shorten } from './figures';
import { readPeriods } from './periods';
import { cutRows, findDelimiter, widthOf } from './table';

describe('figures', () => {
	test.each<[string, '.' | ',', number | null]>([
		['1,234.5', '.', 1234.5],
		['1.234,5', ',', 1234.5],
		['12,345,678', '.', 12_345_678],
		['1 234', '.', 1234],
		["1'234.5", '.', 1234.5],
		['.5', '.', 0.5],
		['5.', '.', 5],
		['−7', '.', -7],
		['1e3', '.', 1000],
		[' – ', '.', null],
		['NA', ',', null],
		['(45)', '.', -45],
		['45-', '.', -45],
		['(1.234,5)', ',', -1234.5],
		['12%', '.', 12],
		['€ 1,204.50', '.', 1204.5],
		['-€5', '.', -5],
		['412 pcs', '.', 412],
		['1 204 Stk.', '.', 1204],
		['12,34,567', '.', 1_234_567],
		['n.a.', '.', null],
		['5k', '.', 5000],
		['1,2k', ',', 1200],
		['€ 3.5 Mio.', '.', 3_500_000],
		['12 Mio. €', '.', 12_000_000],
		['x', '.', null],
		['k.A.', ',', null],
	])('%s with decimal %s is %s', (cell, mark, value) => expect(readFigure(cell, mark)).toEqual({ value }));

	test.each(['1,23', '12.3.4', '1,2345', 'about 5', '5 h', '3 Mar', '2Q', '--5', '0x10', '3 24', '1e', '٣'])(
		'%s is no figure',
		(cell) => {
			expect(readFigure(cell, '.')).toHaveProperty('refused');
		},
	);

	test('a long cell is cut in what is said of it', () => {
		expect(shorten('x'.repeat(60))).toBe(`${'x'.repeat(24)}…`);
	});
});

test.each<[string[], '.' | ',', '.' | ',' | null]>([
	[['1.234', '5.678'], '.', '.'],
	[['1.234', '5.678', '990'], ',', '.'],
	[['1.234', '5.678', '9.120', '4.005'], ',', '.'],
	[['1.234', '5678'], '.', '.'],
	[['1.5', '2.25'], '.', null],
	[['1,5', '2,25'], ',', null],
	[['1,234.5'], '.', null],
	[['1.234,5'], ',', null],
	[['1.234.567', '2,5'], ',', null],
	[['1,234', '5,678'], '.', ','],
	[['1,234', '5,67'], ',', null],
	[['1,234,567'], '.', null],
	[['12', '13'], '.', null],
])('the column %j has the decimal mark %s, open: %s', (cells, mark, open) => {
	expect(decimalMark(cells)).toMatchObject({ mark, open });
});

describe('periods', () => {
	test.each<[string[], string, (string | number)[]]>([
		[['2024-01', '2024-02'], 'month', ['2024-01', '2024-02']],
		[['2024-W01', '2024-W02'], 'week', ['2024-W01', '2024-W02']],
		[['2024-01-15', '2024-02-15', '2024-03-15'], 'month', ['2024-01', '2024-02', '2024-03']],
		[['2022-06-30', '2023-06-30'], 'year', ['2022', '2023']],
		[['2024-05-06', '2024-05-13'], 'week', ['2024-W19', '2024-W20']],
		[['2024-05-04', '2024-05-05', '2024-05-06'], 'day', ['2024-05-04', '2024-05-05', '2024-05-06']],
		[['1', '2', '3'], 'step', [1, 2, 3]],
		[['-1', '0'], 'step', [-1, 0]],
	])('%j are %ss', (cells, frequency, periods) => {
		const column = readPeriods(cells)!;
		expect(column.frequency).toBe(frequency);
		expect(column.ordinals.map((ordinal) => formatPeriod(column.frequency, ordinal))).toEqual(periods);
	});

	test('what is not all of one spelling is no column of periods', () => {
		expect(readPeriods(['2024-01', '2024-Q2'])).toBeNull();
		expect(readPeriods(['2024-01', 'later'])).toBeNull();
		expect(readPeriods(['2024-13'])).toBeNull();
		expect(readPeriods([])).toBeNull();
	});

	test('dates name every frequency that they could be counted at', () => {
		expect(readPeriods(['2024-03-31', '2024-06-30', '2024-09-30'])!.possible).toEqual([
			'quarter',
			'month',
			'day',
			'week',
			'half-year',
			'year',
		]);
		expect(readPeriods(['2024-03-04', '2024-03-11'])).toMatchObject({
			possible: ['week', 'day', 'month', 'quarter', 'half-year', 'year'],
			apart: 2,
		});
		expect(readPeriods(['2024-03-04', '2024-03-05'], { frequency: 'weekday' })!.frequency).toBe('weekday');
		expect(readPeriods(['2024-03-04', '2024-03-11'], { frequency: 'hour' })!.frequency).toBe('week');
	});
});

describe('cutting', () => {
	test('quotes hold delimiters and line ends, marks at the beginning are dropped, blank ends too', () => {
		expect(cutRows('\ufeff"a;b";1\r\n"c\nd";2\n\n', ';')).toEqual([
			['a;b', '1'],
			['c\nd', '2'],
		]);
		expect(widthOf([['a'], ['b', 'c', 'd'], []])).toBe(3);
	});

	test.each<[string, string, string[]]>([
		['a\t1,5\nb\t2,5', '\t', []],
		['a;1\nb;2', ';', []],
		['a,1\nb,2', ',', []],
		['a;1,5\nb;2', ';', []],
		['4\n5', ',', []],
	])('%j is cut at %j', (text, delimiter, others) =>
		expect(findDelimiter(text)).toEqual({ delimiter, others }),
	);
});
