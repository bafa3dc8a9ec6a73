/** Which mark separates the decimals; the other one, blanks and apostrophes are thousands marks. */
export type DecimalMark = '.' | ',';

const MISSING = new Set(['', '-', '–', '—', 'n/a', 'na', 'null', '#n/a']);

/** Figures beyond this are not demand, and their squares would leave the numbers that can be computed with. */
export const LARGEST_FIGURE = 1e15;

/** Whether a cell says that there is no figure. */
export function isMissing(cell: string): boolean {
	return MISSING.has(cell.trim().toLowerCase());
}

export type ReadFigure = { value: number | null } | { refused: string };

/** A cell as a figure; null where it says that there is none. The refusal says what the cell holds instead. */
export function readFigure(cell: string, decimal: DecimalMark): ReadFigure {
	const text = cell.trim();
	if (isMissing(text)) return { value: null };
	const thousands = decimal === '.' ? ',' : '.';
	const bare = text.replaceAll('−', '-').replace(/[\s'’\u00a0\u202f]/g, '');
	const grouped = new RegExp(`^[+-]?\\d{1,3}(\\${thousands}\\d{3})+(?!\\d)`).test(bare);
	const plain = (grouped ? bare.replaceAll(thousands, '') : bare).replace(decimal, '.');
	if (!/^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(plain)) {
		return { refused: `holds “${shorten(text)}”, which is no figure` };
	}
	const value = Number(plain);
	if (Math.abs(value) > LARGEST_FIGURE) {
		return {
			refused: `holds “${shorten(text)}”, more than the ${LARGEST_FIGURE.toExponential(0)} that can be computed with`,
		};
	}
	return { value };
}

/** A cell cut to what fits into a sentence. */
export function shorten(text: string): string {
	return text.length > 24 ? `${text.slice(0, 24)}…` : text;
}

/**
 * Decides for a whole column which mark is the decimal one.
 * @returns the mark, and whether both readings are possible
 */
export function decimalMark(cells: readonly string[]): { mark: DecimalMark; open: boolean } {
	let commaDecimal = false;
	let pointDecimal = false;
	let undecided = false;
	for (const cell of cells) {
		const text = cell.replace(/[\s'’\u00a0\u202f]/g, '');
		const comma = text.lastIndexOf(',');
		const point = text.lastIndexOf('.');
		if (comma < 0 && point < 0) continue;
		if (comma >= 0 && point >= 0) {
			if (comma > point) commaDecimal = true;
			else pointDecimal = true;
			continue;
		}
		const mark = comma >= 0 ? ',' : '.';
		const parts = text.split(mark);
		const groups = parts.slice(1).every((part) => /^\d{3}$/.test(part)) && /^[+-]?\d{1,3}$/.test(parts[0]!);
		if (!groups) {
			if (mark === ',') commaDecimal = true;
			else pointDecimal = true;
		} else if (parts.length > 2) {
			// Two groups can only be thousands, so that the other mark is the decimal one.
			if (mark === ',') pointDecimal = true;
			else commaDecimal = true;
		} else if (mark === ',') {
			undecided = true;
		}
	}
	if (commaDecimal && !pointDecimal) return { mark: ',', open: false };
	return { mark: '.', open: undecided && !pointDecimal };
}
