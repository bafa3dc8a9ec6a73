import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Frequency } from '$core/series/frequency';
import { describePeriod, formatPeriod, parsePeriod } from '$core/series/period';
import { readText } from './read';
import { runs } from '../../../tests/support/runs';

/** A series, in any layout, spelling and separator, reads back to itself. */

const SEPARATORS = ['\t', ';', '|', ',', '   '];
type Write = (value: number) => string;
const grouped =
	(mark: string, point: string): Write =>
	(value) => {
		const [whole = '', part] = Math.abs(value).toFixed(2).split('.');
		const digits = whole.replace(/\B(?=(\d{3})+$)/g, mark);
		return `${value < 0 ? '-' : ''}${digits}${point}${part}`;
	};
const FIGURES: Record<string, Write> = {
	plain: (value) => String(value),
	'1,234.50': grouped(',', '.'),
	'1.234,50': grouped('.', ','),
	'1 234,50': grouped(' ', ','),
	"1'234.50": grouped("'", '.'),
	'(45.00)': (value) => (value < 0 ? `(${grouped(',', '.')(-value)})` : grouped(',', '.')(value)),
	'45.00-': (value) => (value < 0 ? `${grouped(',', '.')(-value)}-` : grouped(',', '.')(value)),
	'€ 45.00': (value) => `€ ${grouped(',', '.')(value)}`,
	'45.00 pcs': (value) => `${grouped(',', '.')(value)} pcs`,
};
const MISSING = ['', 'n/a', '-', '–', 'NA', '#N/A', 'null'];

const month = (ordinal: number) => String((ordinal % 12) + 1).padStart(2, '0');
const year = (ordinal: number, length: number) => Math.floor(ordinal / length);
const dmy = (ordinal: number) => (formatPeriod('day', ordinal) as string).split('-').reverse();
const NAMES = {
	en: ['Jan', 'Feb', 'March', 'Apr', 'May', 'June', 'Jul', 'Aug', 'Sept', 'Oct', 'Nov', 'Dec'],
	de: ['Januar', 'Feb.', 'März', 'Apr', 'Mai', 'Juni', 'Juli', 'Aug', 'Sep', 'Okt', 'Nov', 'Dez'],
	fr: ['janv.', 'févr.', 'mars', 'avril', 'mai', 'juin', 'juil.', 'août', 'sept.', 'oct.', 'nov.', 'déc.'],
	es: ['enero', 'feb', 'marzo', 'abr', 'mayo', 'junio', 'julio', 'agosto', 'septiembre', 'oct', 'nov', 'dic'],
};
type Spell = (ordinal: number) => string;
const named =
	(names: string[]): Spell =>
	(o) =>
		`${names[o % 12]} ${year(o, 12)}`;
const PERIODS: Partial<Record<Frequency, Spell[]>> = {
	year: [(o) => String(o), (o) => `FY${o}`],
	quarter: [
		(o) => `${year(o, 4)}-Q${(o % 4) + 1}`,
		(o) => `${year(o, 4)} Q${(o % 4) + 1}`,
		(o) => `Q${(o % 4) + 1}/${String(year(o, 4)).slice(2)}`,
		(o) => `${(o % 4) + 1}Q${String(year(o, 4)).slice(2)}`,
	],
	month: [
		(o) => `${year(o, 12)}-${month(o)}`,
		(o) => `${month(o)}/${year(o, 12)}`,
		(o) => `${(o % 12) + 1}/${String(year(o, 12)).slice(2)}`,
		...Object.values(NAMES).map(named),
		(o) => `${NAMES.en[o % 12]}-${String(year(o, 12)).slice(2)}`,
		(o) => `${year(o, 12)}-${month(o)}-01`,
	],
	week: [
		(o) => String(formatPeriod('week', o)),
		(o) => String(formatPeriod('week', o)).replace('-W', ' KW '),
	],
	day: [
		(o) => String(formatPeriod('day', o)),
		(o) => dmy(o).join('.'),
		(o) => `${formatPeriod('day', o)}T00:00:00`,
		(o) => describePeriod('day', o),
	],
	hour: [
		(o) => String(formatPeriod('hour', o)),
		(o) => `${String(formatPeriod('hour', o)).replace('T', ' ')}:00`,
	],
};
const START: Record<string, string> = {
	year: '2004',
	quarter: '2015-Q3',
	month: '2019-05',
	week: '2019-W40',
	day: '2024-02-11',
	hour: '2024-02-11T05',
};

