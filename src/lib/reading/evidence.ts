import { type Frequency, periodWord } from '$core/series/frequency';
import { describePeriod, formatPeriod, type Ordinal } from '$core/series/period';
import type { Choices, ColumnRole, RowRole } from './choices';
import { isFigure, shorten } from './figures';
import { isPeriodWord } from './periods';
import type { Doubt, Reading } from './reading';
import { isBareYear, plain } from './words';

/** What a workspace knows of a table: items that it has, and the last table of the same make. */
export interface Known {
	/** Items whose codes or names stand in the table, with the newest period that they have a figure for. */
	items: readonly { code: string; name: string; frequency: Frequency; newest: Ordinal | null }[];
	/** How the last table of this make was read; null where there is none. */
	last: LastTable | null;
}

export interface LastTable {
	fileName: string | null;
	/** When it was brought in, as ISO 8601. */
	at: string;
	choices: Choices;
	heads: readonly string[];
	/** What could have been read in another way then, as it was said. */
	doubts: readonly string[];
	columns: readonly ColumnRole[];
	frequency: Frequency;
	decimal: string;
}

/** What follows from what is known: choices that nobody had to make, and what is said of them. */
export interface Evidence {
	choices: Choices;
	/** Said in one line each, with what would take it back or decide otherwise. */
	said: Doubt[];
}

export const NO_EVIDENCE: Evidence = { choices: {}, said: [] };

/** A period in a heading, whichever it is. */
const PERIOD_HEAD = '#';
/** What stands above each column, all rows of it, with a sign in place of each period; blank where there is nothing. */
export function headsOf({
	rows,
	rowRoles,
	heading,
	columnCount,
}: Pick<Reading, 'rows' | 'rowRoles' | 'heading' | 'columnCount'>): string[] {
	const body = rowRoles.indexOf('figures');
	const above = rows.filter((_, r) => r < body && (r === heading || rowRoles[r] !== 'ignored'));
	const width = Math.min(columnCount, Math.max(0, ...above.map((row) => row.length)));
	return Array.from({ length: width }, (_, c) =>
		above
			.map((row) => row[c] ?? '')
			.map((cell) => (isPeriodWord(cell) || isBareYear(cell) || isFigure(cell) ? PERIOD_HEAD : plain(cell)))
			.filter((head, r) => head !== '' && (head !== PERIOD_HEAD || above[r]![c] !== ''))
			.join(' '),
	);
}

/** What tables of the same make have in common: their headings, each once, so that one more month is the same make. */
export function makeOf(
	reading: Pick<Reading, 'rows' | 'rowRoles' | 'heading' | 'columnCount' | 'kind'>,
): string | null {
	// What is given once over several columns is blank over the others.
	const heads = new Set(headsOf(reading).map((head) => head.replace(PERIOD_HEAD, '').trim()));
	heads.delete('');
	// Without a word of its own a heading could be anybody's.
	if (![...heads].some((head) => /\p{L}{2}/u.test(head))) return null;
	return [reading.kind, ...heads].join('|').slice(0, 500);
}

/** Words of a table that could be codes: of its shown rows, each once. */
export const MOST_WORDS = 1000;
export function wordsOf({ rows, tail }: Pick<Reading, 'rows' | 'tail'>): string[] {
	const words = new Set<string>();
	for (const row of [...rows, ...tail])
		for (const cell of row) {
			const word = cell.trim();
			if (word !== '' && word.length <= LONGEST && !/\p{C}/u.test(word) && words.size < MOST_WORDS)
				words.add(word);
		}
	return [...words];
}
const LONGEST = 60;

/** Codes by the names that one item alone has, for tables that name items by them. */
export function codesByName({ items }: Pick<Known, 'items'>): ReadonlyMap<string, string> {
	const codes = new Map<string, string>();
	const several = new Set<string>();
	for (const { code, name } of items) {
		if (codes.has(name)) several.add(name);
		codes.set(name, code);
	}
	for (const name of several) codes.delete(name);
	return codes;
}

/** So much of a line has to be known codes for it to be a line of items. */
const MOSTLY = 0.6;

/** A line that has codes of known items, and whether it has nothing else. */
interface LineOfItems {
	side: 'column' | 'row';
	at: number;
	codes: string[];
	all: boolean;
}

/** The line of a table that has the codes of known items; null where none has. */
function lineOfItems({ rows, columns, rowRoles }: Reading, known: ReadonlySet<string>): LineOfItems | null {
	let best: LineOfItems | null = null;
	const look = (side: 'column' | 'row', at: number, cells: readonly string[]) => {
		const distinct = new Set(cells.filter((cell) => cell !== ''));
		const codes = [...distinct].filter((cell) => known.has(cell));
		// A corner says what the others are.
		const others = distinct.size - (side === 'row' && distinct.size > 1 && !known.has(cells[0]!) ? 1 : 0);
		if (codes.length > (best?.codes.length ?? 0) && codes.length >= MOSTLY * others)
			best = { side, at, codes, all: codes.length > 1 && codes.length === others };
	};
	const body = Math.max(0, rowRoles.indexOf('figures'));
	for (const c of columns.keys())
		look(
			'column',
			c,
			rows.slice(body).map((row) => row[c] ?? ''),
		);
	for (let r = 0; r < Math.min(rows.length, body + 1); r++) look('row', r, rows[r]!);
	return best;
}

