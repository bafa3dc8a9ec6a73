import { meant } from './guarded';
import { BOUNDS } from '$core/bounds';
import { type CodeForm, codeFormOf } from './codes';
import { sameQuantity } from './quantities';
import type { Roles } from './roles';
import { type Choices, ROW_ROLES, type RowRole } from './choices';
import { bareUnit, isCancelled } from './words';

/** A figure's cell with the labels that belong to it; empty where there is none. */
export interface Entry {
	item: string;
	name: string;
	unit: string;
	period: string;
	cycle: string;
	season: string;
	/** Day of the month. */
	day: string;
	cell: string;
	/** 0-based place in the table. */
	row: number;
	column: number;
}

type Table = readonly (readonly string[])[];
type Heading = Partial<Record<RowRole, readonly string[]>>;
const KEYS = ['item', 'name', 'unit', 'period', 'cycle', 'season', 'day', 'quantity'] as const;
type Key = (typeof KEYS)[number];
const forEachKey = <T>(of: (key: Key) => T) =>
	Object.fromEntries(KEYS.map((key) => [key, of(key)])) as Record<Key, T>;
type Over = Omit<Entry, 'cell' | 'row' | 'day'> & { quantity: string };

const HEADINGS: ReadonlySet<RowRole> = new Set(
	ROW_ROLES.filter((role) => role !== 'figures' && role !== 'total' && role !== 'ignored'),
);
/** Labels given once and left blank after: a merged cell stands for all that it spanned. */
const SPREADS: ReadonlySet<string> = new Set(['item', 'name', 'unit', 'label', 'cycle', 'quantity']);
/** Labels beside figures that may be given once. */
const SPREAD_KEYS = ['item', 'name', 'unit', 'period', 'cycle', 'season'] as const;
const PLACES = ['item', 'period', 'cycle', 'season', 'quantity'] as const;

/** What the items of a table are labelled with. */
export interface Labels {
	/** What each label is of, by its place; blank where nothing says so. */
	headings: readonly string[];
	/** The labels of each item, blank where none was given. */
	of: Map<string, string[]>;
	/** Items that several words were given for, by label. */
	several: readonly Set<string>[];
}

/** Every figure of a table with its labels, in the order of reading: by rows, or by columns where figures run down. */
export const gather = (rows: Table, roles: Roles, choices: Choices = {}): Entry[] =>
	new Gatherer(rows, roles, choices).take(rows, roles.rows);

/** Gathers the figures of a table in one go or part by part, and keeps what holds for the rows to come. */
export class Gatherer {
	readonly labels: Labels;
	/** Lines that were left out because they say that they were cancelled. */
	cancelled = 0;
	/** Whether lines without a name are told apart by counting the rows, which takes the whole table. */
	readonly countsRows: boolean;
	/** How codes and names stand in one cell; null where they do not. */
	readonly codes: CodeForm | null;
	/** The first label of an item, where labels alone say what items are. */
	readonly firstLabel: string;
	readonly #columns: Readonly<Record<Key, number>>;
	/** Whether a heading says what the figures below it are of. */
	readonly #quantified: boolean;
	readonly #figures: readonly number[];
	readonly #others: readonly number[];
	readonly #labelled: { columns: readonly number[]; rows: readonly number[] };
	readonly #status: readonly { c: number; heading: string }[];
	readonly #lines: ReturnType<typeof countLines>;
	readonly #last = forEachKey(() => '');
	readonly #lastOthers: string[] = [];
	#heading: Heading = {};
	#inHeading = false;
	/** What the headings say of each column of figures, until the next of them. */
	#above: Over[] | null = null;
	/** Labels over each column of figures, row by row, and how many such rows the heading had so far. */
	readonly #labelsOver: (readonly string[])[] = [];
	#labelRow = 0;

