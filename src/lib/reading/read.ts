import { BOUNDS, written } from '$core/bounds';
import { CALENDAR_SEASON_LENGTH, type Frequency, periodWord } from '$core/series/frequency';
import { describePeriod, type Ordinal } from '$core/series/period';
import { type Encoding, ENCODING_NAME, ENCODINGS } from './decode';
import {
	decimalEvidence,
	type DecimalMark,
	decimalMark,
	isFigure,
	isMissing,
	isNoFigure,
	marksOf,
	readFigure,
	shorten,
} from './figures';
import { type Entry, gather } from './gather';
import { absentText, findPeriods, alignFigures, type Timed } from './align';
import type { Choices, ColumnRole, RowRole } from './choices';
import { numberItems } from './items';
import { findRoles } from './layout';
import { doubtReturns, type Filled, filledBy, takeReturn } from './orders';
import type { Roles } from './roles';
import { readPeriods } from './periods';
import { openBytes, openText, type Opened, rowsOf, type Source } from './source';
import { type Delimiter, DELIMITER_NAME, widthOf } from './table';

/** Something that could have been read in another way: what was decided, and the choices that decide otherwise. */
export interface Doubt {
	code: string;
	text: string;
	options: { label: string; choices: Choices }[];
}

/** One item of a table, read. */
export interface ReadItem {
	/** As the table names it; empty where it does not. */
	code: string;
	name: string;
	unit: string;
	/** Ordinal of the first period. */
	first: Ordinal;
	/** One figure a period from the first to the last; null where missing. */
	values: (number | null)[];
	/** Why this item cannot be brought in; null where it can. */
	problem: string | null;
	/** What was decided for this item alone. */
	remarks: string[];
}

/** How a table was read: what every part was taken for, and the series that came of it. */
export interface Reading {
	/** Why nothing can be brought in; null where something can. */
	problem: string | null;
	kind: 'text' | 'json' | 'workbook' | 'none';
	encoding: Encoding | null;
	sheets: readonly string[];
	sheet: string | null;
	delimiter: Delimiter | null;
	decimal: DecimalMark;
	/** The first and the last rows, in their first columns, for showing. */
	rows: string[][];
	tail: string[][];
	rowCount: number;
	columnCount: number;
	columns: ColumnRole[];
	rowRoles: RowRole[];
	order: 'down' | 'across';
	/** “years down, months across”. */
	layout: string;
	/** How the periods are spelt. */
	spelling: string;
	frequency: Frequency;
	/** Frequencies that the periods allow; null where no part of the table says them. */
	possible: readonly Frequency[] | null;
	/** Whether the first period has to be said. */
	asksFirst: boolean;
	seasonLength: number;
	items: ReadItem[];
	doubts: Doubt[];
}

/** Roles beyond which another layout is not offered: it would not be understood. */
const SAID_ROLES = 12;
const ROLE_WORDS: Readonly<Record<ColumnRole | RowRole, string>> = {
	item: 'names items',
	name: 'describes items',
	unit: 'has units',
	period: 'has the periods',
	cycle: 'has the years',
	season: 'has the seasons',
	day: 'has the days',
	figure: 'has figures',
	figures: 'has figures',
	total: 'has totals',
	ignored: 'left out',
};
const SHOWN_ROWS = 300;
const SHOWN_LAST = 8;
const SHOWN_COLUMNS = 80;
/** Figures that a new item needs. */
export const LEAST_FIGURES = 2;

/** Reads a pasted text. Never throws for what a text holds: the reading carries the problem as a sentence. */
export const readText = (text: string, choices: Choices = {}): Reading => readSource(openText(text), choices);

/** Reads a file's bytes: delimited text, JSON or an .xlsx workbook. */
export const readBytes = async (bytes: Uint8Array, choices: Choices = {}): Promise<Reading> =>
	readSource(await openBytes(bytes, choices.encoding), choices);

