import type { Frequency } from '$core/series/frequency';
import type { Ordinal } from '$core/series/period';
import { type DecimalMark, isMissing, readFigure, shorten } from './figures';
import { readPeriods, readSerial, readSerials } from './periods';
import type { Reading } from './reading';
import type { Choices } from './choices';
import type { Delimiter } from './table';
import { isTotalLabel } from './words';

/** How the rows of a file are read one by one, decided on its beginning. */
export interface RowPlan {
	delimiter: Delimiter;
	frequency: Frequency;
	seasonLength: number;
	/** 0-based rows before the first figures. */
	headings: number;
	/** Reads a row: its item and figures, nothing for a row of totals, or what is wrong with it. */
	read(row: readonly string[]): PlannedRow;
}

export type PlannedRow =
	| { item: string; name: string; unit: string; figures: { period: Ordinal; value: number | null }[] }
	| { skipped: true }
	| { refused: string };

/** Labels of periods that are kept at hand; a file of hourly figures over years has more, and is none the slower. */
const KNOWN_LABELS = 100_000;

/**
 * Makes the plan for a file from the reading of its beginning.
 * @returns the plan, or why such a table cannot be read row by row
 */
export function planRows(sample: Reading, choices: Choices): RowPlan | { problem: string } {
	const at = (role: string) => sample.columns.indexOf(role as (typeof sample.columns)[number]);
	const named = sample.columns.flatMap((role, c) => (role === 'item' ? [c] : []));
	const [item = -1, ...others] = named;
	const figures = sample.columns.flatMap((role, c) => (role === 'figure' ? [c] : []));
	const period = at('period');
	const headings = sample.rowRoles.indexOf('figures');
	const across = sample.rowRoles.slice(0, headings).lastIndexOf('period');
	const delimiter = sample.delimiter;
	const long = item >= 0 && period >= 0 && figures.length === 1;
	const wide = item >= 0 && across >= 0;
	if (
		delimiter === null ||
		(delimiter.trim() === '' && delimiter !== '\t') ||
		headings < 0 ||
		(!long && !wide)
	) {
		return {
			problem:
				'A file of this size is read row by row: each row an item, a period and a figure, or an item and its figures under a heading of periods. Save it in one of these layouts, or in parts of at most 8 million characters.',
		};
	}
	const orders = sample.doubts.some(({ code }) => code === 'order-lines');
	if (orders && choices.without !== 'gap' && choices.duplicates === undefined)
		return {
			problem:
				'A file of this size is read row by row, so that periods without a line of orders are not filled with noughts. Choose that they are missing, or bring in parts of at most 8 million characters.',
		};
	const labels = long
		? sample.rows.slice(headings).map((row) => row[period] ?? '')
		: figures.map((c) => sample.rows[across]?.[c] ?? '');
	const readLabel = periodReader(
		labels.filter((label) => label !== ''),
		sample.frequency,
		choices,
	);
	if (!readLabel)
		return {
			problem:
				'The periods of this file are counted from its first row on, which a file of this size does not allow. Say the frequency.',
		};
	const width = sample.columnCount;
	const name = at('name');
	const unit = at('unit');
	const over = figures.map((c) => (wide && !long ? readLabel(sample.rows[across]?.[c] ?? '') : null));
	let before = '';
	return {
		delimiter,
		frequency: sample.frequency,
		seasonLength: sample.seasonLength,
		headings,
		read(row) {
			if (row.length !== width) {
				if (row.every((cell) => cell === '')) return { skipped: true };
				return {
					refused: `has ${row.length} ${row.length === 1 ? 'column' : 'columns'} where others have ${width}`,
				};
			}
			const own = row[item]!;
			if (own !== '' && own !== before) {
				if (isTotalLabel(own)) return { skipped: true };
				before = own;
			}
			const code = [own || before, ...others.map((c) => row[c]!)].filter((part) => part !== '').join(' · ');
			const read: PlannedRow = {
				item: code,
				name: row[name] ?? '',
				unit: row[unit] ?? '',
				figures: [],
			};
			const label = long ? row[period]! : '';
			const when = long ? readLabel(label) : null;
			if (long && when === null) return { refused: `has “${shorten(label)}” for a ${sample.frequency}` };
			for (const [i, c] of figures.entries()) {
				const place = when ?? over[i] ?? null;
				const figure = readCell(row[c]!, sample.decimal, choices);
				if ('refused' in figure) return { refused: `${figure.refused} in column ${c + 1}` };
				// A table drawn wider than its figures go says nothing with its blanks.
				if (place !== null && (long || figure.value !== null))
					read.figures.push({ period: place, value: figure.value });
			}
			return read;
		},
	};
}

