import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { FREQUENCIES } from '$core/series/frequency';
import { formatPeriod, parsePeriod } from '$core/series/period';
import { readText } from './read';
import { type Choices } from './choices';
import { runs } from '../../../tests/support/runs';

/** A table of one item: the reading with its figures. */
const read = (text: string, choices?: Choices) => {
	const reading = readText(text, choices);
	const { values = [], first = NaN, name = '' } = reading.items[0] ?? {};
	return { ...reading, values, first, name };
};
const codes = (text: string, choices?: Choices) => read(text, choices).doubts.map(({ code }) => code);

describe('one column', () => {
	test.each<[string, string, Choices | undefined, (number | null)[]]>([
		['plain', '412\n398\n440', undefined, [412, 398, 440]],
		['with a heading', 'Demand\n412\n398', undefined, [412, 398]],
		['Windows line ends and blanks around', '\r\n 412 \r\n398\r\n\r\n', undefined, [412, 398]],
		['a blank line is a missing period', '412\n\n398', undefined, [412, null, 398]],
		['signs of a missing figure', '412\nn/a\n-\n#N/A\nNULL\n0', undefined, [412, null, null, null, null, 0]],
		['decimal points', '4.25\n3.5', undefined, [4.25, 3.5]],
		['decimal commas', '4,25\n3,5\n2,75', undefined, [4.25, 3.5, 2.75]],
		['thousands commas and points', '1,204.5\n998.25', undefined, [1204.5, 998.25]],
		['thousands points and commas', '1.204,5\n998,25', undefined, [1204.5, 998.25]],
		['thousands blanks and apostrophes', '1 204\n1\u202f310\n1’402', undefined, [1204, 1310, 1402]],
		['commas before three digits', '2,204\n1,310\n1,402', undefined, [2204, 1310, 1402]],
		['the same, chosen as decimals', '2,204\n1,310', { decimal: ',', delimiter: ';' }, [2.204, 1.31]],
		['negative', '-4\n−5\n+6', undefined, [-4, -5, 6]],
		['exponents', '1.5e3\n2e2', undefined, [1500, 200]],
	])('%s', (_name, text, choices, values) => {
		const reading = read(text, choices);
		expect(reading.problem).toBeNull();
		expect(reading.values).toEqual(values);
		expect(reading.frequency).toBe('step');
	});

	test('takes the first period it is given, and says how it should look', () => {
		const reading = read('412\n398', { frequency: 'month', first: '2024-11' });
		expect([reading.frequency, reading.first]).toEqual(['month', parsePeriod('month', '2024-11')]);
		expect(read('412\n398', { frequency: 'month' }).problem).toMatch(/written like 2022-01/);
		expect(read('412\n398', { frequency: 'week', first: '2021-W53' }).problem).toMatch(/2021 has no week 53/);
	});

	test.each([
		[
			'figures of three digits',
			'A,B,C\n311,207,462\n219,226,360',
			[
				[311, 219],
				[207, 226],
				[462, 360],
			],
		],
		[
			'figures that could be decimals',
			'Bell,Lamp\n12,15\n13,18\n9,20',
			[
				[12, 13, 9],
				[15, 18, 20],
			],
		],
		['a word with a comma over decimals', 'Demand, pieces\n4,25\n3,75', [[4.25, 3.75]]],
		['a quoted word over thousands', '"Demand,pieces"\n2,204\n1,310', [[2204, 1310]]],
		['a word over thousands, one below', 'Lamp\n2,204\n998\n1,310', [[2204, 998, 1310]]],
	])('commas part columns where the first row has a word for each: %s', (_name, text, values) => {
		const reading = readText(text);
		expect([reading.problem, reading.items.map((item) => item.values)]).toEqual([null, values]);
	});

	test('keeps the heading as a first guess at the name', () => {
		expect(read('Chain guard\n4\n5').name).toBe('Chain guard');
	});
});

