import { decimalMark, readFigure } from './figures';
import { isCountedCycle, isPeriodWord } from './periods';
import { isTotalLabel } from './words';

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
	const down = bySumOf(allRows, (line, i) => values[line]?.[i] ?? null, otherColumns.length);
	return {
		columns: [...columnLabels, ...across].sort((a, b) => a - b),
		rows: [...rowLabels, ...down].sort((a, b) => a - b),
		bySum: { columns: across, rows: down },
	};
}

/** Lines of which every figure is the sum, or the mean, of the figures before (or, for the first line, after) it. */
function bySumOf(
	lines: readonly Line[],
	value: (line: number, i: number) => number | null,
	places: number,
): number[] {
	const found: number[] = [];
	if (lines.length < 4) return found;
	const periodLabels = lines.map(({ labels }) =>
		labels.some((label) => isPeriodWord(label) || isCountedCycle(label) || /^(19|20)\d\d$/.test(label)),
	);
	const usual = periodLabels.filter(Boolean).length > lines.length / 2;
	let since = 0;
	for (let i = 3; i < lines.length; i++) {
		// Where the others are labelled with periods, a period's label means that it is one of them, unless it is of
		// another kind, as a quarter among months.
		if (usual && periodLabels[i] && lines[i]!.labels[0]?.[0] === lines[i - 1]!.labels[0]?.[0]) continue;
		if (!usual && i < lines.length - 1 && lines[i]!.labels.length > 0) continue;
		const part = range(since, i).filter((k) => !found.includes(lines[k]!.at));
		const all = range(0, i).filter((k) => !found.includes(lines[k]!.at));
		if (sums(part, i, value, places) || sums(all, i, value, places)) {
			found.push(lines[i]!.at);
			since = i + 1;
		}
	}
	const rest = range(1, lines.length).filter((k) => !found.includes(lines[k]!.at));
	if (found.length === 0 && !periodLabels[0] && sums(rest, 0, value, places)) found.push(lines[0]!.at);
	return found;
}

const range = (from: number, to: number) =>
	Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i);

function sums(
	parts: readonly number[],
	whole: number,
	value: (line: number, i: number) => number | null,
	places: number,
): boolean {
	if (parts.length < 3) return false;
	let summed = 0;
	let averaged = 0;
	let told = 0;
	for (let i = 0; i < places; i++) {
		const own = value(whole, i);
		const figures = parts.map((part) => value(part, i)).filter((figure) => figure !== null);
		if (own === null && figures.length === 0) continue;
		const sum = figures.reduce((a, b) => a + b, 0);
		if (own === null) return false;
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
		else return false;
	}
	return told > 1 && (summed === 0 || averaged === 0);
}
