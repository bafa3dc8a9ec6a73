import { decode, type Encoding } from './decode';
import { BOUNDS } from '$core/bounds';
import { shorten } from './figures';
import { jsonRows, looksLikeJson } from './json';
import { refuseCuts, refuseRows } from './size';
import {
	CutError,
	cutRows,
	type Delimiter,
	findDelimiter,
	withoutLines,
	withoutSpacing,
	withTabs,
} from './table';

/** What a table came in, opened as far as it can be without deciding anything about its cells. */
export type Source =
	| { kind: 'text'; text: string; encoding: Encoding | null; encodingGuessed: boolean }
	| { kind: 'json'; text: string }
	| { kind: 'workbook'; sheets: { name: string; rows: string[][] }[] }
	| { kind: 'none'; problem: string };

/** Control characters other than tab and line ends, and the mark of bytes that were no text. */
function holdsControls(text: string): boolean {
	for (let i = 0; i < text.length; i++) {
		const code = text.charCodeAt(i);
		if (code < 9 || (code > 13 && code < 32) || code === 0xfffd) return true;
	}
	return false;
}

/** Opens a pasted text. */
export function openText(text: string, encoding: Encoding | null = null, encodingGuessed = false): Source {
	const problem = refuseText(text);
	if (problem) return { kind: 'none', problem };
	return looksLikeJson(text) ? { kind: 'json', text } : { kind: 'text', text, encoding, encodingGuessed };
}

/** Whether bytes begin as a zip archive does, which a workbook is. */
const looksLikeWorkbook = (bytes: Uint8Array): boolean =>
	bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2]! < 9;

/** Opens a file's bytes: a workbook, JSON, or delimited text in any of the usual encodings. */
export async function openBytes(bytes: Uint8Array, encoding?: Encoding): Promise<Source> {
	if (bytes.length > BOUNDS.tableBytes) {
		return {
			kind: 'none',
			problem: `This file has ${Math.round(bytes.length / 1e6)} MB; at most ${BOUNDS.tableBytes / 1e6} MB are read at once.`,
		};
	}
	if (looksLikeWorkbook(bytes)) {
		// What reads workbooks is loaded with the first of them.
		const { readWorkbook } = await import('./workbook');
		const workbook = await readWorkbook(bytes);
		return 'problem' in workbook
			? { kind: 'none', problem: workbook.problem }
			: { kind: 'workbook', sheets: workbook.sheets };
	}
	if (bytes[0] === 0xd0 && bytes[1] === 0xcf && bytes[2] === 0x11) {
		return {
			kind: 'none',
			problem:
				'This is a workbook of an old format (.xls) or a protected one. Save it as .xlsx or CSV and drop that file.',
		};
	}
	const decoded = decode(bytes, encoding);
	return openText(decoded.text, decoded.encoding, decoded.guessed);
}

function refuseText(text: string): string | null {
	if (text.trim() === '') return 'There is nothing here yet. Paste a table or drop a file.';
	if (text.length > BOUNDS.tableCharacters) {
		return `This is ${(text.length / 1e6).toFixed(0)} million characters; at most ${BOUNDS.tableCharacters / 1e6} million are read at once. Save it as a file and drop that.`;
	}
	if (holdsControls(text)) {
		return 'This is not text: it holds characters that no table has. Save the table as CSV and drop that file, or copy the cells and paste them.';
	}
	if (!text.isWellFormed()) {
		const at = [...text].findIndex((character) => !character.isWellFormed());
		return `The text holds half of a character, after “${shorten([...text].slice(Math.max(0, at - 12), at).join(''))}”. It was cut on its way; copy it again.`;
	}
	return null;
}

/** A source as rows of cells. */
export interface Opened {
	rows: string[][];
	/** Figures stand there as numbers, so that their decimal mark is a point. */
	typed: boolean;
	delimiter: Delimiter | null;
	otherDelimiters: readonly Delimiter[];
	/** Whether it was set with a blank line after each, which are left out. */
	spaced: boolean;
	sheets: readonly string[];
	sheet: string | null;
}

const NO_DELIMITER = { delimiter: null, otherDelimiters: [], spaced: false, sheets: [], sheet: null };

/** Cuts a source into cells, or says why that cannot be. */
export function rowsOf(
	source: Source,
	choices: { delimiter?: Delimiter | undefined; sheet?: string | undefined },
): Opened | { problem: string } {
	const opened = cutSource(source, choices);
	const problem = 'problem' in opened ? null : refuseRows(opened.rows);
	return problem === null ? opened : { problem };
}

function cutSource(
	source: Source,
	choices: { delimiter?: Delimiter | undefined; sheet?: string | undefined },
): Opened | { problem: string } {
	switch (source.kind) {
		case 'none':
			return { problem: source.problem };
		case 'json': {
			const cells = jsonRows(source.text);
			return 'problem' in cells ? cells : { ...cells, ...NO_DELIMITER };
		}
		case 'workbook': {
			const sheets = source.sheets.map(({ name }) => name);
			// The first sheet with more than a cell or two on it, until another one is chosen.
			const chosen =
				source.sheets.find(({ name }) => name === choices.sheet) ??
				source.sheets.find(({ rows }) => holdsMoreThan(rows, 2)) ??
				source.sheets[0];
			if (!chosen || chosen.rows.length === 0)
				return { problem: 'This workbook has no cells with anything in them.' };
			return { rows: chosen.rows, typed: true, ...NO_DELIMITER, sheets, sheet: chosen.name };
		}
		case 'text': {
			const drawn = withoutLines(source.text);
			const text = withTabs(drawn) ?? drawn;
			const found = findDelimiter(text);
			const delimiter = choices.delimiter ?? found.delimiter;
			const problem = refuseCuts(text, delimiter);
			if (problem) return { problem };
			try {
				const cut = cutRows(text, delimiter);
				const rows = withoutSpacing(cut);
				const spaced = rows.length < cut.length;
				return {
					rows,
					typed: false,
					delimiter,
					otherDelimiters: found.others,
					spaced,
					sheets: [],
					sheet: null,
				};
			} catch (error) {
				if (!(error instanceof CutError)) throw error;
				return {
					problem: `The text cannot be cut into columns: ${error.message}. Close it, or leave it out.`,
				};
			}
		}
	}
}

/** Whether more than so many cells hold something. */
function holdsMoreThan(rows: readonly string[][], count: number): boolean {
	let filled = 0;
	return rows.some((row) => row.some((cell) => cell !== '' && ++filled > count));
}
