import Papa from 'papaparse';
import { written } from '$core/bounds';
import { isBareFigure, isFigure, isMissing } from './figures';
import { isPeriodWord } from './periods';

/** What cells are cut at; two blanks stand for any run of them, as in a document or a mail. */
export const DELIMITERS = ['\t', ';', ',', '|', '  ', ' '] as const;
export type Delimiter = (typeof DELIMITERS)[number];

/** The word for a delimiter in sentences and choices. */
export const DELIMITER_NAME: Readonly<Record<Delimiter, string>> = {
	'\t': 'tab',
	';': 'semicolon',
	',': 'comma',
	'|': 'upright bar',
	'  ': 'run of blanks',
	' ': 'blank',
};

/** Tables drawn with lines have bars in their place, and nothing where a line is drawn across. */
export const withoutLines = (text: string): string =>
	/[\u2500-\u257f]/.test(text)
		? text.replace(/^[^\S\n]*[\u2500-\u257f][\u2500-\u257f \t]*(?:\r?\n|$)/gm, '').replace(/[│┃║┆┇┊┋]/g, '|')
		: text;

/** A period or a word, a colon or an equals sign, and a figure: “Mar 2024: 412”, “2024-03 = 412”. */
const PAIR = /^([^\t;|:=]*[^\s\t;|:=])\s*(?::\s+|\s*=\s*)(\S.*)$/;

/** Text of which most lines are pairs, with a tab between the two of each; null for any other. */
export function withTabs(text: string): string | null {
	if (!/[:=]/.test(text) || text.length > SAMPLE_CHARACTERS) return null;
	const lines = linesOf(text);
	const filled = lines.filter((line) => line.trim() !== '');
	const pairs = filled.filter((line) => {
		const [, label, figure] = PAIR.exec(line.trim()) ?? [];
		return label !== undefined && isFigure(figure!.trim()) && (isPeriodWord(label) || /^\d{4}$/.test(label));
	});
	if (pairs.length < 2 || pairs.length < 0.7 * filled.length) return null;
	return lines.map((line) => line.trim().replace(PAIR, '$1\t$2')).join('\n');
}

/** Text cut into rows of cells, blank rows included; a row keeps the cells it has. */
export function cutRows(text: string, delimiter: Delimiter): string[][] {
	const rows =
		delimiter === '  '
			? cutAtRuns(text)
			: delimiter === ' '
				? cutAtBlanks(text)
				: cutDelimited(text, delimiter);
	while (rows.length > 0 && isBlank(rows.at(-1)!)) rows.pop();
	return rows;
}

/**
 * A part of a longer text, cut as the whole of it would be; what a text ends with is no row.
 * @param framed whether its rows stand between bars
 */
export function cutPart(text: string, delimiter: Delimiter, framed: boolean): string[][] {
	const rows = delimiter === ' ' ? cutAtBlanks(text) : cutDelimited(withoutLines(text), delimiter, framed);
	if (rows.at(-1)?.every((cell) => cell === '')) rows.pop();
	return rows;
}

/** Thrown for a quotation mark without an end. */
export class CutError extends Error {
	override name = 'CutError';

	constructor(
		/** 0-based row that it begins in. */
		readonly row: number,
	) {
		super(`the quotation mark in row ${written(row + 1)} has no end`);
	}
}

/**
 * Delimited text as rows of trimmed cells, blank rows included.
 * @param framed whether rows between bars have one at both ends; found out where it is not said
 * @throws CutError
 */
export function cutDelimited(text: string, delimiter: Delimiter, framed?: boolean): string[][] {
	const blanksBefore = new RegExp(
		`(^|[\n${delimiter === '|' || delimiter === '\t' ? `\\${delimiter}` : delimiter}]) +"`,
		'g',
	);
	const lines = text.replace(/^\ufeff/, '').replace(/\r\n?/g, '\n');
	const plain = lines.includes(' "') ? lines.replace(blanksBefore, '$1"') : lines;
	const { data, errors } = Papa.parse<string[]>(plain, { delimiter, newline: '\n' });
	const open = errors.find(({ code }) => code === 'MissingQuotes');
	if (open) throw new CutError(open.row ?? 0);
	for (const row of data) for (let c = 0; c < row.length; c++) row[c] = row[c]!.trim();
	return delimiter === '|' ? withoutFrames(data, framed ?? isFramed(data)) : data;
}

const isRule = (row: readonly string[]) =>
	row.every((cell) => /^:?[-=+]*:?$/.test(cell)) && row.some((cell) => cell.length > 2);