type Values = (number | null)[];
const figure = fc.oneof(
	fc.integer({ min: 3000, max: 99_000 }),
	fc.integer({ min: 300_000, max: 9_900_000 }).map((cents) => cents / 100),
	fc.integer({ min: -99_000, max: -3000 }),
);
/** Figures with holes, none of them at either end. All negative ones would be read without their sign. */
const series = (least: number, most: number) =>
	fc
		.tuple(fc.array(fc.option(figure, { freq: 6 }), { minLength: least, maxLength: most }), figure, figure)
		.map(([middle, first, last]): Values => [first, ...middle, last])
		.filter((values) => values.some((value) => value !== null && value > 0));
const style = fc.record({
	separator: fc.constantFrom(...SEPARATORS),
	figures: fc.constantFrom(...Object.keys(FIGURES)),
	missing: fc.constantFrom(...MISSING),
	end: fc.constantFrom('\n', '\r\n'),
	title: fc.boolean(),
});
type Style = typeof style extends fc.Arbitrary<infer S> ? S : never;

const quoted = (cell: string, separator: string) =>
	cell.includes(separator) || cell.includes('"') ? `"${cell.replaceAll('"', '""')}"` : cell;
function write(rows: string[][], { separator, end, title }: Style): string {
	const widths = rows[0]!.map((_, c) => Math.max(...rows.map((row) => row[c]!.length)));
	const line = (row: string[]) =>
		separator.trim() === '' && separator !== '\t'
			? row.map((cell, c) => cell.padEnd(widths[c]!)).join(separator)
			: row.map((cell) => quoted(cell, separator)).join(separator);
	return [...(title ? ['Demand of the depot', ''] : []), ...rows.map(line), ''].join(end);
}
const cells = (values: Values, { figures, missing }: Style) =>
	values.map((value) => (value === null ? missing : FIGURES[figures]!(value)));
/** A table set with blanks cannot show an empty last cell, and says so with a dash. */
const visible = (chosen: Style): Style => ({
	...chosen,
	missing: chosen.separator === '   ' && chosen.missing === '' ? '-' : chosen.missing,
});

function readsBack(text: string, frequency: Frequency, first: number, expected: Values[]): void {
	const reading = readText(text);
	expect(reading.problem, text).toBeNull();
	expect([reading.frequency, reading.items.map(({ values }) => values)], text).toEqual([frequency, expected]);
	expect(reading.items.map((item) => item.first)).toEqual(expected.map(() => first));
}

const spelt = fc
	.constantFrom(...(Object.keys(PERIODS) as Frequency[]))
	.chain((frequency) =>
		fc.record({ frequency: fc.constant(frequency), spell: fc.constantFrom(...PERIODS[frequency]!) }),
	);

test('a period and a figure a line, in every spelling', () => {
	fc.assert(
		fc.property(series(4, 30), spelt, style, fc.boolean(), (values, { frequency, spell }, chosen, headed) => {
			const look = visible(chosen);
			const first = parsePeriod(frequency, START[frequency]!);
			const rows = cells(values, look).map((cell, i) => [spell(first + i), cell]);
			readsBack(write(headed ? [['Period', 'Demand'], ...rows] : rows, look), frequency, first, [values]);
		}),
		{ numRuns: runs(400) },
	);
});

