import { BOUNDS, written } from '$core/bounds';
import { CALENDAR_SEASON_LENGTH, type Frequency, periodWord } from '$core/series/frequency';
import { describePeriod, type Ordinal } from '$core/series/period';
import { isFigure, isMissing, shorten } from './figures';
import { type Entry, Gatherer, seasonHeading } from './gather';
import { absentText, findPeriods, alignFigures, type Timed } from './align';
import type { Choices } from './choices';
import { type FigureMarks, type Figures, findMarks, noUnits, partUnits, takeFigures } from './entries';
import { numberItems } from './items';
import { findRoles, type Layout } from './layout';
import { doubtReturns, type Filled, filledBy } from './orders';
import type { Roles } from './roles';
import { readPeriods } from './periods';
import { titlePeriod } from './titles';
import { openBytes, openText, type Opened, rowsOf, type Source } from './source';
import { widthOf } from './table';
import {
	describeLayout,
	doubtCancelled,
	doubtCodes,
	doubtJoined,
	doubtQuantity,
	doubtEncoding,
	doubtFigures,
	doubtLabels,
	doubtLayout,
	doubtPeriods,
	doubtSeparator,
	doubtTime,
	doubtTotals,
	doubtUnits,
	headingOf,
	weightOf,
} from './doubts';
import type { Doubt, ReadItem, Reading } from './reading';

/** Rows that show whether a table is but one column. */
const FIRST = 40;
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
export const readSource = (source: Source, choices: Choices = {}): Reading => settle(source, choices).reading;

/** A reading with what it settles for rows that come after it; nothing where it ended in a problem. */
export function settle(source: Source, choices: Choices): { reading: Reading; settled: Settled | null } {
	const opened = rowsOf(source, choices);
	const begun: Reading = {
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
		heading: null,
		order: 'down',
		layout: '',
		spelling: '',
		frequency: choices.frequency ?? 'month',
		possible: null,
		asksFirst: false,
		seasonLength: 1,
		labels: [],
		items: [],
		doubts: [],
	};
	if ('problem' in opened) return { reading: { ...begun, problem: opened.problem }, settled: null };
	if (source.kind === 'text') {
		doubtEncoding(source, choices, begun.doubts);
		keepDecimalCommas(source.text, opened, choices, begun.doubts);
	}
	const interpreted = interpret(opened, choices, begun);
	begun.doubts.sort((one, other) => weightOf(one) - weightOf(other));
	return interpreted;
}

/** Commas that would cut a single column of decimals, or of a period and decimals, in two are no separators. */
function keepDecimalCommas(text: string, opened: Opened, choices: Choices, doubts: Doubt[]): void {
	if (opened.delimiter !== ',' || choices.delimiter !== undefined) {
		doubtSeparator(text, opened, choices, doubts);
		return;
	}
	// Most tables show in their first rows that they have words, or more than two columns.
	const first = opened.rows.slice(0, FIRST).map((row) => row.join(','));
	if (first.filter((line) => line !== '' && !isFigure(line)).length > 1) return;
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
	// A line by itself is a row of figures: one figure is no series.
	if (body.length < 2 || !body.every(isFigure) || !body.some((line) => line.includes(','))) return;
	if (body.length < filled.length && isHeadOf(rows, text)) return;
	if (twoCells.length > 1 && periodsAscend) {
		doubts.push({
			code: 'decimal-comma',
			text: 'The commas were taken to part a period from its figure.',
			options: [{ label: 'they are marks within figures', choices: { delimiter: ';' } }],
		});
		return;
	}
	// 1,204.5 is cut at a comma only by mistake; 4,25 may be two columns.
	opened.delimiter = ';';
	opened.rows = whole.map((line) => [line]);
	doubts.push({
		code: 'decimal-comma',
		text: 'The commas were taken as marks within the figures of one column, not as separators.',
		options: [{ label: 'they separate columns', choices: { delimiter: ',' } }],
	});
}

/** Whether the first row has a word over each cell of all others, parted as those are: without a blank after the comma. */
function isHeadOf([head, ...body]: readonly string[][], text: string): boolean {
	const line = text
		.trimStart()
		.split(/\r\n?|\n/, 1)[0]!
		.replace(/"[^"]*"/g, '');
	return (
		head!.length > 1 &&
		head!.every((cell) => cell !== '') &&
		body.every((row) => row.length === head!.length) &&
		!/,\s/.test(line)
	);
}

/** What the beginning of a table decides for all of it. */
export interface Settled {
	opened: Opened;
	layout: Layout;
	/** As they were made, and what the beginning narrows them to. */
	choices: Choices;
	/** Whether it can be told from its row alone what a figure is of. */
	byRows: boolean;
	marks: FigureMarks;
	/** What stands over the seasons, and the one that a cycle begins with. */
	said: { seasons: string; begins: number };
	/** Entries with one each of the labels that tell time, and the periods that they were read as. */
	anchors: { entries: Entry[]; ordinals: (Ordinal | null)[] };
	/** Whether blank cells at both ends are outside the series rather than missing. */
	drawnWider: boolean;
	/** Whether its lines are orders, to be summed. */
	orders: boolean;
}

