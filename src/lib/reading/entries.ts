import { written } from '$core/bounds';
import { decimalEvidence, type DecimalMark, decimalMark, isNoFigure, marksOf, readFigure } from './figures';
import type { Choices } from './choices';
import { takeReturn } from './orders';
import type { Entry } from './gather';
import type { Doubt } from './reading';
import { sameUnit } from './words';

/** How figures are written: with one decimal mark, or with each column's own. */
export interface FigureMarks {
	mark: DecimalMark;
	byColumn: ReadonlyMap<number, DecimalMark> | null;
	/** Whether all of them are written as negative, as what leaves a store is. */
	negated: boolean;
}

/** Finds how the figures of a table are written. @param typed whether they stand there as numbers */
export function findMarks(
	entries: readonly Entry[],
	typed: boolean,
	choices: Choices,
	doubts: Doubt[],
): FigureMarks {
	const decided = typed
		? { mark: '.' as const, open: null, mixed: false }
		: decimalMark(entries.map(({ cell }) => cell));
	const mark = choices.decimal ?? decided.mark;
	const byColumn = choices.decimal === undefined && decided.mixed ? marksByColumn(entries) : null;
	if (byColumn) {
		doubts.push({
			code: 'decimal-columns',
			text: 'Some columns have decimal commas and others decimal points; each was read by its own.',
			options: [
				{ label: 'points everywhere', choices: { decimal: '.' } },
				{ label: 'commas everywhere', choices: { decimal: ',' } },
			],
		});
	} else if (decided.open && choices.decimal === undefined) {
		const what = decided.open === ',' ? 'comma' : 'point';
		const [taken, possible] = decided.open === mark ? ['decimal', 'thousands'] : ['thousands', 'decimal'];
		doubts.push({
			code: 'decimal-mark',
			text: `Every ${what} stands before three digits: taken as a ${taken} mark. It could be a ${possible} mark.`,
			options: [{ label: `it is a ${possible} mark`, choices: { decimal: mark === '.' ? ',' : '.' } }],
		});
	}
	const own = (entry: Entry) => readFigure(entry.cell, byColumn?.get(entry.column) ?? mark);
	let negative = false;
	let positive = false;
	for (const entry of entries) {
		const read = own(entry);
		if (!('value' in read) || read.value === null) continue;
		if (read.value < 0) negative = true;
		else if (read.value > 0) positive = true;
		if (positive) break;
	}
	const all = negative && !positive;
	const negated = all && choices.sign !== 'keep';
	if (all)
		doubts.push({
			code: 'sign',
			text: `All figures are negative: ${negated ? 'taken without their sign' : 'taken as they are'}.`,
			options: [
				negated
					? { label: 'keep the sign', choices: { sign: 'keep' } }
					: { label: 'take them without it', choices: { sign: 'drop' } },
			],
		});
	return { mark, byColumn, negated };
}

/** Each column's own decimal mark where the columns contradict each other; null where they do not. */
function marksByColumn(entries: readonly Entry[]): Map<number, DecimalMark> | null {
	const cells = new Map<number, string[]>();
	for (const { column, cell } of entries) {
		const list = cells.get(column);
		if (list) list.push(cell);
		else cells.set(column, [cell]);
	}
	if (cells.size < 2) return null;
	const evidence = [...cells].map(([column, list]) => [column, decimalEvidence(list)] as const);
	if (evidence.some(([, each]) => each.comma && each.point)) return null;
	return new Map(evidence.map(([column, each]) => [column, each.comma ? ',' : '.']));
}

/** The figures of entries, with what was found around and among them. */
export interface Figures {
	values: (number | null)[];
	/** Sentences by entry. */
	refusals: Map<number, string>;
	/** How many carry a percent sign, how many of them are negative, and words that stand for no figure. */
	percents: number;
	negative: number;
	none: Map<string, number>;
}

/** Reads each entry's cell. @param columnCount of the table, @param orders whether negative ones are returns */
export function takeFigures(
	entries: readonly Entry[],
	{ mark, byColumn, negated }: FigureMarks,
	choices: Choices,
	columnCount: number,
	orders: boolean,
): Figures {
	const figures: Figures = { values: [], refusals: new Map(), percents: 0, negative: 0, none: new Map() };
	const place = ({ row, column }: Entry) =>
		columnCount > 2 ? `Row ${written(row + 1)}, column ${column + 1},` : `Row ${written(row + 1)}`;
	figures.values = entries.map((entry, i) => {
		const { cell } = entry;
		const figure = readFigure(cell, byColumn?.get(entry.column) ?? mark);
		if ('refused' in figure) {
			figures.refusals.set(i, `${place(entry)} ${figure.refused}`);
			return null;
		}
		let { value } = figure;
		if (value === null) {
			if (cell === '' || !isNoFigure(cell)) return null;
			figures.none.set(cell, (figures.none.get(cell) ?? 0) + 1);
			return choices.missing === 'zero' ? 0 : null;
		}
		if (cell.includes('%')) {
			figures.percents++;
			if (choices.percent === 'share') value /= 100;
		}
		if (negated) value = 0 - value;
		if (!orders || value >= 0) return value;
		figures.negative++;
		return takeReturn(value, choices);
	});
	return figures;
}

/** Which units an item's figures come in, and what became of those in another than the first. */
export interface Units {
	/** The unit of each item that was met first. */
	readonly first: Map<string, string>;
	/** Items that were made for figures in other units, with the item that they were parted from. */
	readonly parted: Map<string, string>;
	/** Other units than the first, with the figures in each, by item. */
	readonly others: Map<string, Map<string, number>>;
}

export const noUnits = (): Units => ({ first: new Map(), parted: new Map(), others: new Map() });

/**
 * Keeps apart what is counted in different units: an item's figures in another unit than its first are an item of their own, are
 * left out, or count the same, as chosen. Each entry has its unit afterwards, from its column or from around its figure.
 */
export function partUnits(entries: Entry[], units: Units, choices: Choices): Entry[] {
	let left = false;
	for (const entry of entries) {
		const { item, cell } = entry;
		if (entry.unit === '') {
			if (isBetweenDigits(cell)) continue;
			entry.unit = marksOf(cell)?.unit ?? '';
			if (entry.unit === '') continue;
		}
		const { unit } = entry;
		const first = units.first.get(item);
		if (first === undefined) units.first.set(item, unit);
		else if (first !== unit && !sameUnit(first, unit) && cell !== '') {
			const others = units.others.get(item) ?? new Map<string, number>();
			units.others.set(item, others);
			others.set(unit, (others.get(unit) ?? 0) + 1);
			const how = howUnits(item, choices);
			if (how === 'apart') {
				entry.item = partedName(item, unit);
				units.parted.set(entry.item, item);
			} else if (how === 'leave') {
				entry.column = LEFT;
				left = true;
			}
		}
	}
	return left ? entries.filter(({ column }) => column !== LEFT) : entries;
}

/** What becomes of an item's figures in other units. Where nothing is named there is nothing to name another item after. */
export const howUnits = (item: string, choices: Choices) => choices.units ?? (item === '' ? 'same' : 'apart');

/** What the item of figures in another unit is called. */
export const partedName = (item: string, unit: string): string => (item === '' ? unit : `${item} · ${unit}`);

/** The column of an entry that is left out. */
const LEFT = -1;

/** Whether a cell begins and ends with a digit, so that no unit stands around it. */
function isBetweenDigits(cell: string): boolean {
	const isDigit = (at: number) => {
		const code = cell.charCodeAt(at);
		return code >= 48 && code <= 57;
	};
	return isDigit(0) && isDigit(cell.length - 1);
}
