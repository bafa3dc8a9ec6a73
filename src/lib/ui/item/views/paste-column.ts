import { BOUNDS } from '$core/bounds';
import type { Layered } from '$core/series/layers';
import { type Frequency, periodWord } from '$core/series/frequency';
import type { Ordinal } from '$core/series/period';
import { type DecimalMark, decimalMark } from '../../../reading/figures';
import { readPeriods } from '../../../reading/periods';
import { readTyped, type Typed } from '../../../reading/typed';

/** What was pasted: figures, one below the other, and where their periods stand beside them these. */
export interface Column {
	values: (number | null)[];
	periods: Ordinal[] | null;
}

/**
 * Reads a pasted column: a figure a line, a blank line for none; or a period and a figure a line, in any spelling of tables. Its decimal
 * mark is what its figures can only mean, else the reader's.
 */
export function readColumn(text: string, mark: DecimalMark, frequency: Frequency): Typed<Column> {
	const lines = text.replace(/\r\n?/g, '\n').replace(/\n+$/, '').split('\n');
	const cells = lines.map((line) => line.split('\t').map((cell) => cell.trim()));
	const wide = Math.max(...cells.map((row) => row.length));
	if (wide === 1)
		return readFigures(
			cells.map(([cell = '']) => cell),
			mark,
		);
	const rows = cells.filter((row) => row.some((cell) => cell !== ''));
	const timed = (from: number) =>
		readPeriods(
			rows.slice(from).map(([label = '']) => label),
			{ frequency },
		);
	// A heading stands over the periods.
	const from = timed(0) ? 0 : 1;
	const column = wide === 2 ? timed(from) : null;
	if (!column || column.frequency !== frequency || column.yearless)
		return {
			refused: `A column of figures is filled in here, or ${periodWord(frequency, 2)} with their figures. Bring in takes whole tables, more actuals of this item too.`,
		};
	const read = readFigures(
		rows.slice(from).map(([, cell = '']) => cell),
		mark,
		from,
	);
	return 'refused' in read || !read.value ? read : { value: { ...read.value, periods: column.ordinals } };
}

/** @param before lines that stand before the first of them */
function readFigures(column: readonly string[], mark: DecimalMark, before = 0): Typed<Column> {
	const decided = decimalMark(column);
	const own = decided.open === null && column.some((cell) => /[.,]/.test(cell)) ? decided.mark : mark;
	const values: (number | null)[] = [];
	for (const [i, cell] of column.entries()) {
		const read = readTyped(cell, own);
		if ('refused' in read) return { refused: `Line ${i + 1 + before}: ${read.refused}` };
		values.push(read.value);
	}
	return { value: { values, periods: null } };
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

/** What a column changes when it is filled in, at its periods or downwards from a position; blanks change nothing. */
export function fillFrom(
	series: Pick<Layered, 'first' | 'values'>,
	position: number,
	{ values, periods }: Column,
): Typed<Fill> {
	const places = values.map((_, i) => (periods ? periods[i]! - series.first : position + i));
	if (places.some((at) => at < 0))
		return {
			refused: 'Some of these periods are before the first one of the item. Bring in takes earlier actuals.',
		};
	if (places.some((at) => at >= BOUNDS.periods))
		return { refused: `A series holds at most ${BOUNDS.periods} periods.` };
	const fill: Fill = { changes: [], same: 0, blank: 0, appended: 0 };
	for (const [i, to] of values.entries()) {
		const at = places[i]!;
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