describe('period and figure', () => {
	test.each([
		['tab', '\t'],
		['comma', ','],
		['semicolon', ';'],
	])('separator %s, with and without a heading', (_name, mark) => {
		for (const heading of ['', `Month${mark}Pieces\n`]) {
			const reading = read(`${heading}2024-01${mark}412\n2024-02${mark}398`);
			expect(reading.problem).toBeNull();
			expect(reading).toMatchObject({
				frequency: 'month',
				values: [412, 398],
				columns: ['period', 'figure'],
			});
			expect(reading.name).toBe(heading === '' ? '' : 'Pieces');
		}
	});

	test.each([
		['years', '2021;4\n2022;5\n2023;6', 'year', [4, 5, 6]],
		['quarters', '2023-Q4;4\n2024-Q1;5', 'quarter', [4, 5]],
		['weeks over a long year', '2020-W52;4\n2020-W53;5\n2021-W01;6', 'week', [4, 5, 6]],
		['days', '2024-02-28;4\n2024-02-29;5\n2024-03-01;6', 'day', [4, 5, 6]],
		[
			'days of working weeks',
			'2024-03-07;4\n2024-03-08;5\n2024-03-11;6\n2024-03-14;7',
			'weekday',
			[4, 5, 6, null, null, 7],
		],
		['Mondays', '2024-03-04;4\n2024-03-11;5\n2024-03-25;6', 'week', [4, 5, null, 6]],
		['month ends', '2024-01-31;4\n2024-02-29;5\n2024-03-31;6', 'month', [4, 5, 6]],
		['quarter ends', '2024-03-31;4\n2024-06-30;5\n2024-12-31;7', 'quarter', [4, 5, null, 7]],
		['hours', '2024-03-31T23;4\n2024-04-01 00:00;5', 'hour', [4, 5]],
		['plain numbers', '7;4\n8;5\n9;6', 'step', [4, 5, 6]],
	])('%s', (_name, text, frequency, values) => {
		const reading = read(text);
		expect(reading.problem).toBeNull();
		expect(reading).toMatchObject({ frequency, values });
	});

	test('sorts, shows gaps, and says so', () => {
		const reading = read('2024-03;30\n2024-01;10\n2024-06;60');
		expect(reading.values).toEqual([10, null, 30, null, null, 60]);
		expect(reading.doubts.map(({ code }) => code)).toEqual(['unsorted', 'gaps']);
		expect(reading.doubts[1]!.text).toMatch(/3 months are not in the table.*Feb 2024/);
	});

	test('a frequency chosen by hand is followed where the dates allow it', () => {
		const text = '2024-03-04;4\n2024-03-11;5';
		expect(codes(text)).toContain('frequency');
		expect(read(text, { frequency: 'day' }).values).toEqual([4, null, null, null, null, null, null, 5]);
		expect(codes(text, { frequency: 'day' })).toEqual(['gaps']);
	});

	test('decimal commas beside semicolons', () => {
		expect(read('2024-01;4,25\n2024-02;1.204,5').values).toEqual([4.25, 1204.5]);
	});
});

describe('a clear sentence instead of', () => {
	test.each<[string, string, RegExp]>([
		['nothing', '  \n ', /nothing here yet/],
		['words', '412\ntwelve\n440\nmany', /Row 2 holds “twelve”, which is not a figure, and 1 more like it/],
		['a lone heading', 'Demand', /a heading, “Demand”, and no figure/],
		['a heading and blanks', 'Period;Demand\n;', /a heading, “Period”, and no figure/],
		['only missing figures', 'n/a\n-\nn/a', /Every cell.*no figure/],
		[
			'100,000 figures',
			Array.from({ length: 100_000 }, (_, i) => i % 90).join('\n'),
			/100\s000 periods; an item holds at most 20\s000/,
		],
		['a far date', '1024-01;1\n9024-01;2', /periods; an item holds at most 20\s000/],
		['infinity', '412\nInfinity', /“Infinity”, which is not a figure/],
		['beyond all size', '412\n1e999', /more than the 1e\+15 that can be computed with/],
		['400 digits', `412\n${'9'.repeat(400)}`, /more than the 1e\+15/],
		[
			'mixed separators',
			'2024-01;412\n2024-02,398\n2024-03;440',
			/“2024-02,398” in row 2 is not a known period/,
		],
		['binary', 'PK\u0003\u0004\u0000\u0000', /not text.*Save the table as CSV/],
		['broken bytes', '412\n\ufffd\ufffd', /not text/],
		[
			'unknown periods',
			'when,what\nsoon,3\nlater,4',
			/“soon” in row 2 is not a known period.*leave that column out/,
		],
		['an open quotation mark', '"412\n398', /no figure|cannot be cut/],
	])('%s', (_name, text, message) => expect(read(text).problem).toMatch(message));
});

test('whatever is pasted, reading answers', () => {
	fc.assert(
		fc.property(fc.string({ unit: 'binary', maxLength: 200 }), (text) => {
			const reading = read(text);
			expect(reading.problem === null || reading.problem.length > 10).toBe(true);
			if (reading.problem === null)
				expect(reading.values.every((value) => value === null || Number.isFinite(value))).toBe(true);
		}),
		{ numRuns: runs(300) },
	);
});

test('a series written in any spelling reads back to itself', () => {
	const figures = fc.array(fc.option(fc.integer({ min: -99_999, max: 999_999 }), { freq: 8 }), {
		minLength: 3,
		maxLength: 30,
	});
	const layout = fc.record({
		mark: fc.constantFrom('\t', ';', ','),
		heading: fc.boolean(),
		frequency: fc.constantFrom(...FREQUENCIES),
		offset: fc.integer({ min: 0, max: 400 }),
	});
	const origin = {
		hour: '2020-01-01T00',
		day: '2020-01-01',
		weekday: '2020-01-01',
		week: '2020-W01',
		month: '2020-01',
		quarter: '2001-Q1',
		'half-year': '1951-H1',
		year: '1900',
		step: '1',
	};
	fc.assert(
		fc.property(figures, layout, (drawn, { mark, heading, frequency, offset }) => {
			const values = [17, ...drawn, 23];
			const span = frequency === 'year' ? offset % 200 : offset;
			const first = parsePeriod(frequency, origin[frequency]) + span;
			const lines = values.map(
				(value, i) => `${formatPeriod(frequency, first + i)}${mark}${value === null ? '' : value / 4}`,
			);
			const text = (heading ? [`Period${mark}Pieces`, ...lines] : lines).join('\n');
			const reading = read(text, { frequency });
			expect(reading.problem).toBeNull();
			expect(reading).toMatchObject({ frequency, first, values: values.map((value) => value && value / 4) });
		}),
	);
});