function interpret(
	opened: Opened,
	choices: Choices,
	begun: Reading,
): { reading: Reading; settled: Settled | null } {
	const { rows } = opened;
	const width = widthOf(rows);
	const layout = findRoles(rows, width, choices);
	const { roles, near } = layout;
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
		heading: headingOf(rows, roles),
		order: roles.order,
	};
	const { doubts } = reading;
	const ended = (problem: string) => ({ reading: { ...reading, problem }, settled: null });
	doubtLayout(rows, roles, near, choices, doubts);
	doubtTotals(rows, reading, roles, doubts);
	const gatherer = new Gatherer(rows, roles, choices);
	const units = noUnits();
	const entries = partUnits(inReadingOrder(gatherer.take(rows, roles.rows), roles), units, choices);
	if (!entries.some(({ cell }) => !isMissing(cell))) return ended(nothingThere(rows, roles));
	const { names, items } = numberItems(entries);
	if (names.length > BOUNDS.tableItems)
		return ended(
			`These are ${written(names.length)} items; at most ${written(BOUNDS.tableItems)} are read at once.`,
		);
	const seasons = seasonHeading(rows, roles);
	const timed = findPeriods(entries, items, choices, { seasons, title: titlePeriod(rows, roles) });
	const marks = findMarks(entries, opened.typed, choices, doubts);
	const figures = takeFigures(entries, marks, choices, width, timed.orderLines);
	Object.assign(reading, {
		decimal: marks.mark,
		layout: describeLayout(roles, timed.frequency, names.length),
		spelling: timed.spelling,
		frequency: timed.frequency,
		possible: timed.possible,
		asksFirst: timed.asksFirst,
		seasonLength: timed.seasonLength ?? CALENDAR_SEASON_LENGTH[timed.frequency],
		labels: nameLabels(gatherer.labels.headings),
	});
	doubtFigures(figures, choices, doubts);
	doubtUnits(units, choices, doubts);
	doubtQuantity(roles, doubts);
	doubtJoined(roles, names[0]!.item, doubts);
	doubtCodes(gatherer.codes, gatherer.firstLabel, choices, doubts);
	doubtCancelled(gatherer.cancelled, reading, choices, doubts);
	doubtLabels(reading.labels, gatherer.labels.several, doubts);
	doubtTime(timed, choices, doubts);
	const filled = timed.orderLines
		? filledBy(timed.days!, timed.ordinals, timed.frequency, choices, doubts)
		: null;
	if (timed.orderLines) doubtReturns(figures.negative, choices, doubts);
	if (timed.problem) return ended(firstRefusal(entries, figures.refusals, names.length) ?? timed.problem);
	// Tables of many items, or with time across, are drawn wider than their figures go.
	const drawnWider = names.length > 1 || !roles.columns.includes('period');
	const sides = (role: 'cycle' | 'season') =>
		roles.columns.includes(role) ? 'down' : roles.rows.includes(role) ? 'across' : null;
	const inOrder = sides('cycle') === sides('season');
	const labelsOf = (code: string) =>
		gatherer.labels.of.get(code) ?? gatherer.labels.of.get(units.parted.get(code) ?? '') ?? [];
	reading.items = alignItems(
		{ entries, items, names, drawnWider, inOrder, filled, labelsOf },
		timed,
		figures,
		choices,
	);
	doubtPeriods(reading, choices);
	const only = reading.items.length === 1 ? reading.items[0]! : null;
	const allFail = reading.items.every(({ problem }) => problem !== null);
	reading.problem = only?.problem ?? (allFail ? reading.items[0]!.problem : null);
	const settled: Settled = {
		opened,
		layout,
		choices: {
			...choices,
			frequency: timed.frequency,
			...(timed.dateOrder && { dateOrder: timed.dateOrder.used }),
		},
		byRows: !timed.asksFirst && !gatherer.countsRows,
		marks,
		said: { seasons, begins: timed.begins },
		anchors: anchorsOf(entries, timed),
		drawnWider,
		orders: timed.orderLines,
	};
	return { reading, settled };
}

/** So many labels, found among so many of the first entries, show how all of them are meant. */
const ANCHORS = 400;
const AMONG = 20_000;

/** The first entries with each of the labels that tell time. */
function anchorsOf(entries: readonly Entry[], { ordinals }: Timed): Settled['anchors'] {
	const known = new Set<string>();
	const anchors: Settled['anchors'] = { entries: [], ordinals: [] };
	for (const [i, entry] of entries.slice(0, AMONG).entries()) {
		if (known.size === ANCHORS) break;
		const label = `${entry.period}\n${entry.cycle}\n${entry.season}\n${entry.day}`;
		if (known.has(label)) continue;
		known.add(label);
		anchors.entries.push(entry);
		anchors.ordinals.push(ordinals[i] ?? null);
	}
	return anchors;
}

/** Labels by their headings, each by a name of its own. */
function nameLabels(headings: readonly string[]): string[] {
	const taken = new Set<string>();
	return headings.map((heading) => {
		const base = heading.slice(0, BOUNDS.label - 4).trim() || 'label';
		let name = base;
		for (let i = 2; taken.has(name); i++) name = `${base} ${i}`;
		taken.add(name);
		return name;
	});
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
	labelsOf(code: string): readonly string[];
}

function alignItems(
	{ entries, items, names, drawnWider, inOrder, filled, labelsOf }: Named,
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
		if (part.unit === '') part.unit = entries[i]!.unit;
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
			unit: part.unit.slice(0, BOUNDS.unit),
			labels: labelsOf(named.item).map((label) => label.slice(0, BOUNDS.labelValue)),
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

/** The period of an item for a reader, from its first figure to its last. */
export function spanOf(frequency: Frequency, { first, values }: Pick<ReadItem, 'first' | 'values'>): string {
	const last = first + values.length - 1;
	return values.length === 1
		? describePeriod(frequency, first)
		: `${describePeriod(frequency, first)} – ${describePeriod(frequency, last)}`;
}
