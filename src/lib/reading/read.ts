import { type Frequency, MAXIMUM_PERIODS } from '$core/series/frequency';
import { describePeriod, type Ordinal, parsePeriod, PeriodError, PERIOD_EXAMPLE } from '$core/series/period';
import { type DecimalMark, decimalMark, isMissing, readFigure, shorten } from './figures';
import { readPeriods } from './periods';
import { cutRows, type Delimiter, DELIMITER_NAME, findDelimiter, isBlank, widthOf } from './table';

/** What a reader decided by hand; everything left out is found from the text. */
export interface Choices {
	delimiter?: Delimiter | undefined;
	header?: boolean | undefined;
	decimal?: DecimalMark | undefined;
	/** 0-based column of the periods; null: there is none. */
	periodColumn?: number | null | undefined;
	/** 0-based column of the figures. */
	figureColumn?: number | undefined;
	frequency?: Frequency | undefined;
	/** First period, where no column says it; written as PERIOD_EXAMPLE shows. */
	first?: string | undefined;
}

/** What a column was taken for. */
export type ColumnRole = 'period' | 'figure' | 'ignored';

/** Something that could have been read in another way, and what was decided. */
export interface Doubt {
	code: string;
	text: string;
}

/** How a text was read: what every part was taken for, and the series that came of it. */
export interface Reading {
	/** Why nothing can be brought in; null where something can. */
	problem: string | null;
	delimiter: Delimiter;
	header: boolean;
	decimal: DecimalMark;
	rows: string[][];
	roles: ColumnRole[];
	/** Heading of the figures, where there is one: a first guess at the item's name. */
	heading: string;
	frequency: Frequency;
	/** Frequencies that the periods allow; all where no column says them. */
	possible: readonly Frequency[] | null;
	first: Ordinal;
	/** One figure a period from the first to the last; null where missing. */
	values: (number | null)[];
	doubts: Doubt[];
}

const LONGEST_TEXT = 8_000_000;
const LEAST_FIGURES = 2;

/**
 * Reads a delimited text: one column of figures, or a period and a figure, with or without a heading.
 * Never throws for what a text holds: the reading carries the problem as a sentence.
 */
export function readText(text: string, choices: Choices = {}): Reading {
	const blank: Reading = {
		problem: null,
		delimiter: choices.delimiter ?? ',',
		header: false,
		decimal: choices.decimal ?? '.',
		rows: [],
		roles: [],
		heading: '',
		frequency: choices.frequency ?? 'month',
		possible: null,
		first: 1,
		values: [],
		doubts: [],
	};
	const unreadable = refuseText(text);
	if (unreadable) return { ...blank, problem: unreadable };
	try {
		return interpret(text, choices, blank);
	} catch (error) {
		// The parser's own message names the line, which is what a reader needs to mend it.
		const why = error instanceof Error ? error.message : String(error);
		return {
			...blank,
			problem: `The text cannot be cut into columns: ${shorten(why)}. Check its quotation marks.`,
		};
	}
}

function refuseText(text: string): string | null {
	if (text.trim() === '')
		return 'There is nothing here yet. Paste a column of figures, or a period and a figure a line.';
	if (text.length > LONGEST_TEXT) {
		return `This is ${(text.length / 1e6).toFixed(0)} million characters; a table of one item has at most ${LONGEST_TEXT / 1e6} million.`;
	}
	if (holdsControls(text.slice(0, 20_000))) {
		return 'This is not text: it holds characters that no table has. Save the table as CSV and drop that file, or copy the cells and paste them.';
	}
	return null;
}

/** Control characters other than tab and line ends, and the mark of bytes that were no text. */
function holdsControls(text: string): boolean {
	for (const character of text) {
		const code = character.charCodeAt(0);
		if (code < 9 || (code > 13 && code < 32) || code === 0xfffd) return true;
	}
	return false;
}