/** Reads an opened source. */
export function readSource(source: Source, choices: Choices = {}): Reading {
	const opened = rowsOf(source, choices);
	const reading: Reading = {
		problem: null,
		kind: source.kind,
		encoding: source.kind === 'text' ? source.encoding : null,
		sheets: [],
		sheet: null,
		delimiter: null,
		decimal: choices.decimal ?? '.',
		rows: [],
		tail: [],
		rowCount: 0,
		columnCount: 0,
		columns: [],
		rowRoles: [],
		order: 'down',
		layout: '',
		spelling: '',
		frequency: choices.frequency ?? 'month',
		possible: null,
		asksFirst: false,
		seasonLength: 1,
		items: [],
		doubts: [],
	};
	if ('problem' in opened) return { ...reading, problem: opened.problem };
	if (source.kind === 'text') {
		doubtEncoding(source, choices, reading.doubts);
		keepDecimalCommas(source.text, opened, choices, reading.doubts);
	}
	return interpret(opened, choices, reading);
}

function doubtEncoding(source: Extract<Source, { kind: 'text' }>, choices: Choices, doubts: Doubt[]): void {
	if (!source.encodingGuessed) return;
	doubts.push({
		code: 'encoding',
		text: `The bytes are no UTF-8; they were read as ${ENCODING_NAME['windows-1252']}. If accents look wrong, choose another encoding.`,
		options: ENCODINGS.filter((each) => each !== (choices.encoding ?? source.encoding)).map((encoding) => ({
			label: ENCODING_NAME[encoding],
			choices: { encoding },
		})),
	});
}

/** Commas that would cut a single column of decimals, or of a period and decimals, in two are no separators. */
function keepDecimalCommas(text: string, opened: Opened, choices: Choices, doubts: Doubt[]): void {
	if (opened.delimiter !== ',' || choices.delimiter !== undefined) {
		doubtSeparator(text, opened, choices, doubts);
		return;
	}
	const whole = opened.rows.map((row) => row.join(','));
	const filled = whole.filter((line) => line !== '');
	const body = filled.length > 1 && !isFigure(filled[0]!) ? filled.slice(1) : filled;
	const rows = opened.rows.filter((row) => row.length > 1 || row[0] !== '');
	const twoCells = rows
		.slice(rows.length - body.length)
		.filter((row) => row.length === 2)
		.map(([cell]) => cell!);
	const periods = readPeriods(twoCells);
	const periodsAscend =
		periods?.ordinals.every((each, i) => i === 0 || each > periods.ordinals[i - 1]!) ?? false;
	// A line of its own is a row of figures: one figure alone is no series.
	if (body.length < 2 || !body.every(isFigure) || !body.some((line) => line.includes(','))) return;
	if (twoCells.length > 1 && periodsAscend) return;
	// 1,204.5 is cut at a comma only by mistake; 4,25 may be two columns.
	opened.delimiter = ';';
	opened.rows = whole.map((line) => [line]);
	doubts.push({
		code: 'decimal-comma',
		text: 'The commas were taken as marks within the figures of one column, not as separators.',
		options: [{ label: 'they separate columns', choices: { delimiter: ',' } }],
	});
}

function doubtSeparator(text: string, opened: Opened, choices: Choices, doubts: Doubt[]): void {
	if (choices.delimiter !== undefined || opened.delimiter === null || widthOf(opened.rows) < 2) return;
	const others = opened.otherDelimiters.filter((other) => other !== ',' || !/\d,\d/.test(text));
	if (others.length === 0) return;
	doubts.push({
		code: 'separator',
		text: `Cut at each ${DELIMITER_NAME[opened.delimiter]}; the text holds ${others.map((other) => DELIMITER_NAME[other]).join(' and ')} too.`,
		options: others.map((delimiter) => ({
			label: `cut at each ${DELIMITER_NAME[delimiter]}`,
			choices: { delimiter },
		})),
	});
}

