import type { Roles } from './roles';
import type { RowRole } from './choices';
import { bareUnit } from './words';

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

const HEADINGS: ReadonlySet<RowRole> = new Set(['item', 'name', 'unit', 'period', 'cycle', 'season']);
/** Labels given once and left blank after: a merged cell stands for all that it spanned. */
const SPREADS: ReadonlySet<string> = new Set(['item', 'name', 'unit', 'cycle']);
const PLACES = ['item', 'period', 'cycle', 'season'] as const;

/** Every figure of a table with its labels, in the order of reading: by rows, or by columns where figures run down. */
export function gather(rows: Table, roles: Roles): Entry[] {
	const columnsOf = (role: string) => roles.columns.flatMap((each, c) => (each === role ? [c] : []));
	const figures = columnsOf('figure');
	const keys = {
		item: columnsOf('item')[0],
		day: columnsOf('day')[0],
		name: columnsOf('name')[0],
		unit: columnsOf('unit')[0],
		period: columnsOf('period')[0],
		cycle: columnsOf('cycle')[0],
		season: columnsOf('season')[0],
	};
	const entries: Entry[] = [];
	let heading: Heading = {};
	let inHeading = false;
	/** What the headings say of each column of figures, until the next of them. */
	let above: Omit<Entry, 'cell' | 'row' | 'day'>[] | null = null;
	const last: Record<string, string> = {};
	const keyOf = (row: readonly string[], role: keyof typeof keys): string => {
		const c = keys[role];
		if (c === undefined) return '';
		const own = row[c] ?? '';
		if (own !== '') last[role] = own;
		// What stands to the left of a filled label and is blank was given once for all of its rows.
		const outer = () =>
			PLACES.some((each) => keys[each] !== undefined && keys[each] > c && (row[keys[each]] ?? '') !== '');
		return own === '' && (SPREADS.has(role) || outer()) ? (last[role] ?? '') : own;
	};
	const others = columnsOf('item').slice(1);
	const lastOthers: string[] = [];
	const inner = innermost(roles);
	const lines = countLines(rows, roles, keys.item !== undefined);

	for (const [r, row] of rows.entries()) {
		const role = roles.rows[r]!;
		if (HEADINGS.has(role)) {
			// Names and units above the first block hold for the next ones; periods do not.
			if (!inHeading) heading = pick(heading, ['item', 'name', 'unit']);
			inHeading = true;
			above = null;
			const labels = SPREADS.has(role) || !inner.has(r) ? spread(row, roles, figures) : row;
			const before = roles.rows[r - 1] === role && role === 'item' ? heading.item : undefined;
			heading[role] = before ? labels.map((label, c) => joined(before[c] ?? '', label, () => '')) : labels;
			continue;
		}
		if (role !== 'figures') continue;
		inHeading = false;
		const own = {
			item: keyOf(row, 'item'),
			name: keyOf(row, 'name'),
			unit: keyOf(row, 'unit'),
			period: keyOf(row, 'period'),
			cycle: keyOf(row, 'cycle'),
			season: keyOf(row, 'season'),
			day: keyOf(row, 'day'),
		};
		above ??= overFigures(heading, figures);
		// An item may be told by several columns together.
		const item = others.reduce((code, c, i) => {
			const part = row[c] ?? '';
			if (part !== '') lastOthers[i] = part;
			return joined(code, meant(lastOthers[i] ?? ''), () => '');
		}, meant(own.item));
		const unit = bareUnit(own.unit);
		for (const over of above) {
			const c = over.column;
			entries.push({
				item: item && !over.item ? item : joined(item, over.item, () => lines.nameOf(r, c)),
				name: own.name || over.name,
				unit: unit || over.unit,
				period: own.period || over.period,
				cycle: own.cycle || over.cycle,
				season: own.season || over.season,
				day: own.day,
				cell: row[c] ?? '',
				row: r,
				column: c,
			});
		}
	}
	return entries;
}

/** What stands over the seasons, which says what plain numbers among them count. */
export function seasonHeading(rows: Table, roles: Roles): string {
	const c = roles.columns.indexOf('season');
	const r = roles.rows.indexOf('season');
	if (c < 0)
		return r < 0 ? '' : (rows[r]!.find((cell, i) => cell !== '' && roles.columns[i] !== 'figure') ?? '');
	for (let above = roles.rows.indexOf('figures') - 1; above >= 0; above--)
		if ((rows[above]![c] ?? '') !== '') return rows[above]![c]!;
	return '';
}

/** The labels above each column of figures. */
function overFigures(heading: Heading, figures: readonly number[]): Omit<Entry, 'cell' | 'row' | 'day'>[] {
	const over = (key: RowRole, c: number) => heading[key]?.[c] ?? '';
	return figures.map((column) => ({
		item: meant(over('item', column)),
		name: over('name', column),
		unit: bareUnit(over('unit', column)),
		period: over('period', column),
		cycle: over('cycle', column),
		season: over('season', column),
		column,
	}));
}

/** Heading rows with no other place below them before the figures: what is blank there was given no label. */
function innermost(roles: Roles): ReadonlySet<number> {
	const inner = new Set<number>();
	const places: ReadonlySet<string> = new Set(PLACES);
	let below = false;
	for (let r = roles.rows.length - 1; r >= 0; r--) {
		const role = roles.rows[r]!;
		if (role === 'figures') below = false;
		else if (places.has(role)) {
			if (!below) inner.add(r);
			below = true;
		}
	}
	return inner;
}

/** A label as it is meant: an apostrophe before =, +, - or @ only keeps other programs from running it. */
const meant = (label: string) => (label.startsWith("'") ? label.replace(/^'(?=[=+\-@])/, '') : label);

const joined = (down: string, across: string, otherwise: () => string): string =>
	down && across && down !== across ? `${down} · ${across}` : down || across || otherwise();

/** How lines without a name are told apart: by their column, by their row, or not at all where there is one series. */
function countLines(rows: Table, roles: Roles, named: boolean): { nameOf(r: number, c: number): string } {
	const figures = roles.columns.filter((role) => role === 'figure').length;
	const across =
		roles.rows.includes('period') || roles.rows.includes('season') || roles.rows.includes('cycle');
	const down =
		roles.columns.includes('period') || roles.columns.includes('season') || roles.columns.includes('cycle');
	const timeAcross =
		(across && !(roles.columns.includes('cycle') || roles.columns.includes('season'))) ||
		(!across && !down && roles.order === 'across');
	if (named || (down && across)) return { nameOf: () => '' };
	if (!timeAcross) return { nameOf: (_, c) => (figures > 1 ? `column ${c + 1}` : '') };
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
	return { nameOf: (r) => (most > 1 ? `row ${place.get(r)}` : '') };
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
