import { BOUNDS } from '$core/bounds';
import type { Layered } from '$core/series/layers';
import type { Ordinal } from '$core/series/period';
import { type DecimalMark, decimalMark } from '../../../reading/figures';
import { readTyped, type Typed } from '../../../reading/typed';

/**
 * Reads a pasted column: a figure a line, a blank line for none. Its decimal mark is what its figures can only mean, else the reader's.
 */
export function readColumn(text: string, mark: DecimalMark): Typed<(number | null)[]> {
	const lines = text.replace(/\r\n?/g, '\n').replace(/\n+$/, '').split('\n');
	const cells = lines.map((line) => line.split('\t'));
	const wide = Math.max(...cells.map((row) => row.length));
	if (wide > 1)
		return {
			refused: `One column is filled in here, and ${wide} were pasted. Bring in takes whole tables, more actuals of this item too.`,
		};
	const column = cells.map(([cell = '']) => cell.trim());
	const decided = decimalMark(column);
	const own = decided.open === null && column.some((cell) => /[.,]/.test(cell)) ? decided.mark : mark;
	const values: (number | null)[] = [];
	for (const [i, cell] of column.entries()) {
		const read = readTyped(cell, own);
		if ('refused' in read) return { refused: `Line ${i + 1}: ${read.refused}` };
		values.push(read.value);
	}
	return { value: values };
}

/** A figure that a pasted column changes. */
export interface Filled {
	position: number;
	period: Ordinal;
	/** What stands there; null for a gap, or where the series ends before. */
	from: number | null;
	to: number;
}

/** What a pasted column would change, and how many of its figures stand there already. */
export interface Fill {
	changes: Filled[];
	same: number;
	blank: number;
	/** How many of the changes come after the last period. */
	appended: number;
}

/** What a column changes when it is filled in downwards from a position; blanks change nothing. */
export function fillFrom(
	series: Pick<Layered, 'first' | 'values'>,
	position: number,
	column: readonly (number | null)[],
): Typed<Fill> {
	if (position + column.length > BOUNDS.periods)
		return { refused: `A series holds at most ${BOUNDS.periods} periods.` };
	const fill: Fill = { changes: [], same: 0, blank: 0, appended: 0 };
	for (const [i, to] of column.entries()) {
		const at = position + i;
		const from = series.values[at] ?? null;
		if (to === null) fill.blank++;
		else if (to === from) fill.same++;
		else {
			fill.changes.push({ position: at, period: series.first + at, from, to });
			if (at >= series.values.length) fill.appended++;
		}
	}
	return { value: fill };
}