function interpret(opened: Opened, choices: Choices, begun: Reading): Reading {
	const { rows } = opened;
	const width = widthOf(rows);
	const { roles, near } = findRoles(rows, width, choices);
	const reading: Reading = {
		...begun,
		delimiter: opened.delimiter,
		sheets: opened.sheets,
		sheet: opened.sheet,
		rows: rows.slice(0, SHOWN_ROWS).map((row) => row.slice(0, SHOWN_COLUMNS)),
		tail: rows.slice(-SHOWN_LAST).map((row) => row.slice(0, SHOWN_COLUMNS)),
		rowCount: rows.length,
		columnCount: width,
		columns: roles.columns,
		rowRoles: roles.rows,
		order: roles.order,
	};
	doubtLayout(rows, roles, near, choices, reading.doubts);
	doubtTotals(rows, roles, reading.doubts);
	const entries = inReadingOrder(gather(rows, roles), roles);
	if (!entries.some(({ cell }) => !isMissing(cell)))
		return { ...reading, problem: nothingThere(rows, roles) };
	const { names, items } = numberItems(entries);
	if (names.length > BOUNDS.tableItems) {
		return {
			...reading,
			problem: `These are ${written(names.length)} items; at most ${written(BOUNDS.tableItems)} are read at once.`,
		};
	}
	const timed = findPeriods(entries, items, choices);
	const figures = readFigures(entries, opened.typed, choices, reading);
	Object.assign(reading, {
		layout: describeLayout(roles, timed, names.length),
		spelling: timed.spelling,
		frequency: timed.frequency,
		possible: timed.possible,
		asksFirst: timed.asksFirst,
		seasonLength: timed.seasonLength ?? CALENDAR_SEASON_LENGTH[timed.frequency],
	});
	doubtTime(timed, choices, reading.doubts);
	const filled = fillOf(timed, figures, choices, reading.doubts);
	if (timed.problem)
		return { ...reading, problem: firstRefusal(entries, figures.refusals, names.length) ?? timed.problem };
	// Tables of many items, or with time across, are drawn wider than their figures go.
	const drawnWider = names.length > 1 || !roles.columns.includes('period');
	const sides = (role: 'cycle' | 'season') =>
		roles.columns.includes(role) ? 'down' : roles.rows.includes(role) ? 'across' : null;
	const inOrder = sides('cycle') === sides('season');
	reading.items = alignItems({ entries, items, names, drawnWider, inOrder, filled }, timed, figures, choices);
	doubtPeriods(reading, choices);
	const only = reading.items.length === 1 ? reading.items[0]! : null;
	const allFail = reading.items.every(({ problem }) => problem !== null);
	return { ...reading, problem: only?.problem ?? (allFail ? reading.items[0]!.problem : null) };
}

/** Figures that run down come column by column, those that run across row by row. */
function inReadingOrder(entries: Entry[], roles: Roles): Entry[] {
	const timeless = entries.every(({ period, cycle, season }) => !period && !cycle && !season);
	return timeless && roles.order === 'down'
		? [...entries].sort((a, b) => a.column - b.column || a.row - b.row)
		: entries;
}

function nothingThere(rows: readonly string[][], roles: Roles): string {
	const filled = rows.flat().filter((cell) => cell !== '');
	if (roles.rows.includes('figures') || filled.every(isMissing))
		return 'Every cell of this table says that there is no figure.';
	if (rows.filter((row) => row.some((cell) => !isMissing(cell))).length === 1) {
		return `There is a heading, “${shorten(filled[0]!)}”, and no figure below it.`;
	}
	return `There are no figures here, only words such as “${shorten(filled[0]!)}”. Copy the table with its figures.`;
}

interface Figures {
	values: (number | null)[];
	/** Sentences by entry. */
	refusals: Map<number, string>;
	/** Units around figures, by entry. */
	units: Map<number, string>;
}

