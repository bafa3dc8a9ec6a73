import { readdirSync, readFileSync } from 'node:fs';
import { cutRows } from '../src/lib/reading/table';
import { expect, test } from 'vitest';
import { evaluate } from '../src/core/questions/evaluate';
import type { Frequency } from '../src/core/series/frequency';
import { formatPeriod } from '../src/core/series/period';
import { readText } from '../src/lib/reading/read';

interface Entry {
	code: string;
	name: string;
	unit: string;
	frequency: Frequency;
}

const file = (name: string) => readFileSync(new URL(name, import.meta.url), 'utf8');
const [headings = [], ...lines] = cutRows(file('items.csv'), ',');
const index = lines.map(
	(line) => Object.fromEntries(headings.map((heading, c) => [heading, line[c]])) as unknown as Entry,
);
const read = ({ code, frequency }: Entry) => {
	const reading = readText(file(`series/${code}.csv`), { frequency });
	const { values, first } = reading.items[0]!;
	return { problem: reading.problem, frequency: reading.frequency, values, first };
};
const valuesOf = (code: string) => read(index.find((entry) => entry.code === code)!).values;

test('there are at least 24 items, each with a file of its own', () => {
	expect(index.length).toBeGreaterThanOrEqual(24);
	expect(readdirSync(new URL('series/', import.meta.url)).sort()).toEqual(
		index.map(({ code }) => `${code}.csv`).sort(),
	);
	expect(new Set(index.map(({ name }) => name)).size).toBe(index.length);
});

test.each(index.map((entry) => [entry.code, entry] as const))(
	'%s reads without a problem at its own frequency',
	(_code, entry) => {
		const reading = read(entry);
		expect(reading.problem).toBeNull();
		expect(reading.frequency).toBe(entry.frequency);
		expect(reading.values.every((value) => value === null || value >= 0)).toBe(true);
	},
);

test('every frequency of a depot is there', () => {
	const frequencies = new Set(index.map(({ frequency }) => frequency));
	for (const frequency of ['hour', 'day', 'weekday', 'week', 'month', 'quarter', 'year']) {
		expect(frequencies.has(frequency as Frequency), frequency).toBe(true);
	}
});

test('the makes that an analyst meets are there: gap, zeros, freak, step, short, falling, huge, tiny, constant, long', () => {
	expect(valuesOf('50-210').filter((value) => value === null)).toHaveLength(1);
	expect(valuesOf('80-016').filter((value) => value === 0).length).toBeGreaterThan(20);
	const cassette = valuesOf('30-310').map((value) => value ?? 0);
	expect(Math.max(...cassette)).toBeGreaterThan(3 * cassette.toSorted((a, b) => a - b)[30]!);
	expect(valuesOf('30-128')).toHaveLength(10);
	const mean = (list: (number | null)[]) =>
		list.reduce<number>((sum, value) => sum + (value ?? 0), 0) / list.length;
	const guard = valuesOf('30-402');
	expect(mean(guard.slice(38)) / mean(guard.slice(0, 38))).toBeCloseTo(0.55, 1);
	expect(valuesOf('40-090')).toHaveLength(3);
	expect(valuesOf('95-160')).toHaveLength(3000);
	expect(new Set(valuesOf('99-050')).size).toBe(1);
	expect(new Set(valuesOf('30-505'))).toEqual(new Set([0, 1, 2, 3]));
	expect(Math.max(...valuesOf('99-040').map(Number))).toBeLessThan(0.01);
	expect(mean(valuesOf('99-030'))).toBeGreaterThan(1e6);
	const falling = valuesOf('10-118');
	expect(mean(falling.slice(-12))).toBeLessThan(0.7 * mean(falling.slice(0, 12)));
});

test('seasonal items look seasonal to the program, flat ones do not', () => {
	const codes = (code: string) => {
		const entry = index.find((candidate) => candidate.code === code)!;
		const { values, first, frequency } = read(entry);
		const { notes } = evaluate({
			series: { values, frequency, start: formatPeriod(frequency, first) },
			candidates: [],
		});
		return notes.map((note) => note.code);
	};
	for (const code of ['10-240', '10-255', '40-051', '70-214', '95-100', '95-140', '99-030'])
		expect(codes(code), code).toContain('looks-seasonal');
	for (const code of ['10-101', '20-090', '30-310', '30-402', '70-230', '99-040'])
		expect(codes(code), code).not.toContain('looks-seasonal');
});