function readCell(
	cell: string,
	decimal: DecimalMark,
	choices: Choices,
): { value: number | null } | { refused: string } {
	const figure = readFigure(cell, decimal);
	if ('refused' in figure || figure.value === null || !cell.includes('%') || choices.percent !== 'share')
		return figure;
	return { value: figure.value / 100 };
}

/** Reads one label at a time the way that all labels of the beginning were read; null for what is spelt otherwise. */
function periodReader(
	labels: readonly string[],
	frequency: Frequency,
	choices: Choices,
): ((label: string) => Ordinal | null) | null {
	const anchors = [...new Set(labels)].slice(0, 400);
	const serial = readSerials(anchors, { ...choices, frequency });
	const column = serial ?? readPeriods(anchors, { ...choices, frequency });
	if (!column || column.yearless || column.frequency !== frequency) return null;
	// Numbers of four-week periods would depend on where the file begins.
	if (frequency === 'step' && column.possible[0] !== 'step') return null;
	const order = column.dateOrder ? { dateOrder: column.dateOrder.used } : {};
	// Beside labels that fix the spelling, one that is spelt otherwise does not read.
	const [first = '', last = ''] = [anchors[0], anchors.at(-1)];
	const beside = (label: string): Ordinal | null => {
		const read = readPeriods([first, last, label], { frequency, ...order });
		return read && read.frequency === frequency && read.spelling === column.spelling
			? read.ordinals[2]!
			: null;
	};
	const known = new Map<string, Ordinal | null>();
	return (label) => {
		const there = known.get(label);
		if (there !== undefined) return there;
		const ordinal = isMissing(label) ? null : serial ? readSerial(label, frequency) : beside(label);
		if (known.size < KNOWN_LABELS) known.set(label, ordinal);
		return ordinal;
	};
}

/** Said of a layout that is only read whole. */
export const NOT_BY_ROWS =
	'A file of this size is read row by row, and this layout would come to other figures so. Save it as rows of an item, a period and a figure, or in parts of at most 8 million characters.';

/**
 * Whether a plan comes to the same as a reading of the beginning of its file: a layout of which that is not so is not read row by row.
 * @param reading of so few rows that it shows them all
 */
export function agrees(plan: RowPlan, reading: Reading, choices: Choices): boolean {
	const sums = (choices.duplicates ?? 'sum') === 'sum';
	const read = new Map<string, Map<Ordinal, number>>();
	for (const row of reading.rows.slice(plan.headings)) {
		const planned = plan.read(row);
		if ('skipped' in planned) continue;
		if ('refused' in planned) return false;
		const item = read.get(planned.item) ?? new Map<Ordinal, number>();
		read.set(planned.item, item);
		for (const { period, value } of planned.figures) {
			if (value === null) continue;
			if (item.has(period) && !sums) return true;
			item.set(period, (item.get(period) ?? 0) + value);
		}
	}
	return (
		read.size === reading.items.length &&
		reading.items.every(({ code, first, values }) => {
			const own = read.get(code);
			const present = values.filter((value) => value !== null).length;
			return (
				own !== undefined &&
				own.size === present &&
				values.every(
					(value, i) => value === null || Math.abs(own.get(first + i)! - value) <= 1e-9 * Math.abs(value),
				)
			);
		})
	);
}