function readFigures(entries: readonly Entry[], typed: boolean, choices: Choices, reading: Reading): Figures {
	const cells = entries.map(({ cell }) => cell);
	const decided = typed ? { mark: '.' as const, open: null } : decimalMark(cells);
	const mark = choices.decimal ?? decided.mark;
	reading.decimal = mark;
	const byColumn = choices.decimal || typed ? null : marksByColumn(entries);
	if (byColumn) {
		reading.doubts.push({
			code: 'decimal-columns',
			text: 'Some columns have decimal commas and others decimal points; each was read by its own.',
			options: [
				{ label: 'points everywhere', choices: { decimal: '.' } },
				{ label: 'commas everywhere', choices: { decimal: ',' } },
			],
		});
	} else if (decided.open && choices.decimal === undefined) {
		const what = decided.open === ',' ? 'comma' : 'point';
		const [taken, possible] = decided.open === mark ? ['decimal', 'thousands'] : ['thousands', 'decimal'];
		reading.doubts.push({
			code: 'decimal-mark',
			text: `Every ${what} stands before three digits: taken as a ${taken} mark. It could be a ${possible} mark.`,
			options: [{ label: `it is a ${possible} mark`, choices: { decimal: mark === '.' ? ',' : '.' } }],
		});
	}
	const refusals = new Map<number, string>();
	const units = new Map<number, string>();
	const marks = new Map<string, number>();
	let percents = 0;
	const none = new Map<string, number>();
	const values = entries.map((entry, i) => {
		const figure = readFigure(entry.cell, byColumn?.get(entry.column) ?? mark);
		if ('refused' in figure) {
			refusals.set(i, `${placeOf(entry, reading)} ${figure.refused}`);
			return null;
		}
		if (figure.value === null) {
			if (entry.cell === '' || !isNoFigure(entry.cell)) return null;
			none.set(entry.cell, (none.get(entry.cell) ?? 0) + 1);
			return choices.missing === 'zero' ? 0 : null;
		}
		if (/^-?\d+$/.test(entry.cell)) return figure.value;
		const around = marksOf(entry.cell);
		if (around?.unit) {
			units.set(i, around.unit);
			marks.set(around.unit, (marks.get(around.unit) ?? 0) + 1);
		}
		if (!around?.percent) return figure.value;
		percents++;
		return choices.percent === 'share' ? figure.value / 100 : figure.value;
	});
	doubtMarks(marks, percents, choices, reading.doubts);
	doubtMissing(none, choices, reading.doubts);
	return { values, refusals, units };
}

const placeOf = (entry: Entry, { columnCount }: Reading) =>
	columnCount > 2 ? `Row ${entry.row + 1}, column ${entry.column + 1},` : `Row ${entry.row + 1}`;

/** Each column's own decimal mark where the columns contradict each other; null where they do not. */
function marksByColumn(entries: readonly Entry[]): Map<number, DecimalMark> | null {
	const { comma, point } = decimalEvidence(entries.map(({ cell }) => cell));
	if (!comma || !point) return null;
	const cells = new Map<number, string[]>();
	for (const { column, cell } of entries) {
		const list = cells.get(column);
		if (list) list.push(cell);
		else cells.set(column, [cell]);
	}
	if (cells.size < 2) return null;
	const evidence = [...cells].map(([column, list]) => [column, decimalEvidence(list)] as const);
	if (evidence.some(([, each]) => each.comma && each.point)) return null;
	return new Map(evidence.map(([column, each]) => [column, each.comma ? ',' : '.']));
}

function doubtMarks(marks: Map<string, number>, percents: number, choices: Choices, doubts: Doubt[]): void {
	if (marks.size > 1) {
		doubts.push({
			code: 'units',
			text: `The figures carry different marks (${[...marks.keys()].slice(0, 4).join(', ')}); only the numbers were taken. Check that they count the same thing.`,
			options: [],
		});
	}
	if (percents > 0) {
		const share = choices.percent === 'share';
		doubts.push({
			code: 'percent',
			text: `${percents} ${percents === 1 ? 'figure carries' : 'figures carry'} a percent sign: 12 % was taken as ${share ? '0.12' : '12'}.`,
			options: [
				share
					? { label: 'take 12 % as 12', choices: { percent: 'whole' } }
					: { label: 'take 12 % as 0.12', choices: { percent: 'share' } },
			],
		});
	}
}