/** Whether rows cut at bars have nothing before the first and behind the last of them. */
function isFramed(rows: readonly string[][]): boolean {
	const barred = rows.filter((row) => row.length > 2 && !isRule(row));
	return barred.length > 0 && barred.every((row) => row[0] === '' && row.at(-1) === '');
}

/** Rows between bars at both ends and rules made of dashes, as tables are drawn in plain text. */
function withoutFrames(rows: string[][], framed: boolean): string[][] {
	return rows.filter((row) => !isRule(row)).map((row) => (framed && row.length > 2 ? row.slice(1, -1) : row));
}

const linesOf = (text: string) => text.replace(/^\ufeff/, '').split(/\r\n?|\n/);

const cutAtBlanks = (text: string) => linesOf(text).map((line) => line.trim().split(/\s+/));

/**
 * Columns set with blanks: cut where all lines of the table have two or more blanks above each other, so that an
 * empty cell stays in its place; lines that do not keep to it are cut at their own runs of blanks.
 */
function cutAtRuns(text: string): string[][] {
	const lines = linesOf(text).map((line) => line.replaceAll('\t', '    ').trimEnd());
	const own = lines.map((line) => line.trim().split(/ {2,}/));
	const most = own.reduce((widest, cells) => Math.max(widest, cells.length), 0);
	const aligned = lines.filter((_, i) => own[i]!.length > 1);
	const gutters = guttersOf(aligned);
	if (gutters.length + 1 < most) return own;
	return lines.map((line, i) => {
		const cells = cutAt(line, gutters);
		if (own[i]!.length > 1 || isPeriodWord(own[i]![0]!)) return cells;
		// A word alone in its line belongs to the column that it stands in, unless it runs over several.
		const [only, ...more] = cells.filter((cell) => cell !== '');
		return more.length === 0 && only === own[i]![0] ? cells : own[i]!;
	});
}

/** Spans of two or more character positions that are blank in every line, between the first and the last text. */
function guttersOf(lines: readonly string[]): [number, number][] {
	const width = lines.reduce((widest, line) => Math.max(widest, line.length), 0);
	const used = new Uint8Array(width);
	for (const line of lines) for (let i = 0; i < line.length; i++) if (line[i] !== ' ') used[i] = 1;
	const gutters: [number, number][] = [];
	let from = used.indexOf(1);
	while (from >= 0 && from < width) {
		let gap = from;
		while (gap < width && used[gap]) gap++;
		let end = gap;
		while (end < width && !used[end]) end++;
		if (end < width && end - gap >= 2) gutters.push([gap, end]);
		from = end;
	}
	return gutters;
}

function cutAt(line: string, gutters: readonly [number, number][]): string[] {
	let from = 0;
	const cells: string[] = [];
	for (const [gap, end] of gutters) {
		cells.push(line.slice(from, gap).trim());
		from = end;
	}
	return [...cells, line.slice(from).trim()];
}

/** Whether the rows of a text stand between bars. */
export const standsBetweenBars = (text: string, delimiter: Delimiter): boolean =>
	delimiter === '|' && isFramed(cutDelimited(withoutLines(text), delimiter, false));

export const isBlank = (row: readonly string[]): boolean => row.every((cell) => cell === '');

/** The widest row. */
export function widthOf(rows: readonly string[][]): number {
	return rows.reduce((widest, row) => Math.max(widest, row.length), 0);
}

/** Rows of a table that is set with a blank line after each, without these. */
export function withoutSpacing(rows: string[][]): string[][] {
	if (rows.length < 4 || !(rows[0]!.length > 1 || rows.some((row) => row.length > 1))) return rows;
	let blank = 0;
	let pairs = 0;
	for (const [r, row] of rows.entries()) {
		if (isBlank(row)) blank++;
		else if (r > 0 && !isBlank(rows[r - 1]!)) pairs++;
	}
	const filled = rows.length - blank;
	return blank >= filled - 1 - filled / 10 && pairs <= filled / 10
		? rows.filter((row) => !isBlank(row))
		: rows;
}

const SAMPLE_LINES = 100;
const SAMPLE_CHARACTERS = 100_000;
const MARKS = ['\t', ';', '|', ',', '  ', ' '] as const;
/** What is said for a mark before anything is cut: a blank or a comma stands within cells as well. */
const PRIOR: Readonly<Record<Delimiter, number>> = {
	'\t': 0.6,
	';': 0.35,
	'|': 0.4,
	',': 0,
	'  ': 0.3,
	' ': -0.3,
};

