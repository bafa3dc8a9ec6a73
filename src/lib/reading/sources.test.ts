import { strToU8, zipSync } from 'fflate';
import { describe, expect, test } from 'vitest';
import writeWorkbook, { type SheetData } from 'write-excel-file/universal';
import { formatPeriod } from '$core/series/period';
import { readBytes, readText, spanOf } from './read';

const bytesOf = (text: string) => new TextEncoder().encode(text);
const utf16 = (text: string, bigEnd: boolean, mark: boolean) => {
	const units = [...(mark ? '\ufeff' : ''), ...text].map((character) => character.charCodeAt(0));
	return Uint8Array.from(
		units.flatMap((unit) => (bigEnd ? [unit >> 8, unit & 255] : [unit & 255, unit >> 8])),
	);
};
const workbook = async (...sheets: { sheet: string; data: SheetData }[]) =>
	new Uint8Array(await (await writeWorkbook(sheets).toBlob()).arrayBuffer());

describe('encodings', () => {
	const text = 'Période;Quantité\r\n2024-01;4,5\r\n2024-02;5,25\r\n';
	test.each([
		['UTF-8', bytesOf(text), 'utf-8'],
		['UTF-8 with its mark', Uint8Array.from([0xef, 0xbb, 0xbf, ...bytesOf(text)]), 'utf-8'],
		['UTF-16 with its mark', utf16(text, false, true), 'utf-16le'],
		['UTF-16 without', utf16(text, false, false), 'utf-16le'],
		['UTF-16, big end first', utf16(text, true, true), 'utf-16be'],
		['Latin-1', Uint8Array.from([...text].map((character) => character.charCodeAt(0))), 'windows-1252'],
	])('%s', async (_name, bytes, encoding) => {
		const reading = await readBytes(bytes);
		expect(reading).toMatchObject({ problem: null, encoding, frequency: 'month' });
		expect(reading.items[0]).toMatchObject({ name: 'Quantité', values: [4.5, 5.25] });
		expect(reading.doubts.some(({ code }) => code === 'encoding')).toBe(encoding === 'windows-1252');
	});
});

describe('workbooks', () => {
	test('dates and figures are typed; another sheet is one choice away', async () => {
		const date = (day: string) => ({ value: new Date(`${day}T00:00:00Z`), type: Date, format: 'dd/mm/yyyy' });
		const bytes = await workbook(
			{ sheet: 'Notes', data: [[{ value: 'Counted by hand' }]] },
			{
				sheet: 'Demand',
				data: [
					[{ value: 'Month' }, { value: 'Chain' }],
					[date('2024-01-31'), { value: 1.125 }],
					[date('2024-02-29'), { value: 1204 }],
					[date('2024-04-30'), { value: -3.5 }],
				],
			},
			{ sheet: 'Other', data: [[{ value: 'Pedal' }], [{ value: 7 }], [{ value: 8 }]] },
		);
		const reading = await readBytes(bytes);
		expect(reading).toMatchObject({
			problem: null,
			sheet: 'Demand',
			sheets: ['Notes', 'Demand', 'Other'],
			frequency: 'month',
		});
		expect(reading.items[0]).toMatchObject({ code: 'Chain', values: [1.125, 1204, null, -3.5] });
		expect(spanOf('month', reading.items[0]!)).toBe('Jan 2024 – Apr 2024');
		const other = await readBytes(bytes, { sheet: 'Other' });
		expect(other.items[0]).toMatchObject({ code: 'Pedal', values: [7, 8] });
	});

	test('dates that lost their format are known as the serial numbers they are', async () => {
		const data = [45_292, 45_323, 45_352].map((serial, i) => [{ value: serial }, { value: 10 + i }]);
		const reading = await readBytes(await workbook({ sheet: 'Demand', data }));
		expect(reading).toMatchObject({
			problem: null,
			frequency: 'month',
			spelling: 'serial dates of a spreadsheet',
		});
		expect(formatPeriod('month', reading.items[0]!.first)).toBe('2024-01');
	});

	test('a truncated one, an empty one and an archive of something else each get a sentence', async () => {
		const whole = await workbook({ sheet: 'Demand', data: [[{ value: 4 }], [{ value: 5 }]] });
		for (const end of [4, 40, 400, whole.length - 60, whole.length - 2]) {
			expect((await readBytes(whole.slice(0, end))).problem).toMatch(/workbook.*Save the sheet as CSV/);
		}
		expect((await readBytes(zipSync({ 'readme.txt': strToU8('hello') }))).problem).toMatch(
			/not an \.xlsx workbook/,
		);
		expect((await readBytes(await workbook({ sheet: 'Demand', data: [] }))).problem).toMatch(/no cells/);
		expect((await readBytes(Uint8Array.from([0xd0, 0xcf, 0x11, 0xe0]))).problem).toMatch(/Save it as \.xlsx/);
	});

	test('an archive that unpacks to gigabytes is refused before it is unpacked', async () => {
		const bomb = zipSync({ 'xl/worksheets/sheet1.xml': new Uint8Array(100_000_000) }, { level: 9 });
		expect(bomb.length).toBeLessThan(200_000);
		expect((await readBytes(bomb)).problem).toMatch(/unpacks to more than 64 MB/);
	});
});

