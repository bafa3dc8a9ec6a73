import type { ColumnRole, RowRole } from './choices';
import type { Telling } from './telling';

/** What each part of a table was taken for. */
export interface Roles {
	columns: ColumnRole[];
	rows: RowRole[];
	/** Columns and rows that were found to be totals by their figures alone, not by a label. */
	bySum: { columns: number[]; rows: number[] };
	/** Which quantity is taken, where a line says what each figure is of; null where there is one. */
	quantity: { demand: string; labels: readonly string[] } | null;
	/** Whether figures without any period follow each other down the columns or across the rows. */
	order: 'down' | 'across';
}

/** A side that labels the figures: a column beside them or a row above them. */
export interface Line {
	side: 'column' | 'row';
	at: number;
	/** Its labels along the figures, blank where none is given. */
	labels: readonly string[];
	heading: string;
	tells: readonly Telling[];
}