function doubtMissing(none: ReadonlyMap<string, number>, choices: Choices, doubts: Doubt[]): void {
	if (none.size === 0) return;
	const cells = [...none.values()].reduce((a, b) => a + b, 0);
	const words = [...none.keys()].slice(0, 3).map((word) => `“${word}”`);
	const zero = choices.missing === 'zero';
	doubts.push({
		code: 'no-figure',
		text: `${words.join(' and ')} in ${cells} ${cells === 1 ? 'cell' : 'cells'} ${none.size === 1 ? 'was' : 'were'} taken as ${zero ? 'nought' : 'a missing figure'}.`,
		options: [
			zero
				? { label: 'the figure is missing', choices: { missing: 'gap' } }
				: { label: 'it is nought', choices: { missing: 'zero' } },
		],
	});
}

function firstRefusal(
	entries: readonly Entry[],
	refusals: Map<number, string>,
	itemCount: number,
): string | null {
	return itemCount === 1 && refusals.size > 0 && entries.length > 0
		? refusalText([...refusals.values()])
		: null;
}

function refusalText(refusals: readonly string[]): string {
	const more = refusals.length > 1 ? `, and ${refusals.length - 1} more like it` : '';
	return `${refusals[0]}${more}. Correct it, or leave the cell blank where there is no figure.`;
}

interface Named {
	entries: readonly Entry[];
	/** Each entry's item by number, and an entry of each item. */
	items: Int32Array;
	names: readonly Entry[];
	/** Whether blank cells at both ends are outside the series rather than missing. */
	drawnWider: boolean;
	/** Whether the table runs through time one way, row by row or column by column. */
	inOrder: boolean;
	/** What order lines fill; null for other tables. */
	filled: Filled | null;
}

function alignItems(
	{ entries, items, names, drawnWider, inOrder, filled }: Named,
	timed: Timed,
	figures: Figures,
	choices: Choices,
): ReadItem[] {
	const { frequency } = timed;
	const parts = names.map(() => ({
		ordinals: [] as Ordinal[],
		values: [] as (number | null)[],
		refusals: [] as string[],
		unit: '',
		// Where cells say something, if only that there is no figure.
		from: Infinity,
		to: -Infinity,
	}));
	for (let i = 0; i < entries.length; i++) {
		const part = parts[items[i]!]!;
		const ordinal = timed.ordinals[i];
		if (ordinal === null || ordinal === undefined) continue;
		if (filled && (ordinal < filled.from || ordinal > filled.to)) continue;
		part.ordinals.push(ordinal);
		part.values.push(figures.values[i]!);
		if (entries[i]!.cell !== '' || !drawnWider) {
			part.from = Math.min(part.from, ordinal);
			part.to = Math.max(part.to, ordinal);
		}
		const refusal = figures.refusals.get(i);
		if (refusal) part.refusals.push(refusal);
		if (part.unit === '') part.unit = entries[i]!.unit || figures.units.get(i) || '';
	}
	return parts.map((part, number) => {
		const aligned = alignFigures(part.ordinals, part.values, choices.duplicates ?? 'sum');
		const { values, first } = filled ? withoutGaps(aligned, filled) : within(aligned, part.from, part.to);
		const named = names[number]!;
		const remarks: string[] = [];
		if (aligned.doubled > 0 && !filled)
			remarks.push(`${aligned.doubled} ${periodWord(frequency, aligned.doubled)} given more than once`);
		if (aligned.absent > 0 && !filled?.zeros) remarks.push(absentText(frequency, aligned));
		if (!aligned.sorted && inOrder && !filled && aligned.doubled === 0) remarks.push('not in order of time');
		return {
			code: named.item,
			name: named.name || named.item,
			unit: part.unit.slice(0, 40),
			first,
			values,
			problem: part.refusals.length > 0 ? refusalText(part.refusals) : (aligned.problem ?? noFigure(values)),
			remarks,
		};
	});
}