describe('hostile tables', () => {
	test('16,384 columns', () => {
		const figures = Array.from({ length: 16_384 }, (_, i) => (i * 37) % 101);
		expect(readText(figures.join('\t')).items[0]!.values).toEqual(figures);
		const named = readText(`Part\t${figures.map((_, i) => `c${i} d`).join('\t')}\nA\t${figures.join('\t')}`);
		expect(named.items.length + (named.problem ?? '').length).toBeGreaterThan(0);
	});

	test('a line of many million characters', () => {
		expect(readText('9'.repeat(9_000_000)).problem).toMatch(/9 million characters; at most 8 million/);
		expect(readText(`${'7'.repeat(2_000_000)}\n${'x'.repeat(900_000)}`).problem).not.toBeNull();
		expect(readText(`"${'\n'.repeat(1_000_000)}`).problem).not.toBeNull();
		expect(readText(','.repeat(500_000)).problem).not.toBeNull();
	});

	test('half a character, zero bytes', () => {
		expect(readText('Chain \ud83d\n4\n5').problem).toMatch(/half of a character, after “Chain ”/);
		expect(readText('412\u0000\n398').problem).toMatch(/not text/);
		expect(readText('4\n5\n\u0000').problem).toMatch(/not text/);
	});

	test('formulas are words, not figures', () => {
		const reading = readText('=SUM(A1:A9)\n=1+1\n4');
		expect(reading.items.flatMap(({ values }) => values)).not.toContain(2);
		expect(readText('2024-01;=1+1\n2024-02;4\n2024-03;5').problem).toMatch(/“=1\+1”, which is not a figure/);
	});

	test('JSON that is none, or no table', () => {
		expect(readText('[412, 398').problem).toMatch(/begins like JSON and is not/);
		expect(readText('{"a": {"b": {}}}').problem).toMatch(/No table can be made of this JSON/);
		expect(readText('[[[1]]]').problem).toMatch(/No table can be made/);
		expect(readText(`${'['.repeat(100_000)}`).problem).not.toBeNull();
	});
});

describe('what could be read in another way is listed with its choice', () => {
	const doubtOf = (text: string, code: string) => readText(text).doubts.find((doubt) => doubt.code === code);
	test('day or month first', () => {
		const text = '03/04/2024;1\n05/04/2024;2\n07/04/2024;3';
		const doubt = doubtOf(text, 'date-order')!;
		expect(doubt.text).toMatch(/none of them shows which/);
		const [first, other] = [readText(text), readText(text, doubt.options[0]!.choices)];
		expect(first.spelling).not.toBe(other.spelling);
		expect(doubtOf('31/01/2024;1\n29/02/2024;2', 'date-order')).toBeUndefined();
	});
	test.each([
		[
			'thousands or decimals',
			'2,204\t1\n1,310\t2\n',
			'decimal-mark',
			(r: ReturnType<typeof readText>) => r.items[0]!.values[0],
		],
		[
			'the separator',
			'1;2\t3\n4;5\t6\n',
			'separator',
			(r: ReturnType<typeof readText>) => JSON.stringify(r.items),
		],
		[
			'duplicates',
			'2024-01;4\n2024-01;5\n2024-02;6',
			'duplicates',
			(r: ReturnType<typeof readText>) => r.items[0]!.values[0],
		],
		['percent', '12%\n15%', 'percent', (r: ReturnType<typeof readText>) => r.items[0]!.values[0]],
		[
			'the frequency',
			'2024-03-04;4\n2024-03-11;5',
			'frequency',
			(r: ReturnType<typeof readText>) => r.items[0]!.values.length,
		],
		[
			'a column of sums',
			'M\tA\tB\tC\tD\n2024-01\t1\t4\t8\t13\n2024-02\t2\t5\t9\t16',
			'total-column',
			(r: ReturnType<typeof readText>) => r.items.length,
		],
		[
			'a row of sums',
			'\t2024-01\t2024-02\nA\t1\t2\nB\t4\t5\nC\t8\t9\nD\t13\t16',
			'total-row',
			(r: ReturnType<typeof readText>) => r.items.length,
		],
	])('%s', (_name, text, code, look) => {
		const doubt = doubtOf(text, code)!;
		expect(doubt.options.length).toBeGreaterThan(0);
		for (const { choices } of doubt.options) {
			const other = readText(text, choices);
			expect(look(other)).not.toEqual(look(readText(text)));
		}
	});
	test('what was left out is said', () => {
		const reading = readText(
			'Demand of the depot\n\nMonth\tChain\tTotal\n2024-01\t4\t4\n2024-02\t5\t5\nSum\t9\t9\n\nby hand',
		);
		expect(reading.doubts.map(({ text }) => text).join('\n')).toMatch(
			/1 column and 1 row of totals[^]*2 rows hold a title/,
		);
	});
	test('one bad item of several does not hold up the others', () => {
		const reading = readText('Month;A;B\n2024-01;1;4\n2024-02;two;5\n2024-03;3;6\n2024-04;3;6');
		expect(reading.problem).toBeNull();
		expect(reading.items.map(({ problem }) => problem === null)).toEqual([false, true]);
		expect(reading.doubts.find(({ code }) => code === 'items')!.text).toMatch(
			/1 of 2 items.*“two”, which is not a figure/,
		);
	});
	test('a role given by hand is followed', () => {
		const text = '1\t412\n2\t398\n3\t440';
		expect(readText(text).items).toHaveLength(1);
		expect(readText(text, { columns: { 0: 'figure' } }).items.map(({ values }) => values)).toEqual([
			[1, 2, 3],
			[412, 398, 440],
		]);
		expect(
			readText('A\t1\t2\nB\t3\t4', { order: 'down', columns: { 0: 'ignored' } }).items.map(
				({ values }) => values,
			),
		).toEqual([
			[1, 3],
			[2, 4],
		]);
	});
});