	/** @param rows of the table, or of its beginning */
	constructor(
		rows: Table,
		readonly roles: Roles,
		readonly choices: Choices = {},
	) {
		const columnsOf = (role: string) => roles.columns.flatMap((each, c) => (each === role ? [c] : []));
		this.#columns = forEachKey((key) => roles.columns.indexOf(key));
		this.#quantified = roles.rows.includes('quantity');
		this.#figures = columnsOf('figure');
		this.#others = columnsOf('item').slice(1);
		const body = Math.max(0, roles.rows.indexOf('figures'));
		this.#labelled = {
			columns: columnsOf('label').slice(0, BOUNDS.labels),
			rows: roles.rows.slice(0, body).flatMap((role, r) => (role === 'label' ? [r] : [])),
		};
		const over = (c: number) => headingAbove(rows, body, c);
		this.labels = {
			headings: [
				...this.#labelled.columns.map(over),
				...this.#labelled.rows.map(
					(r) =>
						rows[r]!.find((cell, c) => cell !== '' && !['figure', 'total'].includes(roles.columns[c]!)) ?? '',
				),
			],
			of: new Map(),
			several: [...this.#labelled.columns, ...this.#labelled.rows].map(() => new Set<string>()),
		};
		this.#status =
			choices.cancelled === 'take' ? [] : columnsOf('status').map((c) => ({ c, heading: over(c) }));
		const labels = itemLabels(rows, roles);
		this.codes = codeFormOf(labels);
		this.firstLabel = labels[0] ?? '';
		this.#lines = countLines(rows, roles, this.#columns.item >= 0);
		this.countsRows = this.#lines.countsRows;
	}

	/**
	 * The figures of rows that follow those taken before.
	 * @param lines what each row is
	 * @param from place of the first of them in the table
	 */
	take(rows: Table, lines: readonly RowRole[], from = 0): Entry[] {
		const entries: Entry[] = [];
		const inner = innermost(lines);
		const figures = this.#figures;
		for (const [r, row] of rows.entries()) {
			const role = lines[r]!;
			if (HEADINGS.has(role)) {
				this.#head(row, role, lines[r - 1] === role, inner.has(r));
				continue;
			}
			if (role !== 'figures') continue;
			this.#inHeading = false;
			if (this.#columns.quantity >= 0 && !this.#takes(this.#keyOf(row, 'quantity'))) {
				// What was given once holds for the rows below it, whichever of them is taken.
				for (const key of SPREAD_KEYS) this.#keyOf(row, key);
				continue;
			}
			const parted = this.#parted(meant(this.#keyOf(row, 'item')));
			const named = parted.code;
			const name = this.#keyOf(row, 'name') || parted.name;
			const unit = bareUnit(this.#keyOf(row, 'unit'));
			const period = this.#keyOf(row, 'period');
			const cycle = this.#keyOf(row, 'cycle');
			const season = this.#keyOf(row, 'season');
			const day = this.#keyOf(row, 'day');
			if (this.#status.some(({ c, heading }) => isCancelled(row[c] ?? '', heading))) {
				this.cancelled++;
				continue;
			}
			this.#above ??= overFigures(this.#heading, figures).map((over) => {
				const { code, name } = this.#parted(over.item);
				return { ...over, item: code, name: over.name || name };
			});
			const item = this.#others.length === 0 ? named : this.#toldBy(row, named);
			for (const over of this.#above) {
				if (this.#quantified && !this.#takes(over.quantity)) continue;
				const c = over.column;
				const code =
					item && !over.item ? item : joined(item, over.item, () => this.#lines.nameOf(r + from, c));
				entries.push({
					item: code,
					name: name || over.name,
					unit: unit || over.unit,
					period: period || over.period,
					cycle: cycle || over.cycle,
					season: season || over.season,
					day,
					cell: row[c] ?? '',
					row: r + from,
					column: c,
				});
				if (this.labels.several.length > 0) this.#label(code, row, c);
			}
		}
		return entries;
	}

	/** Whether figures below or beside a label of quantities are of the one that is taken. */
	#takes(label: string): boolean {
		const { quantity } = this.roles;
		return quantity === null || sameQuantity(label, quantity.demand);
	}

	/** Code and name of a label that may have both. */
	#parted(label: string): { code: string; name: string } {
		const parted = this.choices.codes === 'whole' ? null : this.codes?.(label);
		return parted ?? { code: label, name: '' };
	}

	/** An item that is told by several columns together. */
	#toldBy(row: readonly string[], first: string): string {
		return this.#others.reduce((code, c, i) => {
			const part = row[c] ?? '';
			if (part !== '') this.#lastOthers[i] = part;
			return joined(code, meant(this.#lastOthers[i] ?? ''), () => '');
		}, first);
	}

	#head(row: readonly string[], role: RowRole, again: boolean, isInner: boolean): void {
		// Names and units above the first block hold for the next ones; periods do not.
		if (!this.#inHeading) {
			this.#heading = pick(this.#heading, ['item', 'name', 'unit']);
			this.#labelRow = 0;
		}
		this.#inHeading = true;
		this.#above = null;
		const over = SPREADS.has(role) || !isInner ? spread(row, this.roles, this.#figures) : row;
		if (role === 'label') {
			this.#labelsOver[this.#labelRow++] = over;
			return;
		}
		const before = again && role === 'item' ? this.#heading.item : undefined;
		this.#heading[role] = before ? over.map((label, c) => joined(before[c] ?? '', label, () => '')) : over;
	}

	/** What a column says of a row. */
	#keyOf(row: readonly string[], role: Key): string {
		const columns = this.#columns;
		const c = columns[role];
		if (c < 0) return '';
		const own = row[c] ?? '';
		if (own !== '') {
			this.#last[role] = own;
			return own;
		}
		// What stands to the left of a filled label and is blank was given once for all of its rows.
		const outer = () => PLACES.some((each) => columns[each] > c && (row[columns[each]] ?? '') !== '');
		return SPREADS.has(role) || outer() ? this.#last[role] : '';
	}

	/** Keeps what a row, and what stands over a column, label an item with. */
	#label(item: string, row: readonly string[], c: number): void {
		const { of, several } = this.labels;
		let kept = of.get(item);
		if (!kept) of.set(item, (kept = several.map(() => '')));
		const { columns } = this.#labelled;
		for (let i = 0; i < kept.length; i++) {
			const own = i < columns.length ? row[columns[i]!] : this.#labelsOver[i - columns.length]?.[c];
			if (!own || own === kept[i]) continue;
			if (kept[i] === '') kept[i] = own;
			else several[i]!.add(item);
		}
	}
}