/** The periods of order lines from an item's first one to the last that is over, those without a line as nought. */
function withoutGaps(aligned: { first: Ordinal; values: (number | null)[] }, { to, zeros }: Filled) {
	const length =
		aligned.values.length === 0 ? 0 : Math.max(aligned.values.length, zeros ? to - aligned.first + 1 : 0);
	const none = zeros ? 0 : null;
	return { first: aligned.first, values: Array.from({ length }, (_, i) => aligned.values[i] ?? none) };
}

/** What order lines fill, with what was decided about them; null for other tables. */
function fillOf(timed: Timed, figures: Figures, choices: Choices, doubts: Doubt[]): Filled | null {
	const { orderDays, ordinals, frequency } = timed;
	if (!orderDays) return null;
	let returns = 0;
	for (const [i, value] of figures.values.entries()) {
		if (value === null || value >= 0) continue;
		returns++;
		figures.values[i] = takeReturn(value, choices);
	}
	doubtReturns(returns, choices, doubts);
	const present = ordinals.flatMap((ordinal, i) => (ordinal === null || orderDays[i] === null ? [] : [i]));
	return filledBy(
		present.map((i) => orderDays[i]!),
		present.map((i) => ordinals[i]!),
		frequency,
		choices,
		doubts,
	);
}

/** Without the periods before and after that hold nothing. */
function within(aligned: { first: Ordinal; values: (number | null)[] }, from: Ordinal, to: Ordinal) {
	if (from > to) return { first: aligned.first, values: [] };
	return { first: from, values: aligned.values.slice(from - aligned.first, to - aligned.first + 1) };
}

/** One figure may be what an item that is known already was waiting for; none is nothing to bring in. */
const noFigure = (values: readonly (number | null)[]): string | null =>
	values.some((value) => value !== null)
		? null
		: `There is no figure here; a forecast needs at least ${LEAST_FIGURES}.`;

/** Readings that are nearly as likely, each with the roles that make it. */
function doubtLayout(
	rows: readonly string[][],
	roles: Roles,
	near: readonly Roles[],
	choices: Choices,
	doubts: Doubt[],
): void {
	const options = near.flatMap((other) => {
		const columns = other.columns.flatMap((role, c) =>
			role === roles.columns[c] ? [] : [[c, role] as const],
		);
		const lines = other.rows.flatMap((role, r) => (role === roles.rows[r] ? [] : [[r, role] as const]));
		if (columns.length + lines.length > SAID_ROLES || columns.length + lines.length === 0) return [];
		const words = [
			...columns.map(([c, role]) => `column ${c + 1} ${ROLE_WORDS[role]}`),
			...lines.map(([r, role]) => `row ${r + 1} ${ROLE_WORDS[role]}`),
		];
		const more = words.length > 2 ? ` and ${words.length - 2} more` : '';
		return [
			{
				label: `${words.slice(0, 2).join(', ')}${more}`,
				choices: {
					columns: { ...choices.columns, ...Object.fromEntries(columns) },
					rows: { ...choices.rows, ...Object.fromEntries(lines) },
				},
			},
		];
	});
	if (options.length === 0) return;
	const heading = rows.findIndex((_, r) => roles.rows[r] === 'figures');
	doubts.push({
		code: 'layout',
		text: `Its figures were taken to begin in row ${heading + 1}; the table could be laid out in another way.`,
		options: options.slice(0, 3),
	});
}