function interpret(text: string, choices: Choices, blank: Reading): Reading {
	const doubts: Doubt[] = [];
	const { delimiter, rows } = cut(text, choices, doubts);
	const width = widthOf(rows);
	const reading: Reading = {
		...blank,
		delimiter,
		rows,
		roles: new Array<ColumnRole>(width).fill('ignored'),
		doubts,
	};

	const header = choices.header ?? looksLikeHeading(rows);
	const body = header ? rows.slice(1) : rows;
	const columnOf = (index: number) => body.map((row) => row[index] ?? '');
	const periodColumn =
		choices.periodColumn === undefined
			? findPeriodColumn(width, columnOf, choices.figureColumn)
			: choices.periodColumn;
	const figureColumn =
		choices.figureColumn ??
		firstColumn(width, (index) => index !== periodColumn && columnOf(index).every(isFigure));
	reading.header = header;
	reading.heading = header ? (rows[0]![figureColumn] ?? '').slice(0, 200) : '';
	if (periodColumn !== null && periodColumn < width) reading.roles[periodColumn] = 'period';
	reading.roles[figureColumn] = 'figure';
	if (body.every(isBlank)) return { ...reading, problem: 'There is a heading and no figure below it.' };
	const crooked = body.findIndex((row) => !isBlank(row) && row.length !== width);
	if (crooked >= 0 && width > 1) {
		const row = body[crooked]!;
		return {
			...reading,
			problem: `Row ${crooked + 1 + (header ? 1 : 0)} has ${row.length} ${row.length === 1 ? 'column' : 'columns'} where others have ${width}, cut at each ${DELIMITER_NAME[delimiter]}. Use one separator throughout, or choose another one.`,
		};
	}

	const cells = columnOf(figureColumn);
	const decided = decimalMark(cells);
	const decimal = choices.decimal ?? decided.mark;
	if (decided.open && choices.decimal === undefined) {
		doubts.push({
			code: 'decimal-mark',
			text: 'Every comma stands before three digits: taken as a thousands mark. It could be a decimal comma.',
		});
	}
	reading.decimal = decimal;
	const figures: (number | null)[] = [];
	const refusals: string[] = [];
	cells.forEach((cell, index) => {
		const figure = readFigure(cell, decimal);
		if ('refused' in figure) refusals.push(`Row ${index + 1 + (header ? 1 : 0)} ${figure.refused}`);
		figures.push('value' in figure ? figure.value : null);
	});
	if (refusals.length > 0) {
		const more = refusals.length > 1 ? `, and ${refusals.length - 1} more like it` : '';
		return {
			...reading,
			problem: `${refusals[0]}${more}. Correct it, or leave the cell blank where there is no figure.`,
		};
	}
	const laid =
		periodColumn === null
			? layInOrder(figures, choices, reading)
			: layByPeriod(body, periodColumn, figures, choices, reading);
	return laid.problem ? laid : checkLength(laid);
}

/** Cuts the text, unless the commas that would cut it are decimal marks of a single column. */
function cut(text: string, choices: Choices, doubts: Doubt[]): { delimiter: Delimiter; rows: string[][] } {
	const found = findDelimiter(text);
	const delimiter = choices.delimiter ?? found.delimiter;
	const rows = cutRows(text, delimiter);
	const whole = cutRows(text, ';').map((row) => row.join(';'));
	const body = looksLikeHeading(rows) ? 1 : 0;
	const decimals =
		delimiter === ',' &&
		choices.delimiter === undefined &&
		whole.slice(body).every(isFigure) &&
		!arePeriods(rows.slice(body));
	if (decimals) {
		doubts.push({
			code: 'decimal-comma',
			text: 'The commas were taken as decimal marks of one column. If they separate two columns, choose comma as the separator.',
		});
		return { delimiter: ';', rows: cutRows(text, ';') };
	}
	if (choices.delimiter === undefined && found.others.length > 0 && widthOf(rows) > 1) {
		const others = found.others.filter((other) => other !== ',' || !/\d,\d/.test(text));
		if (others.length > 0) {
			const names = others.map((other) => DELIMITER_NAME[other]).join(' and ');
			doubts.push({
				code: 'separator',
				text: `Cut at each ${DELIMITER_NAME[delimiter]}; the text holds ${names} too.`,
			});
		}
	}
	return { delimiter, rows };
}

/** Whether rows of two cells begin with periods in order of time. */
function arePeriods(rows: readonly string[][]): boolean {
	if (rows.some((row) => row.length !== 2)) return false;
	const periods = readPeriods(rows.map((row) => row[0]!));
	return periods !== null && isAscending(periods.ordinals);
}

const isAscending = (values: readonly number[]) =>
	values.every((value, i) => i === 0 || value > values[i - 1]!);

/** A first row is a heading when a cell of it is no figure where the cell below is one. */
function looksLikeHeading(rows: readonly string[][]): boolean {
	const [first, ...rest] = rows;
	if (!first) return false;
	const words = first.filter((cell) => cell !== '' && !isFigure(cell) && readPeriods([cell]) === null);
	if (rest.length === 0) return words.length === first.length;
	return (
		words.length > 0 &&
		first.some(
			(cell, i) => words.includes(cell) && rest.some((row) => !isMissing(row[i] ?? '') && isFigure(row[i]!)),
		)
	);
}

/** Whether a cell reads as a figure (or as a missing one) under either decimal mark. */
const isFigure = (cell: string) => 'value' in readFigure(cell, '.') || 'value' in readFigure(cell, ',');