/**
 * The delimiter under which the first lines fall into even columns of whole figures, periods and words.
 * @returns the delimiter, and the others that cut most of the lines as well
 */
export function findDelimiter(text: string): { delimiter: Delimiter; others: Delimiter[] } {
	const sample = text
		.slice(0, SAMPLE_CHARACTERS)
		.split(/\r\n?|\n/, SAMPLE_LINES)
		.filter((line) => line.trim() !== '')
		.map((line) => line.replace(/"(?:[^"]|"")*"/g, 'q'));
	const whole = new Map<string, number>();
	const ranked = MARKS.flatMap((mark) => {
		const score = scoreOf(sample, mark, whole);
		return score === null ? [] : [{ mark, score }];
	}).sort((a, b) => b.score - a.score);
	const best = ranked[0]?.mark;
	// What cuts the text far worse is no other way to read it.
	const others = ranked.slice(1).flatMap(({ mark, score }) => (score > ranked[0]!.score - 1 ? [mark] : []));
	const most = (other: Delimiter) =>
		other.trim() !== '' || other === '\t'
			? sample.filter((line) => line.includes(other)).length > sample.length / 2
			: false;
	return { delimiter: best ?? ',', others: others.filter(most) };
}

/** How well lines fall into columns at a mark; null where they do not. */
function scoreOf(lines: readonly string[], mark: Delimiter, whole: Map<string, number>): number | null {
	if (mark === ' ' && !isList(lines)) return null;
	const cut = lines.map((line) =>
		mark === '  ' ? line.trim().split(/ {2,}/) : mark === ' ' ? line.trim().split(/\s+/) : line.split(mark),
	);
	const several = cut.filter((cells) => cells.length > 1);
	if (several.length === 0) return null;
	const usual = mostOften(several.map((cells) => cells.length));
	// Columns set with blanks have blank cells that no mark shows.
	const even = mark === '  ' ? several.length : cut.filter((cells) => cells.length === usual).length;
	let wholes = 0;
	let cells = 0;
	for (const row of several) {
		for (const cell of row) {
			cells++;
			wholes += wholeness(cell.trim(), whole);
		}
	}
	return PRIOR[mark] + even / lines.length + (2 * wholes) / cells;
}

/** Whether a cell is one thing (a figure, a period, words) rather than two that were not parted, or half of one. */
function wholeness(cell: string, known: Map<string, number>): number {
	if (cell === '') return 0.9;
	let own = known.get(cell);
	if (own === undefined) {
		// A date and the beginning of a figure that was cut in two.
		own = /^\d{4}-\d\d-\d\d \d{1,3}$/.test(cell)
			? 0.4
			: isMissing(cell) || isFigure(cell) || isPeriodWord(cell)
				? 1
				: !/\d/.test(cell)
					? cell.length > 40
						? 0.3
						: 0.9
					: /^[\p{L}-]*\d+[\p{L}\d-]*$/u.test(cell)
						? 0.9
						: 0.2;
		known.set(cell, own);
	}
	return own;
}

/** Whether lines are figures or periods with single blanks between them, and the blanks are no thousands marks. */
function isList(lines: readonly string[]): boolean {
	const cells = lines.map((line) => line.trim().split(/\s+/));
	if (!cells.some((row) => row.length > 1)) return false;
	const thousands =
		lines.length > 1 &&
		lines.every((line) => /^[-+(]?\d{1,3}(?:[\s'’]\d{3})*(?:[.,]\d+)?\)?$/.test(line.trim()));
	if (thousands) return false;
	if (cells.every((row) => row.every((cell) => isBareFigure(cell) || isPeriodWord(cell)))) return true;
	// As many words in each line, and figures in most of them: columns with a blank between them.
	const even = cells.length * cells[0]!.length > 5 && cells.every((row) => row.length === cells[0]!.length);
	const plain = (row: readonly string[]) =>
		row.slice(1).every((cell) => isBareFigure(cell) || isPeriodWord(cell));
	return (
		even && (cells.filter((row) => row.some(isBareFigure)).length >= 0.5 * cells.length || cells.every(plain))
	);
}

/** The value that stands most often among some; 0 among none. */
export function mostOften(values: readonly number[]): number {
	const counts = new Map<number, number>();
	for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
	return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 0;
}

/** Labels with those that are given once over all that they stand for. */
export function filledDown(labels: readonly string[]): string[] {
	let last = '';
	return labels.map((label) => (last = label === '' ? last : label));
}