function doubtTotals(rows: readonly string[][], roles: Roles, doubts: Doubt[]): void {
	const { columns, rows: lines } = roles.bySum;
	if (columns.length > 0) {
		doubts.push({
			code: 'total-column',
			text: `Column ${columns.map((c) => c + 1).join(' and ')} is the sum or the mean of others in every row: left out as a total.`,
			options: [
				{
					label: 'it is an item',
					choices: { columns: Object.fromEntries(columns.map((c) => [c, 'figure' as const])) },
				},
			],
		});
	}
	if (lines.length > 0) {
		doubts.push({
			code: 'total-row',
			text: `Row ${lines.map((r) => r + 1).join(' and ')} is the sum or the mean of others in every column: left out as a total.`,
			options: [
				{
					label: 'it holds figures',
					choices: { rows: Object.fromEntries(lines.map((r) => [r, 'figures' as const])) },
				},
			],
		});
	}
	const labelled = roles.columns.filter((role) => role === 'total').length - columns.length;
	const labelledRows = roles.rows.filter((role) => role === 'total').length - lines.length;
	if (labelled + labelledRows > 0) {
		const parts = [
			labelled > 0 && `${labelled} ${labelled === 1 ? 'column' : 'columns'}`,
			labelledRows > 0 && `${labelledRows} ${labelledRows === 1 ? 'row' : 'rows'}`,
		].filter((part) => typeof part === 'string');
		const one = labelled + labelledRows === 1;
		doubts.push({
			code: 'totals',
			text: `${parts.join(' and ')} of totals or averages ${one ? 'is' : 'are'} left out, by ${one ? 'its label' : 'their labels'}.`,
			options: [],
		});
	}
	const remarks = roles.rows.filter(
		(role, r) => role === 'ignored' && rows[r]!.some((cell) => cell !== ''),
	).length;
	if (remarks > 0) {
		doubts.push({
			code: 'ignored-rows',
			text: `${remarks} ${remarks === 1 ? 'row holds' : 'rows hold'} a title, a heading or a remark and ${remarks === 1 ? 'is' : 'are'} left out.`,
			options: [],
		});
	}
	const ignored = roles.columns.flatMap((role, c) =>
		role === 'ignored' && rows.some((row) => (row[c] ?? '') !== '') ? [c + 1] : [],
	);
	if (ignored.length > 0) {
		doubts.push({
			code: 'ignored-columns',
			text: `Column ${ignored.slice(0, 5).join(', ')} ${ignored.length === 1 ? 'is' : 'are'} left out: neither figures nor what names them.`,
			options: ignored.slice(0, 3).map((column) => {
				const numbers = rows.filter(
					(row) => isFigure(row[column - 1] ?? '') && row[column - 1] !== '',
				).length;
				return numbers > rows.length / 2
					? {
							label: `column ${column} has figures too`,
							choices: { columns: { [column - 1]: 'figure' as const } },
						}
					: {
							label: `column ${column} names items too`,
							choices: { columns: { [column - 1]: 'item' as const } },
						};
			}),
		});
	}
}

function doubtTime(timed: Timed, choices: Choices, doubts: Doubt[]): void {
	if (timed.dateOrder?.open && choices.dateOrder === undefined) {
		const other = timed.dateOrder.used === 'day-first' ? 'month-first' : 'day-first';
		const words = { 'day-first': 'the day first', 'month-first': 'the month first' };
		doubts.push({
			code: 'date-order',
			text: `The dates were read with ${words[timed.dateOrder.used]}; none of them shows which it is.`,
			options: [{ label: words[other], choices: { dateOrder: other } }],
		});
	}
	if (timed.possible && timed.likely > 1 && choices.frequency === undefined && !timed.orderDays) {
		const others = timed.possible.slice(1, timed.likely);
		doubts.push({
			code: 'frequency',
			text: `The periods were taken as ${frequencyWord(timed.frequency)}; they could be ${others.map(frequencyWord).join(' or ')}.`,
			options: others.map((frequency) => ({ label: frequencyWord(frequency), choices: { frequency } })),
		});
	}
	for (const remark of timed.remarks) doubts.push({ options: [], ...remark });
}

