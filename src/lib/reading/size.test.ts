import { describe, expect, test } from 'vitest';
import { emptyRows, farCell, farCells, manyKeys, manyRows, workbookOf } from '../../../tests/made/hostile';
import { readBytes, readText } from './read';

describe('what is too large is counted before it is made', () => {
	test('a workbook with a figure in its last cell', async () => {
		const bytes = farCell();
		expect(bytes.length).toBeLessThan(1500);
		expect((await readBytes(bytes)).problem).toMatch(
			/has 1\s048\s576 rows; at most 400\s000 are read at once/,
		);
	});

	test('a workbook with 2,000 figures far apart', async () => {
		const bytes = farCells();
		expect(bytes.length).toBeLessThan(20_000);
		expect((await readBytes(bytes)).problem).toMatch(/16\s384 columns; at most 2\s000\s000 cells/);
	});

	test('a workbook of millions of empty rows', async () => {
		const bytes = emptyRows();
		expect(bytes.length).toBeLessThan(90_000);
		expect((await readBytes(bytes)).problem).toMatch(/rows; at most 400\s000 are read at once/);
	});

	test('JSON with thousands of different keys', () => {
		const text = manyKeys();
		expect(text.length).toBeLessThan(90_000);
		expect(readText(text).problem).toMatch(/5\s000 rows and \d+ columns; at most 2\s000\s000 cells/);
		expect(readText(manyKeys(1000)).problem ?? '').not.toMatch(/at most/);
	});

	test('8 MB of a figure a line', () => {
		expect(readText(manyRows()).problem).toMatch(
			/4\s000\s000 rows; at most 400\s000 are read at once.*read row by row/,
		);
	});

	test('millions of separators, lists inside lists, and a cell that is a book', () => {
		expect(readText(Array.from({ length: 9 }, () => ';'.repeat(500_000)).join('\n')).problem).toMatch(
			/4\s500\s000 separators/,
		);
		expect(readText(`[${'[1],'.repeat(400_001)}[1]]`).problem).toMatch(/400\s002 rows/);
		expect(readText(`month;demand\n2024-01;${'x'.repeat(40_000)}\n2024-02;5`).problem).toMatch(
			/A cell in row 2 has 40\s000 characters; a cell has at most 32\s767/,
		);
	});
});

describe('addresses in a sheet that are none, or hide', () => {
	test.each([
		['no column', '<row r="1"><c r="7"><v>1</v></c></row>'],
		['a row as a power', '<row r="1e9"><c r="A1"><v>1</v></c></row>'],
		['an entity', '<row r="1"><c r="&#88;FD1048576"><v>1</v></c></row>'],
		['a tag within a tag', '<row r="1"><c s="<" r="XFD1048576"><v>1</v></c></row>'],
		['small letters', '<row r="1"><c r="xfd1"><v>1</v></c></row>'],
	])('%s', async (_name, rows) => {
		expect((await readBytes(workbookOf(rows))).problem).toMatch(/damaged: .* is not a cell of a sheet/);
	});

	test.each([
		['behind another', `<row r="1"><c t=' r="A1"' r="XFD1048576"><v>1</v></c></row>`],
		['behind a larger-than sign', '<row r="1"><c s=">" r="XFD1048576"><v>1</v></c></row>'],
		['with a prefix', '<x:row r="1"><x:c r="XFD1048576"><v>1</v></x:c></x:row>'],
		['in single quotes', `<row r="1"><c r='XFD1048576'><v>1</v></c></row>`],
	])('far away, %s', async (_name, rows) => {
		expect((await readBytes(workbookOf(rows))).problem).toMatch(/has 1\s048\s576 rows/);
	});

	test('a sheet as it should be is read, across the pieces that it comes in', async () => {
		const rows = Array.from(
			{ length: 5000 },
			(_, i) =>
				`<row r="${i + 1}"><c r="A${i + 1}"><v>${1000 + i}</v></c><c r="B${i + 1}" t="inlineStr"><is><t>row ${i}</t></is></c></row>`,
		);
		const reading = await readBytes(workbookOf(rows.join('')));
		expect(reading.problem).toBeNull();
		expect([reading.rowCount, reading.columnCount]).toEqual([5000, 2]);
	});
});
