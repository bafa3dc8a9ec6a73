import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { alignFigures } from './align';
import { makeTable } from '../../../tests/support/tables';
import { agrees, planRows, type RowPlan } from './plan';
import { cutDelimited } from './table';
import { readText } from './read';
import { type Choices } from './choices';

/** A file read row by row on the plan of its beginning, laid out item by item. */
function byRows(
	text: string,
	choices: Choices = {},
	sampleLines = 300,
): Record<string, { first: number; values: (number | null)[] }> {
	const lines = text.split('\n');
	const plan = planRows(readText(lines.slice(0, sampleLines).join('\n'), choices), choices) as RowPlan;
	const items = new Map<string, { periods: number[]; values: (number | null)[] }>();
	for (const cells of cutDelimited(text, plan.delimiter).slice(plan.headings)) {
		const row = plan.read(cells);
		if ('skipped' in row) continue;
		if ('refused' in row) throw new Error(row.refused);
		const item = items.get(row.item) ?? { periods: [], values: [] };
		items.set(row.item, item);
		for (const { period, value } of row.figures) {
			item.periods.push(period);
			item.values.push(value);
		}
	}
	return Object.fromEntries(
		[...items].map(([name, { periods, values }]) => {
			const aligned = alignFigures(periods, values, choices.duplicates ?? 'sum');
			return [name, { first: aligned.first, values: aligned.values }];
		}),
	);
}
const whole = (text: string, choices?: Choices) =>
	Object.fromEntries(
		readText(text, choices).items.map(({ code, first, values }) => [code, { first, values }]),
	);

const month = (m: number) => `${2019 + Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')}`;
const figures = fc.array(fc.array(fc.integer({ min: 3000, max: 99_000 }), { minLength: 24, maxLength: 24 }), {
	minLength: 2,
	maxLength: 12,
});

describe('row by row comes to the same as read whole', () => {
	test('an item, a period and a figure a row, whatever the order of the rows', () => {
		fc.assert(
			fc.property(figures, fc.boolean(), (items, backwards) => {
				const rows = items.flatMap((values, i) =>
					values.map((value, m) => `P-${i};${month(m)};${value / 10}`),
				);
				if (backwards) rows.reverse();
				const text = ['item;month;pieces', ...rows].join('\n');
				expect(byRows(text)).toEqual(whole(text));
			}),
			{ numRuns: 60 },
		);
	});

	test('items down and periods across, blanks at the end outside the series', () => {
		fc.assert(
			fc.property(figures, (items) => {
				const text = [
					`item;${items[0]!.map((_, m) => month(m)).join(';')}`,
					...items.map(
						(values, i) => `P-${i};${values.map((value, m) => (i === 1 && m > 20 ? '' : value)).join(';')}`,
					),
				].join('\n');
				expect(byRows(text)).toEqual(whole(text));
			}),
			{ numRuns: 60 },
		);
	});

	test.each<[string, (m: number) => string, Choices?]>([
		['day-first dates', (m) => `28/${String((m % 12) + 1).padStart(2, '0')}/${2019 + Math.floor(m / 12)}`],
		['dates with times', (m) => `2024-03-${String((m % 24) + 1).padStart(2, '0')}T0${m % 9}:00`],
		[
			'month names',
			(m) =>
				`${['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'][m % 12]} ${2019 + Math.floor(m / 12)}`,
		],
		['serial dates', (m) => String(43_466 + 7 * m)],
		[
			'days, summed to months',
			(m) => `2024-0${1 + (m % 3)}-${String(1 + m).padStart(2, '0')}`,
			{ frequency: 'month' },
		],
	])('%s', (_name, spell, choices) => {
		const rows = [0, 1, 2].flatMap((i) =>
			Array.from({ length: 24 }, (_, m) => `P-${i},${spell(m)},${1000 + 37 * m + i}`),
		);
		const text = ['item,date,pieces', ...rows].join('\n');
		expect(byRows(text, choices)).toEqual(whole(text, choices));
	});
});

describe('what cannot be read row by row says so', () => {
	const plan = (text: string, choices: Choices = {}) => planRows(readText(text, choices), choices);
	const rows = [
		'item;month;pieces',
		...[0, 1, 2].flatMap((i) => [0, 1, 2, 3].map((m) => `P-${i};${month(m)};${10 + m}`)),
	];

	test('whatever a table looks like, read row by row it comes to the same, or it is not read so', () => {
		let planned = 0;
		for (let seed = 1; seed <= 600; seed++) {
			const { text, said } = makeTable(seed);
			const reading = readText(text, said);
			if (reading.problem !== null || reading.items.some(({ problem }) => problem !== null)) continue;
			const plan = planRows(reading, said);
			if ('problem' in plan || !agrees(plan, reading, said)) continue;
			let rows: ReturnType<typeof byRows>;
			try {
				rows = byRows(text, said);
			} catch {
				// A remark below the figures is refused with its line.
				continue;
			}
			planned++;
			const trimmed = (items: typeof rows) =>
				Object.entries(items).map(([code, { first, values }]) => [
					code,
					values.flatMap((value, i) => (value === null ? [] : [[first + i, value]])),
				]);
			expect([seed, trimmed(rows)]).toEqual([seed, trimmed(whole(text, said))]);
		}
		// Long lists and items under a heading of periods.
		expect(planned).toBeGreaterThan(60);
	});

	test('layouts that need the whole table', () => {
		for (const text of [
			'Month;A;B\n2024-01;1;2\n2024-02;3;4',
			'1\n2\n3',
			'\tQ1\tQ2\n2023\t1\t2\n2024\t3\t4',
		]) {
			expect(plan(text)).toMatchObject({ problem: expect.stringMatching(/row by row/) });
		}
	});

	test('a row of another shape, a period of another spelling, a word for a figure', () => {
		const { read } = plan(rows.join('\n')) as RowPlan;
		expect(read(['P-9', '2030-01'])).toEqual({ refused: 'has 2 columns where others have 3' });
		expect(read(['P-9', '2030-Q1', '4'])).toEqual({ refused: 'has “2030-Q1” for a month' });
		expect(read(['P-9', '2030-01', 'many'])).toMatchObject({
			refused: expect.stringMatching(/“many”, which is no figure in column 3/),
		});
		expect(read(['', '', ''])).toMatchObject({ refused: expect.any(String) });
		expect(read([''])).toEqual({ skipped: true });
		expect(read(['Total', '2030-01', '4'])).toEqual({ skipped: true });
	});

	test('an item given once holds for the rows below it', () => {
		const { read } = plan(rows.join('\n')) as RowPlan;
		read(['P-1', '2030-01', '4']);
		expect(read(['', '2030-02', '5'])).toMatchObject({ item: 'P-1', figures: [{ value: 5 }] });
	});

	test('a percentage as a share, where that was chosen', () => {
		const text = rows.join('\n').replaceAll(/;(\d+)$/gm, ';$1%');
		const { read } = plan(text, { percent: 'share' }) as RowPlan;
		expect(read(['P-1', '2030-01', '12%'])).toMatchObject({ figures: [{ value: 0.12 }] });
	});
});
