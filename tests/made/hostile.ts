import { strToU8, zipSync } from 'fflate';

/** Small bodies that ask for a lot, as they could come in a table or a call. */

const parts = (sheet: string) => ({
	'[Content_Types].xml': strToU8(
		'<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/></Types>',
	),
	'xl/workbook.xml': strToU8(
		'<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="Demand" sheetId="1" r:id="rId1"/></sheets></workbook>',
	),
	'xl/_rels/workbook.xml.rels': strToU8(
		'<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/></Relationships>',
	),
	'xl/worksheets/sheet1.xml': strToU8(
		`<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>${sheet}</sheetData></worksheet>`,
	),
});

/** A workbook with one sheet, of whose rows the XML is given. */
export const workbookOf = (rows: string): Uint8Array => zipSync(parts(rows), { level: 9 });

const cell = (address: string, figure = 7) => `<c r="${address}"><v>${figure}</v></c>`;

/** Two figures that can be read, and one in the last cell that a sheet has. */
export const farCell = (): Uint8Array =>
	workbookOf(
		`<row r="1">${cell('A1')}</row><row r="2">${cell('A2')}</row><row r="1048576">${cell('XFD1048576')}</row>`,
	);

/** Two thousand figures, each far to the right in a row far below the one before. */
export const farCells = (): Uint8Array =>
	workbookOf(
		Array.from({ length: 2000 }, (_, i) => {
			const r = 1 + 190 * i;
			return `<row r="${r}">${cell(`XFD${r}`)}</row>`;
		}).join(''),
	);

/** Millions of rows with nothing in them. */
export const emptyRows = (): Uint8Array =>
	workbookOf(`<row r="1">${cell('A1')}</row>${'<row/>'.repeat(9_000_000)}`);

/** A JSON list of objects, each with a key of its own. */
export const manyKeys = (count = 5000): string =>
	JSON.stringify(Array.from({ length: count }, (_, i) => ({ [`k${i}`]: i })));

/** Millions of rows of one figure. */
export const manyRows = (): string => '1\n'.repeat(3_999_999);