/** Index of the first column that fits; the last one where none does, so that its cells can be complained of. */
function firstColumn(width: number, fits: (index: number) => boolean): number {
	for (let index = 0; index < width; index++) if (fits(index)) return index;
	return width - 1;
}

/** The first of two or more columns, when its cells are periods or at least no figures. */
function findPeriodColumn(
	width: number,
	columnOf: (index: number) => string[],
	figureColumn: number | undefined,
): number | null {
	if (width < 2 || figureColumn === 0) return null;
	const cells = columnOf(0).filter((cell) => cell !== '');
	return readPeriods(cells) || !cells.every(isFigure) ? 0 : null;
}

function layInOrder(figures: (number | null)[], choices: Choices, reading: Reading): Reading {
	const frequency = choices.frequency ?? (choices.first ? 'month' : 'step');
	const written = choices.first?.trim() || (frequency === 'step' ? '1' : '');
	const laid = { ...reading, frequency, possible: null, values: figures };
	if (written === '') {
		return {
			...laid,
			problem: `Say which ${frequency} the first figure belongs to, written like ${PERIOD_EXAMPLE[frequency]}.`,
		};
	}
	try {
		return { ...laid, first: parsePeriod(frequency, written) };
	} catch (error) {
		if (!(error instanceof PeriodError)) throw error;
		return { ...laid, problem: `First period: ${error.message}.` };
	}
}

function layByPeriod(
	body: readonly string[][],
	periodColumn: number,
	figures: readonly (number | null)[],
	choices: Choices,
	reading: Reading,
): Reading {
	const rows = body.map((row, i) => ({ period: row[periodColumn] ?? '', value: figures[i]! }));
	const used = rows.filter((row) => row.period !== '' || row.value !== null);
	const periods = readPeriods(
		used.map((row) => row.period),
		choices.frequency,
	);
	if (!periods) {
		const odd = used.find((row) => readPeriods([row.period]) === null) ?? used[0];
		return {
			...reading,
			problem: `“${shorten(odd?.period ?? '')}” in column ${periodColumn + 1} is no period that is known here. Write periods like 2024-03, 2024-Q1, 2024-W05 or 2024-03-01, or leave that column out and say the first period.`,
		};
	}
	const { frequency, ordinals, possible } = periods;
	const doubts = [...reading.doubts];
	const laid = { ...reading, frequency, possible, doubts };
	if (possible.length > 1 && choices.frequency === undefined) {
		doubts.push({
			code: 'frequency',
			text: `The periods were taken as ${frequency}s; they could be ${possible.slice(1).join('s or ')}s.`,
		});
	}
	const byPeriod = new Map<Ordinal, number | null>();
	for (const [i, ordinal] of ordinals.entries()) {
		if (byPeriod.has(ordinal)) {
			return {
				...laid,
				problem: `${capital(describePeriod(frequency, ordinal))} stands there twice. Keep one row for each ${frequency === 'step' ? 'period' : frequency}.`,
			};
		}
		byPeriod.set(ordinal, used[i]!.value);
	}
	if (!isAscending(ordinals))
		doubts.push({ code: 'unsorted', text: 'The rows were not in order of time; they have been sorted.' });
	let first = Infinity;
	let last = -Infinity;
	for (const ordinal of ordinals) {
		first = Math.min(first, ordinal);
		last = Math.max(last, ordinal);
	}
	if (last - first + 1 > MAXIMUM_PERIODS) {
		return { ...laid, first, problem: tooMany(last - first + 1) };
	}
	const values = Array.from({ length: last - first + 1 }, (_, i) => byPeriod.get(first + i) ?? null);
	const absent = values.length - byPeriod.size;
	if (absent > 0) {
		const at = values.findIndex((_, i) => !byPeriod.has(first + i));
		doubts.push({
			code: 'gaps',
			text: `${absent} ${absent === 1 ? 'period is' : 'periods are'} not in the table and will be missing, the first of them ${describePeriod(frequency, first + at)}.`,
		});
	}
	return { ...laid, first, values };
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

const tooMany = (periods: number) =>
	`These are ${periods.toLocaleString('en')} periods; an item holds at most ${MAXIMUM_PERIODS.toLocaleString('en')}. Bring in the latest of them, or sum them to longer periods first.`;

function checkLength(reading: Reading): Reading {
	const present = reading.values.filter((value) => value !== null).length;
	if (present < LEAST_FIGURES) {
		const has = present === 0 ? 'no figure' : 'one figure';
		return { ...reading, problem: `There is ${has} here; a forecast needs at least ${LEAST_FIGURES}.` };
	}
	if (reading.values.length > MAXIMUM_PERIODS) return { ...reading, problem: tooMany(reading.values.length) };
	return reading;
}
