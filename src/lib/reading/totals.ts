import { decimalMark, readFigure } from './figures';
import { FREQUENCIES } from '$core/series/frequency';
import { readPeriods } from './periods';
import { mostOften } from './table';
import { isTotalLabel, isBareYear } from './words';

/** A column or a row, and what it is labelled with. */
interface Line {
	at: number;
	labels: readonly string[];
}

/** How many cells are looked at: totals show in the first of them. */
const SAMPLE = 400;

/**
 * Finds the columns and rows that sum or average the others: by their label, or by their figures where the label
 * is no period and at least three figures are summed in at least two places.
 * @returns positions, and which of them were found by figures alone
 */
export function findTotals(
	columns: readonly Line[],
	rows: readonly Line[],
	cell: (r: number, c: number) => string,
): { columns: number[]; rows: number[]; bySum: { columns: number[]; rows: number[] } } {
	const labelled = (line: Line) => line.labels.some(isTotalLabel);
	// A table of totals alone is a table of figures.
	const byLabel = (lines: readonly Line[]) => {
		const found = lines.filter(labelled);
		return found.length < lines.length ? found.map(({ at }) => at) : [];
	};
	const columnLabels = byLabel(columns);
	const rowLabels = byLabel(rows);
	const otherColumns = columns.filter(({ at }) => !columnLabels.includes(at)).slice(0, SAMPLE);
	const otherRows = rows.filter(({ at }) => !rowLabels.includes(at));
	// A total row can only be told by its sum where all rows are seen.
	const allRows = otherRows.length <= SAMPLE ? otherRows : [];
	const someRows = otherRows.slice(0, SAMPLE);
	const figures = someRows.map((row) => otherColumns.map((column) => cell(row.at, column.at)));
	const { mark } = decimalMark(figures.flat());
	const read = (text: string) => {
		const figure = readFigure(text, mark);
		return 'value' in figure ? figure.value : null;
	};
	const values = figures.map((row) => row.map(read));
	const across = bySumOf(otherColumns, (line, i) => values[i]?.[line] ?? null, values.length);
	const figure = (line: number, i: number) => values[line]?.[i] ?? null;
	const heads = groupHeads(allRows, figure, otherColumns.length);
	const down = heads.length > 0 ? heads : bySumOf(allRows, figure, otherColumns.length);
	return {
		columns: [...columnLabels, ...across].sort((a, b) => a - b),
		rows: [...rowLabels, ...down].sort((a, b) => a - b),
		bySum: { columns: across, rows: down },
	};
}

/** How much time a label stands for, by its spelling: a quarter among months is more than they. */
export function spanOf(label: string | undefined): number {
	if (label === undefined || label === '') return 0;
	let span = SPANS.get(label);
	if (span === undefined) {
		const frequency = isBareYear(label) ? 'year' : readPeriods([label])?.frequency;
		// Plain numbers are seasons of something: a quarter among them is more than each.
		span = frequency === undefined ? 0 : frequency === 'step' ? 0.5 : FREQUENCIES.indexOf(frequency) + 1;
		if (SPANS.size > 20_000) SPANS.clear();
		SPANS.set(label, span);
	}
	return span;
}
const SPANS = new Map<string, number>();
export const YEAR_SPAN = FREQUENCIES.indexOf('year') + 1;

/** Lines of which every figure is the sum, or the mean, of the figures before (or, for the first line, after) it. */
function bySumOf(
	lines: readonly Line[],
	value: (line: number, i: number) => number | null,
	places: number,
): number[] {
	const found = new Set<number>();
	if (lines.length < 3) return [];
	const spans = lines.map(({ labels }) => spanOf(labels.at(-1)));
	const usual = mostOften(spans);
	const timed = usual > 0;
	for (const i of longerTotals(spans, usual, value, places)) found.add(i);
	let since = 0;
	for (let i = 2; i < lines.length; i++) {
		if (found.has(i)) {
			since = i + 1;
			continue;
		}
		// Where the others are labelled with periods, a period's label means that it is one of them.
		if (timed && spans[i]! > 0) continue;
		// A labelled row among others is a sum only where many figures say so, or where it repeats the last one on a new page.
		const inside = !timed && i < lines.length - 1 && lines[i]!.labels.length > 0;
		if (inside && found.has(i - 1) && repeats(i - 1, i, value, places)) {
			found.add(i);
			since = i + 1;
			continue;
		}
		const part = range(since, i).filter((k) => !found.has(k));
		const all = range(0, i).filter((k) => !found.has(k));
		// A word among periods that sums them is no period, though there is but one row to tell by.
		const enough = timed && lines[i]!.labels.length > 0 ? 0 : inside ? 2 : 1;
		if (sums(part, i, value, places) > enough || sums(all, i, value, places) > enough) {
			found.add(i);
			since = i + 1;
		}
	}
	const rest = range(1, lines.length).filter((k) => !found.has(k));
	if (found.size === 0 && lines.length > 3 && spans[0] === 0 && sums(rest, 0, value, places) > 1)
		found.add(0);
	return [...found].map((i) => lines[i]!.at);
}