test('periods across, over one line or several', () => {
	const many = fc
		.integer({ min: 4, max: 20 })
		.chain((length) => fc.array(series(length, length), { minLength: 1, maxLength: 4 }));
	fc.assert(
		fc.property(many, spelt, style, (items, { frequency, spell }, chosen) => {
			const look = visible(chosen);
			const first = parsePeriod(frequency, START[frequency]!);
			const rows = [
				['Item', ...items[0]!.map((_, i) => spell(first + i))],
				...items.map((values, i) => [`Part ${String.fromCharCode(65 + i)}`, ...cells(values, look)]),
			];
			readsBack(write(rows, look), frequency, first, items);
		}),
		{ numRuns: runs(300) },
	);
});

test('items across and the long form, sorted or not', () => {
	const many = fc
		.integer({ min: 4, max: 16 })
		.chain((length) => fc.array(series(length, length), { minLength: 2, maxLength: 4 }));
	fc.assert(
		fc.property(
			many,
			spelt,
			style,
			fc.boolean(),
			fc.boolean(),
			(items, { frequency, spell }, chosen, long, backwards) => {
				const look = visible(chosen);
				const first = parsePeriod(frequency, START[frequency]!);
				const names = items.map((_, i) => `Part ${String.fromCharCode(65 + i)}`);
				const written = items.map((values) => cells(values, look));
				const periods = items[0]!.map((_, t) => t);
				if (backwards) periods.reverse();
				const rows = long
					? [
							['Item', 'Period', 'Demand'],
							...names.flatMap((name, i) => periods.map((t) => [name, spell(first + t), written[i]![t]!])),
						]
					: [
							['Period', ...names],
							...periods.map((t) => [spell(first + t), ...written.map((column) => column[t]!)]),
						];
				readsBack(write(rows, look), frequency, first, items);
			},
		),
		{ numRuns: runs(300) },
	);
});

const SEASONS = [
	{ frequency: 'month' as const, length: 12, labels: NAMES.en },
	{ frequency: 'month' as const, length: 12, labels: NAMES.de },
	{ frequency: 'month' as const, length: 12, labels: NAMES.fr },
	{ frequency: 'month' as const, length: 12, labels: NAMES.es },
	{ frequency: 'quarter' as const, length: 4, labels: ['Q1', 'Q2', 'Q3', 'Q4'] },
];

test('cycles and seasons, either way round, in columns of their own, or as blocks', () => {
	fc.assert(
		fc.property(
			fc.integer({ min: 2, max: 5 }),
			fc.constantFrom(...SEASONS),
			fc.constantFrom('cycles down', 'cycles across', 'columns', 'blocks'),
			style,
			fc.boolean(),
			fc.infiniteStream(figure),
			(cycles, { frequency, length, labels }, layout, chosen, totals, figures) => {
				const look = visible(chosen);
				const years = Array.from({ length: cycles }, (_, i) => String(2019 + i));
				const values = Array.from({ length: cycles * length }, () => figures.next().value as number);
				const written = cells(values, look);
				const cell = (y: number, s: number) => written[y * length + s]!;
				const sum = (of: number[]) => FIGURES[look.figures]!(of.reduce((a, b) => a + b, 0));
				const total = (y: number) => (totals ? [sum(values.slice(y * length, (y + 1) * length))] : []);
				const rows = {
					'cycles down': [
						['', ...labels, ...(totals ? ['Total'] : [])],
						...years.map((name, y) => [name, ...labels.map((_, s) => cell(y, s)), ...total(y)]),
					],
					'cycles across': [
						['', ...years],
						...labels.map((name, s) => [name, ...years.map((_, y) => cell(y, s))]),
						...(totals ? [['Sum', ...years.flatMap((_, y) => total(y))]] : []),
					],
					columns: [
						['Year', 'Season', 'Demand'],
						...years.flatMap((name, y) => labels.map((label, s) => [name, label, cell(y, s)])),
					],
					blocks: years.flatMap((name, y) => [
						['', ...labels.map((label) => `${label} ${name}`)],
						['Demand', ...labels.map((_, s) => cell(y, s))],
					]),
				}[layout];
				readsBack(write(rows, look), frequency, 2019 * length, [values]);
			},
		),
		{ numRuns: runs(400) },
	);
});
