import { Unzip, UnzipInflate } from 'fflate';
import readWorkbookFile from 'read-excel-file/universal';
import { isBlank } from './table';

/** A sheet of a workbook as cells: figures with a decimal point, dates as 2024-03-01 or 2024-03-01T05:00:00. */
export interface Sheet {
	name: string;
	rows: string[][];
}

export type Workbook = { sheets: Sheet[] } | { problem: string };

/** What a workbook may unpack to; a table of a million cells takes about half of it. */
const LARGEST_UNPACKED = 64_000_000;
const ADVICE = 'Save the sheet as CSV and drop that file, or copy its cells and paste them.';

/** Whether bytes begin as a zip archive does, which a workbook is. */
export const looksLikeWorkbook = (bytes: Uint8Array): boolean =>
	bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2]! < 9;

/**
 * Reads every sheet of an .xlsx workbook. What it unpacks to is counted first, so that no archive, however it
 * describes itself, takes more memory than that.
 * @returns the sheets, or the reason why there are none
 */
export async function readWorkbook(bytes: Uint8Array): Promise<Workbook> {
	const unsafe = inspect(bytes);
	if (unsafe) return { problem: unsafe };
	try {
		// A copy: what comes from a server's buffer is a window on a larger one.
		const sheets = await readWorkbookFile(new Uint8Array(bytes).buffer, { trim: true });
		return {
			sheets: sheets.map(({ sheet, data }) => ({
				name: sheet,
				rows: dropBlankEnd(data.map((row) => row.map(cellText))),
			})),
		};
	} catch (error) {
		const why = error instanceof Error ? error.message : String(error);
		return { problem: `This workbook cannot be read: ${why.slice(0, 200)}. ${ADVICE}` };
	}
}

/** The reason not to unpack an archive; null where there is none. */
function inspect(bytes: Uint8Array): string | null {
	let unpacked = 0;
	let reason: string | null = null;
	let sheets = 0;
	const unzip = new Unzip((file) => {
		if (/^xl\/worksheets\/.*\.xml$/.test(file.name)) sheets++;
		file.ondata = (error, chunk) => {
			if (error) reason ??= `This workbook is damaged in ${file.name.slice(0, 60)}. ${ADVICE}`;
			unpacked += chunk?.length ?? 0;
			if (unpacked > LARGEST_UNPACKED) {
				reason ??= `This workbook unpacks to more than ${LARGEST_UNPACKED / 1e6} MB, which is more than a sheet of figures takes. ${ADVICE}`;
			}
			if (reason) file.terminate();
		};
		if (!reason) file.start();
	});
	unzip.register(UnzipInflate);
	// In pieces, so that a bomb is noticed before it has gone off.
	const PIECE = 16_384;
	try {
		for (let at = 0; at < bytes.length && !reason; at += PIECE)
			unzip.push(bytes.subarray(at, at + PIECE), at + PIECE >= bytes.length);
	} catch {
		reason ??= `This workbook is damaged: it breaks off or is no .xlsx file. ${ADVICE}`;
	}
	if (!reason && sheets === 0)
		return `This is no .xlsx workbook, or it breaks off before its first sheet. ${ADVICE}`;
	return reason;
}

function dropBlankEnd(rows: string[][]): string[][] {
	while (rows.length > 0 && isBlank(rows.at(-1)!)) rows.pop();
	return rows;
}

/** A typed cell as text. Dates are kept as UTC midnight of their day by the reader. */
function cellText(value: unknown): string {
	if (value === null || value === undefined) return '';
	if (value instanceof Date) {
		if (Number.isNaN(value.getTime())) return '';
		const text = value.toISOString();
		return text.endsWith('T00:00:00.000Z') ? text.slice(0, 10) : text.slice(0, 19);
	}
	return String(value).trim();
}