/** Lines that head groups, each the sum of those below it, where the whole table is such groups. */
function groupHeads(
	lines: readonly Line[],
	value: (line: number, i: number) => number | null,
	places: number,
): number[] {
	if (places < 2 || lines.length < 5 || mostOften(lines.map(({ labels }) => spanOf(labels.at(-1)))) > 0)
		return [];
	const heads: number[] = [];
	let several = false;
	for (let i = 0; i < lines.length;) {
		let parts = 0;
		const rest = Array.from({ length: places }, (_, p) => value(i, p) ?? 0);
		const left = () => rest.some((figure) => Math.abs(figure) > 0.011);
		while (left() && i + parts + 1 < lines.length) {
			parts++;
			for (let p = 0; p < places; p++) rest[p]! -= value(i + parts, p) ?? 0;
		}
		if (parts === 0 || left()) return [];
		heads.push(lines[i]!.at);
		if (parts > 1) several = true;
		i += parts + 1;
	}
	return several && heads.length > 1 ? heads : [];
}

/**
 * Lines that stand for more time than most, as quarters among months do: totals where each is the sum of the shorter
 * ones since the last that is as long, in all places, and two figures are summed somewhere.
 */
function longerTotals(
	spans: readonly number[],
	usual: number,
	value: (line: number, i: number) => number | null,
	places: number,
): number[] {
	if (usual === 0) return [];
	const longer = range(0, spans.length).filter((i) => spans[i]! > usual);
	return [...new Set(longer.map((i) => spans[i]!))].flatMap((span) => {
		const some = longer.filter((i) => spans[i] === span);
		let told = 0;
		for (const i of some) {
			let from = i;
			while (from > 0 && spans[from - 1]! < span) from--;
			const parts = range(from, i).filter((k) => spans[k] === usual);
			const own = sums(parts, i, value, places, 0);
			if (own < 0) return [];
			told += own;
		}
		return told > 0 ? some : [];
	});
}

/** Whether a line has the figures of another one. */
function repeats(
	one: number,
	other: number,
	value: (line: number, i: number) => number | null,
	places: number,
): boolean {
	for (let i = 0; i < places; i++) if (value(one, i) !== value(other, i)) return false;
	return true;
}

const range = (from: number, to: number) =>
	Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i);

/** In how many places a line sums (or averages) two figures or more; −1 where it does not in all of them. */
function sums(
	parts: readonly number[],
	whole: number,
	value: (line: number, i: number) => number | null,
	places: number,
	least = 3,
): number {
	if (parts.length < least) return -1;
	let summed = 0;
	let averaged = 0;
	let told = 0;
	for (let i = 0; i < places; i++) {
		const own = value(whole, i);
		const figures = parts.map((part) => value(part, i)).filter((figure) => figure !== null);
		const sum = figures.reduce((a, b) => a + b, 0);
		// A sum of nothing is blank or nought.
		if (own === null && sum === 0) continue;
		if (own === null) return -1;
		// Zeros sum to zero whatever they are.
		if (figures.filter((figure) => figure !== 0).length > 1) told++;
		const slack =
			1e-9 * Math.max(1, Math.abs(sum)) +
			(Number.isInteger(own) && figures.every(Number.isInteger) ? 0 : 0.011);
		if (Math.abs(own - sum) <= slack) summed++;
		else if (
			figures.some((figure) => figure !== own) &&
			Math.abs(own - sum / figures.length) <= 0.5 + slack &&
			!Number.isInteger(sum / figures.length) === !Number.isInteger(own)
		)
			averaged++;
		else return -1;
	}
	return summed === 0 || averaged === 0 ? told : -1;
}
