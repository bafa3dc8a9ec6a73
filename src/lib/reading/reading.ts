import type { Frequency } from '$core/series/frequency';
import type { Ordinal } from '$core/series/period';
import type { Choices, ColumnRole, RowRole } from './choices';
import type { Encoding } from './decode';
import type { DecimalMark } from './figures';
import type { Delimiter } from './table';

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
	/** What it is labelled with, one for each of the reading's labels; blank where nothing is said. */
	labels: string[];
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
	/** The row above the figures that says what the columns hold; null where there is none. */
	heading: number | null;
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
	/** What the items are labelled by: “Family”, “Site”. */
	labels: string[];
	items: ReadItem[];
	doubts: Doubt[];
}