const frequencyWord = (frequency: Frequency) =>
	frequency === 'step' ? 'plain numbered periods' : periodWord(frequency, 2);

/** What the items have in common, said once. */
function doubtPeriods(reading: Reading, choices: Choices): void {
	const { items, doubts, frequency } = reading;
	const withRemark = (pattern: RegExp) =>
		items.filter(({ remarks }) => remarks.some((remark) => pattern.test(remark)));
	const doubled = withRemark(/more than once/);
	if (doubled.length > 0) {
		const how = choices.duplicates ?? 'sum';
		const verb = { sum: 'summed', mean: 'averaged', last: 'the last one taken' };
		const labels = { sum: 'sum them', mean: 'take their mean', last: 'take the last' };
		doubts.push({
			code: 'duplicates',
			text: `${doubled.length === 1 ? capital(doubled[0]!.remarks.find((remark) => /more than once/.test(remark))!) : `${doubled.length} items have ${periodWord(frequency, 2)} given more than once`}: ${verb[how]}.`,
			options: (['sum', 'mean', 'last'] as const)
				.filter((each) => each !== how)
				.map((each) => ({ label: labels[each], choices: { duplicates: each } })),
		});
	}
	if (withRemark(/order of time/).length > 0) {
		doubts.push({
			code: 'unsorted',
			text: 'The rows were not in order of time; they have been sorted.',
			options: [],
		});
	}
	const gaps = withRemark(/not in the table/);
	if (gaps.length > 0) {
		const text =
			gaps.length === 1
				? capital(gaps[0]!.remarks.find((remark) => /not in the table/.test(remark))!)
				: `${gaps.length} items have periods that are not in the table and will be missing.`;
		doubts.push({ code: 'gaps', text, options: [] });
	}
	const failing = items.filter(({ problem }) => problem !== null);
	if (failing.length > 0 && items.length > 1) {
		doubts.push({
			code: 'items',
			text: `${failing.length} of ${items.length} items cannot be brought in; ${shorten(failing[0]!.name)}: ${failing[0]!.problem}`,
			options: [],
		});
	}
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** “items across, months down”, in the words of the trade. */
function describeLayout(roles: Roles, timed: Timed, itemCount: number): string {
	const has = (role: ColumnRole) => roles.columns.includes(role);
	const over = (role: RowRole) => roles.rows.includes(role);
	const times = periodWord(timed.frequency, 2);
	const items = itemCount > 1 ? `${itemCount} items` : 'one item';
	if (has('cycle') && over('season')) return `${items}, cycles down and seasons across`;
	if (has('season') && over('cycle')) return `${items}, seasons down and cycles across`;
	if (has('cycle') && has('season')) return `${items}, cycle and season in columns of their own`;
	if (over('cycle') && over('season')) return `${items}, cycles and seasons across`;
	if (has('period'))
		return has('item')
			? `${items}, one row for each item and period`
			: itemCount > 1
				? `${items} across, ${times} down`
				: `a period and a figure a line`;
	if (over('period')) {
		const blocks = roles.rows.filter((role, r) => role === 'period' && roles.rows[r - 1] !== 'period').length;
		return blocks > 1
			? `${items}, ${blocks} blocks of periods over figures`
			: `${items} down, ${times} across`;
	}
	return roles.order === 'across' ? `${items}, figures along the row` : `${items}, figures down the column`;
}

/** The period of an item for a reader, from its first figure to its last. */
export function spanOf(frequency: Frequency, { first, values }: Pick<ReadItem, 'first' | 'values'>): string {
	const last = first + values.length - 1;
	return values.length === 1
		? describePeriod(frequency, first)
		: `${describePeriod(frequency, first)} – ${describePeriod(frequency, last)}`;
}
