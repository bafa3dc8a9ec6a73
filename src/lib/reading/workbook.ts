import { Unzip, UnzipInflate } from 'fflate';
import readWorkbookFile from 'read-excel-file/universal';
import { BOUNDS, written } from '$core/bounds';
import { refuseShape } from './size';
import { isBlank } from './table';

/** A sheet of a workbook as cells: figures with a decimal point, dates as 2024-03-01 or 2024-03-01T05:00:00. */
export interface Sheet {
	name: string;
	rows: string[][];
}

export type Workbook = { sheets: Sheet[] } | { problem: string };

const ADVICE = 'Save the sheet as CSV and drop that file, or copy its cells and paste them.';

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
	let cells = 0;
	const unzip = new Unzip((file) => {
		if (/^xl\/worksheets\/.*\.xml$/.test(file.name)) sheets++;
		if (sheets > BOUNDS.sheets)
			reason ??= `This workbook has more than ${written(BOUNDS.sheets)} sheets. ${ADVICE}`;
		// Which part is a sheet, the workbook itself says elsewhere: each part is counted as if it were one.
		const size = /\.xml$/i.test(file.name) ? new SheetSize() : null;
		file.ondata = (error, chunk, final) => {
			if (error) reason ??= `This workbook is damaged in ${file.name.slice(0, 60)}. ${ADVICE}`;
			unpacked += chunk?.length ?? 0;
			if (unpacked > BOUNDS.tableUnpacked) {
				reason ??= `This workbook unpacks to more than ${BOUNDS.tableUnpacked / 1e6} MB, which is more than a sheet of figures takes. ${ADVICE}`;
			}
			if (!reason && size && chunk) reason = size.take(chunk, final);
			if (!reason && size && final) {
				cells += size.rows * size.columns;
				reason = refuseShape(size.rows, size.columns);
				if (!reason && cells > BOUNDS.tableCells)
					reason = `The sheets of this workbook have more than ${written(BOUNDS.tableCells)} cells together, blank ones counted. ${ADVICE}`;
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
		reason ??= `This workbook is damaged: it breaks off or is not an .xlsx file. ${ADVICE}`;
	}
	if (!reason && sheets === 0)
		return `This is not an .xlsx workbook, or it breaks off before its first sheet. ${ADVICE}`;
	return reason;
}

/** Rows and cells of a sheet with their address, whatever stands before their names and between their attributes. */
const PLACED = /<(?:[\w.-]+:)?(row|c)(?=[\s/>])((?:[^<>"']|"[^"<]*"|'[^'<]*')*)(>?)/g;
/** Every place that a tag might name, so that none hides behind another. */
const ADDRESS = /(?:^|[\s"'])r\s*=\s*["']([^"']*)["']/g;
/** Longer than any tag and any text of a cell: what has no end by then is no sheet. */
const LONGEST_PART = 400_000;

/** Counts how far a sheet reaches while it is unpacked, so that none is laid out that is larger than its bound. */
class SheetSize {
	rows = 0;
	columns = 0;
	#rest = '';
	readonly #decoder = new TextDecoder('latin1');

	/** @returns why the sheet is not read; null so far */
	take(chunk: Uint8Array, final: boolean): string | null {
		const text = this.#rest + this.#decoder.decode(chunk, { stream: !final });
		const whole = final ? text.length : Math.max(0, text.lastIndexOf('<'));
		this.#rest = text.slice(whole);
		if (this.#rest.length > LONGEST_PART) {
			if (this.#rest.startsWith('<')) return `This workbook is damaged: a part of it has no end. ${ADVICE}`;
			this.#rest = '';
		}
		for (const [, name, attributes, end] of text.slice(0, whole).matchAll(PLACED)) {
			const addresses = [...attributes!.matchAll(ADDRESS)].map(([, address]) => address!);
			if (name === 'row') this.rows++;
			if (end === '' || !addresses.every((address) => this.#reach(name!, address)))
				return `This workbook is damaged: “${(addresses.at(-1) ?? attributes!).trim().slice(0, 20)}” is not a cell of a sheet. ${ADVICE}`;
			if (this.rows > BOUNDS.tableRows || this.columns > BOUNDS.tableColumns) break;
		}
		return refuseShape(this.rows, this.columns);
	}

	#reach(name: string, address: string): boolean {
		const [, letters = '', digits] = /^([A-Z]{0,3})(\d{1,7})$/.exec(address) ?? [];
		if (digits === undefined || (letters === '') !== (name === 'row')) return false;
		const column = [...letters].reduce((sum, letter) => 26 * sum + letter.charCodeAt(0) - 64, 0);
		this.columns = Math.max(this.columns, column);
		this.rows = Math.max(this.rows, Number(digits));
		return true;
	}
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
