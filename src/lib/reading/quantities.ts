import type { Grid } from './grid';
import { decimalMark, readFigure } from './figures';
import type { Line } from './roles';
import { filledDown } from './table';
import { isUnitLabel, plain, type QuantityWord, quantitySays } from './words';

/** Where figures stand. */
interface Figures {
	data: readonly number[];
	figures: readonly number[];
}

/** Several quantities of the same items and periods, side by side or by turns, of which one is demand. */
export interface Quantities {
	line: Line;
	/** What they are called, in their order, and the one that is taken for demand. */
	labels: readonly string[];
	demand: string;
}

/** More of them are rather items. */
const MOST = 9;
/** Figures that arithmetic is tried on. */
const SAMPLE = 600;
/** So many figures in a row are told by arithmetic. */
const ENOUGH = 4;

/** The line that says which quantity each figure is, if one does. @param long whether item and period both stand beside the figures */
export function quantitiesOf(
	grid: Grid,
	frame: Figures,
	lines: readonly Line[],
	long: boolean,
): Quantities | null {
	for (const line of lines) {
		const over = filledDown(line.labels);
		const labels = [...new Set(over)].filter((label) => label !== '');
		if (labels.length < 2 || labels.length > MOST || labels.every(isUnitLabel)) continue;
		// By turns they come again and again; side by side, once each.
		const says = labels.map(quantitySays);
		const known = says.filter((word) => word !== null).length;
		const others = says.filter((word) => word !== null && word !== 'demand' && word !== 'count').length;
		const changes = over.filter((label, i) => i > 0 && label !== over[i - 1]).length;
		const turns = changes > 0.7 * (over.length - 1) && labels.length < over.length;
		const most = line.side === 'row' ? (long ? 1 / 2 : 1) : turns ? 2 / 3 : 1;
		// Ordered and delivered are both demand, and no two items.
		const both = line.side === 'row' && long && known === labels.length && says.includes('demand');
		const told = both || (others > 0 && known >= most * labels.length);
		const may = told || (line.side === 'row' ? long : turns && labels.length > 2);
		const series = may ? seriesOf(grid, frame, line, over, labels) : null;
		const stock = series && stockFlow(labels, series);
		const byName = told ? likeliest(labels, says) : null;
		const sum = series && byName === null ? (summed(labels, series) ?? shared(labels, series)) : null;
		if (!told && stock === null && sum === null) continue;
		const demand = byName ?? stock ?? sum ?? labels[0]!;
		return { line, labels, demand };
	}
	return null;
}

/** Of some labels that name quantities, the likeliest to be demand. */
export const likeliestOf = (labels: readonly string[]): string =>
	likeliest(labels, labels.map(quantitySays)) ?? labels[0]!;

/** Words in the order in which they are demand. */
const RANK: readonly QuantityWord[] = ['demand', 'count'];
function likeliest(labels: readonly string[], says: readonly (QuantityWord | null)[]): string | null {
	for (const rank of RANK) {
		const at = says.indexOf(rank);
		if (at >= 0) return labels[at]!;
	}
	// What is none of the known others.
	const open = labels.filter((_, i) => says[i] === null);
	return open.length === 1 ? open[0]! : null;
}

type Series = readonly (number | null)[][];

/** The figures of each quantity, in the same order of items and periods. */
function seriesOf(
	grid: Grid,
	frame: Figures,
	line: Line,
	over: readonly string[],
	labels: readonly string[],
): Series {
	const places = line.side === 'column' ? frame.data : frame.figures;
	const across = line.side === 'column' ? frame.figures : frame.data;
	const cells = labels.map((label) => {
		const at = places.filter((_, i) => over[i] === label);
		const list: string[] = [];
		// Along the periods first, so that each series runs through time.
		for (const place of at)
			for (const other of across) {
				if (list.length >= SAMPLE) return list;
				list.push(line.side === 'column' ? grid.cell(place, other) : grid.cell(other, place));
			}
		return list;
	});
	const { mark } = decimalMark(cells.flat());
	return cells.map((list) =>
		list.map((cell) => {
			const read = readFigure(cell, mark);
			return 'value' in read ? read.value : null;
		}),
	);
}

/** Opening + received − issued = closing, where each opening is the closing before it: what was issued is demand. */
function stockFlow(labels: readonly string[], series: Series): string | null {
	if (labels.length < 4) return null;
	const length = Math.min(...series.map((list) => list.length));
	if (length < ENOUGH) return null;
	const all = Array.from({ length: labels.length }, (_, i) => i);
	const holds = (test: (i: number) => boolean) => {
		for (let i = 0; i < length; i++) if (!test(i)) return false;
		return true;
	};
	const at = (k: number, i: number) => series[k]![i] ?? 0;
	for (const opening of all)
		for (const closing of all) {
			if (opening === closing) continue;
			let follows = 0;
			for (let i = 1; i < length; i++) if (at(opening, i) === at(closing, i - 1)) follows++;
			if (follows < 0.6 * (length - 1)) continue;
			for (const received of all)
				for (const issued of all) {
					if (new Set([opening, closing, received, issued]).size < 4) continue;
					const sum = (i: number) => at(opening, i) + at(received, i) - at(issued, i) - at(closing, i);
					if (holds((i) => Math.abs(sum(i)) < 1e-6 * Math.max(1, Math.abs(at(closing, i)))))
						return labels[issued]!;
				}
		}
	return null;
}

/** Of two of which one is the running sum of the other, the other. */
function summed(labels: readonly string[], series: Series): string | null {
	for (const [i, parts] of series.entries())
		for (const [k, sums] of series.entries()) {
			const length = Math.min(parts.length, sums.length);
			if (i === k || length < ENOUGH) continue;
			let steps = 0;
			let apart = 0;
			for (let t = 1; t < length; t++) {
				const step = (sums[t] ?? 0) - (sums[t - 1] ?? 0);
				// It begins again with each item and each year.
				if (sums[t] !== parts[t]) apart++;
				if (Math.abs(step - (parts[t] ?? 0)) < 1e-6 || sums[t] === parts[t]) steps++;
			}
			if (steps === length - 1 && apart >= ENOUGH / 2 && sums[0] === parts[0]) return labels[i]!;
		}
	return null;
}

/** Of two of which one is the other as a share of a hundred, the other. */
function shared(labels: readonly string[], series: Series): string | null {
	for (const [i, parts] of series.entries())
		for (const [k, shares] of series.entries()) {
			const length = Math.min(parts.length, shares.length);
			const total = shares.reduce<number>((sum, share) => sum + (share ?? 0), 0);
			const all = parts.reduce<number>((sum, part) => sum + (part ?? 0), 0);
			// Rounded to a tenth each, of one table or of each item in it.
			if (i === k || length < ENOUGH || all <= 0 || Math.abs(total - 100) > 0.06 * length + 0.01) continue;
			if (parts.every((part, t) => Math.abs((100 * (part ?? 0)) / all - (shares[t] ?? 0)) <= 0.51))
				return labels[i]!;
		}
	return null;
}

/** Whether two labels name the same quantity. */
export const sameQuantity = (one: string, other: string): boolean => plain(one) === plain(other);