/** What stands above a column. */
function headingAbove(rows: Table, body: number, c: number): string {
	for (let r = body - 1; r >= 0; r--) if ((rows[r]![c] ?? '') !== '') return rows[r]![c]!;
	return '';
}

/** The labels of items, where they alone say what these are. */
function itemLabels(rows: Table, roles: Roles): string[] {
	const columns = roles.columns.flatMap((role, c) => (role === 'item' ? [c] : []));
	const headings = roles.rows.flatMap((role, r) => (role === 'item' ? [r] : []));
	if (roles.columns.includes('name') || roles.rows.includes('name') || columns.length > 1) return [];
	const [c] = columns;
	if (c !== undefined)
		return headings.length > 0
			? []
			: rows.flatMap((row, r) => (roles.rows[r] === 'figures' && row[c] ? [meant(row[c])] : []));
	return headings.flatMap((r) => rows[r]!.filter((_, i) => roles.columns[i] === 'figure').map(meant));
}

/** What stands over the seasons, which says what plain numbers among them count. */
export function seasonHeading(rows: Table, roles: Roles): string {
	const c = roles.columns.indexOf('season');
	const r = roles.rows.indexOf('season');
	if (c < 0)
		return r < 0 ? '' : (rows[r]!.find((cell, i) => cell !== '' && roles.columns[i] !== 'figure') ?? '');
	return headingAbove(rows, roles.rows.indexOf('figures'), c);
}

/** The labels above each column of figures. */
function overFigures(heading: Heading, figures: readonly number[]): Over[] {
	const over = (key: RowRole, c: number) => heading[key]?.[c] ?? '';
	return figures.map((column) => ({
		item: meant(over('item', column)),
		name: over('name', column),
		unit: bareUnit(over('unit', column)),
		period: over('period', column),
		cycle: over('cycle', column),
		season: over('season', column),
		quantity: over('quantity', column),
		column,
	}));
}

/** Heading rows with no other place below them before the figures: what is blank there was given no label. */
function innermost(lines: readonly RowRole[]): ReadonlySet<number> {
	const inner = new Set<number>();
	const places: ReadonlySet<string> = new Set(PLACES);
	let below = false;
	for (let r = lines.length - 1; r >= 0; r--) {
		const role = lines[r]!;
		if (role === 'figures') below = false;
		else if (places.has(role)) {
			if (!below) inner.add(r);
			below = true;
		}
	}
	return inner;
}

const joined = (down: string, across: string, otherwise: () => string): string =>
	down && across && down !== across ? `${down} · ${across}` : down || across || otherwise();

/** How lines without a name are told apart: by their column, by their row, or not at all where there is one series. */
function countLines(
	rows: Table,
	roles: Roles,
	named: boolean,
): { nameOf(r: number, c: number): string; countsRows: boolean } {
	const figures = roles.columns.filter((role) => role === 'figure').length;
	const across =
		roles.rows.includes('period') || roles.rows.includes('season') || roles.rows.includes('cycle');
	const down =
		roles.columns.includes('period') || roles.columns.includes('season') || roles.columns.includes('cycle');
	const timeAcross =
		(across && !(roles.columns.includes('cycle') || roles.columns.includes('season'))) ||
		(!across && !down && roles.order === 'across');
	if (named || (down && across)) return { nameOf: () => '', countsRows: false };
	if (!timeAcross) return { nameOf: (_, c) => (figures > 1 ? `column ${c + 1}` : ''), countsRows: false };
	// Each block has its line of figures: the second lines of all blocks belong together.
	const place = new Map<number, number>();
	let within = 0;
	let most = 0;
	for (let r = 0; r < rows.length; r++) {
		if (HEADINGS.has(roles.rows[r]!)) within = 0;
		if (roles.rows[r] !== 'figures') continue;
		place.set(r, ++within);
		most = Math.max(most, within);
	}
	return { nameOf: (r) => (most > 1 ? `row ${place.get(r)}` : ''), countsRows: most > 1 };
}

/** A heading's labels over the columns that they span; a label alone in its row holds for all. */
function spread(row: readonly string[], { columns }: Roles, figures: readonly number[]): string[] {
	const over: string[] = [];
	let last = '';
	if (figures.every((c) => (row[c] ?? '') === '')) last = row.find((cell) => cell !== '') ?? '';
	for (const [c, role] of columns.entries()) {
		// A label may begin over a column without figures.
		if (role !== 'figure' && role !== 'ignored') continue;
		if ((row[c] ?? '') !== '') last = row[c]!;
		over[c] = last;
	}
	return over;
}

function pick(heading: Heading, keep: readonly RowRole[]): Heading {
	return Object.fromEntries(keep.flatMap((role) => (heading[role] ? [[role, heading[role]]] : [])));
}