/** Choices by position, moved to where the headings stand now; those below periods, and of rows of figures, hold for their table alone. */
function moved(last: LastTable, reading: Reading): Choices {
	const heads = headsOf(reading);
	const columns = Object.entries(last.choices.columns ?? {}).flatMap(([at, role]) => {
		const head = last.heads[Number(at)] ?? '';
		const now = head === '' || head === PERIOD_HEAD ? -1 : heads.indexOf(head);
		return now < 0 ? [] : [[now, role] as const];
	});
	return {
		...last.choices,
		rows: undefined,
		first: undefined,
		sheet: undefined,
		columns: columns.length > 0 ? Object.fromEntries(columns) : undefined,
	};
}

/** Choices laid over others, by position where they are of columns and rows. */
export function withEvidence(under: Choices, over: Choices): Choices {
	const columns = { ...under.columns, ...over.columns };
	const rows = { ...under.rows, ...over.rows };
	return {
		...under,
		...over,
		columns: Object.keys(columns).length > 0 ? columns : undefined,
		rows: Object.keys(rows).length > 0 ? rows : undefined,
	};
}

/**
 * What is known held against a table as it was read without it.
 * @param day a moment for a reader
 */
export function evidenceOf(reading: Reading, { items, last }: Known, day: (iso: string) => string): Evidence {
	const said: Doubt[] = [];
	let choices: Choices = {};
	if (last) {
		choices = moved(last, reading);
		said.push({
			code: 'last-table',
			text: `Read in the same way as ${last.fileName ? `“${shorten(last.fileName)}”` : 'the last table of this make'}, ${day(last.at)}.`,
			options: [],
		});
	}
	const known = new Set(items.flatMap(({ code, name }) => [code, name]));
	const line = lineOfItems(reading, known);
	const role = line && (line.side === 'column' ? reading.columns : reading.rowRoles)[line.at];
	// Codes of digits may have been taken for figures: only a line of nothing else is none.
	if (line && role !== 'item' && (line.all || (role !== 'figure' && role !== 'figures'))) {
		const codes = line.codes.slice(0, 3).map((code) => `“${shorten(code)}”`);
		choices =
			line.side === 'column'
				? { ...choices, columns: { ...choices.columns, [line.at]: 'item' } }
				: { ...choices, rows: { ...choices.rows, [line.at]: 'item' as RowRole } };
		said.push({
			code: 'known-items',
			text: `${line.side === 'column' ? 'Column' : 'Row'} ${line.at + 1} has the codes or names of items that are here: ${codes.join(', ')}${line.codes.length > 3 ? ' …' : ''}.`,
			options: [],
		});
	}
	const own = items.filter(
		({ code, name }) => !line || line.codes.includes(code) || line.codes.includes(name),
	);
	const frequency = usual(own.map((item) => item.frequency));
	if (frequency && own.length >= MOSTLY * Math.max(1, reading.items.length)) {
		if (frequency !== reading.frequency && (reading.possible?.includes(frequency) || reading.asksFirst)) {
			choices = { ...choices, frequency };
			said.push({
				code: 'known-frequency',
				text: `Its items are kept by the ${periodWord(frequency, 1)}, so the table is read by the ${periodWord(frequency, 1)}.`,
				options: [],
			});
		}
	}
	return { choices, said };
}

/** What is said of a table once it is read by the evidence: what it has otherwise than the last one of its make, and the period that it may be of. */
export const further = (reading: Reading, known: Known): Doubt[] =>
	[otherwise(reading, known), nextPeriod(reading, known)].filter((doubt) => doubt !== null);

/** The period that the items of a table wait for, where it says none. */
function nextPeriod(reading: Reading, { items }: Known): Doubt | null {
	if (!reading.asksFirst || reading.problem === null) return null;
	const frequency = usual(items.map((item) => item.frequency));
	const newest = usual(items.flatMap((item) => (item.newest === null ? [] : [item.newest])));
	if (frequency === null || newest === null) return null;
	const period = describePeriod(frequency, newest + 1);
	return {
		code: 'next-period',
		text: `The table says no period. ${items.length === 1 ? 'Its item waits' : 'Most of its items wait'} for ${period}.`,
		options: [
			{
				label: `the figures are of ${period}`,
				choices: { frequency, first: String(formatPeriod(frequency, newest + 1)) },
			},
		],
	};
}

function otherwise(reading: Reading, { last }: Known): Doubt | null {
	if (!last || reading.problem !== null) return null;
	const parts = [
		reading.frequency !== last.frequency &&
			`periods are ${periodWord(reading.frequency, 2)}, they were ${periodWord(last.frequency, 2)}`,
		reading.decimal !== last.decimal &&
			`the decimal mark is a ${MARK[reading.decimal]}, it was a ${MARK[last.decimal as '.' | ',']}`,
		rolesIn(reading.columns) !== rolesIn(last.columns) && 'columns are taken for other things',
	].filter((part) => typeof part === 'string');
	if (parts.length === 0) return null;
	return {
		code: 'last-otherwise',
		text: `It differs from that one: ${parts.join('; ')}.`,
		options:
			reading.decimal === last.decimal
				? []
				: [
						{
							label: `take a ${MARK[last.decimal as '.' | ',']}`,
							choices: { decimal: last.decimal as '.' | ',' },
						},
					],
	};
}
const MARK = { '.': 'point', ',': 'comma' };
/** Roles in their order, each once: one more month is no other shape. */
const rolesIn = (columns: readonly ColumnRole[]) => [...new Set(columns)].join(' ');

/** What most of some values are; null where no half of them are alike. */
function usual<T>(values: readonly T[]): T | null {
	const counts = new Map<T, number>();
	for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
	for (const [value, count] of counts) if (2 * count > values.length) return value;
	return null;
}
