import { isBareFigure, isFigure, isMissing, isNoFigure } from './figures';
import { isPeriodWord } from './periods';

/** What a cell could be, as bits: a figure may be a year as well, a word may be a period. */
export const BLANK = 0;
export const NONE = 1;
export const NUMBER = 2;
export const PERIOD = 4;
export const TEXT = 8;

const WORDS = PERIOD | TEXT;
const KEPT = 100_000;

function kindOf(cell: string): number {
	if (isMissing(cell) || isNoFigure(cell)) return NONE;
	if (isBareFigure(cell)) return NUMBER;
	if (isPeriodWord(cell)) return PERIOD;
	return isFigure(cell) ? NUMBER : TEXT;
}

/** Whether a cell has nothing but a few digits, which most cells of most tables have. */
function isDigits(cell: string): boolean {
	if (cell.length > 15) return false;
	for (let i = 0; i < cell.length; i++) {
		const at = cell.charCodeAt(i);
		if (at < 48 || at > 57) return false;
	}
	return true;
}

/** A table with what its cells could be, looked up once for each spelling. */
export class Grid {
	readonly #known = new Map<string, number>();
	readonly #kinds: (Uint8Array | undefined)[] = [];
	readonly #filled: (number | undefined)[] = [];

	constructor(
		public rows: readonly (readonly string[])[],
		readonly width: number,
	) {}

	/** Puts other rows behind the first ones. */
	follow(first: number, rows: readonly (readonly string[])[]): void {
		this.rows = [...this.rows.slice(0, first), ...rows];
		this.#kinds.length = Math.min(this.#kinds.length, first);
		this.#filled.length = Math.min(this.#filled.length, first);
	}

	cell(r: number, c: number): string {
		return this.rows[r]![c] ?? '';
	}

	kind(r: number, c: number): number {
		return this.#kinds[r]?.[c] ?? this.#kindOf(this.cell(r, c));
	}

	kinds(r: number): Uint8Array {
		return (this.#kinds[r] ??= Uint8Array.from(this.rows[r]!, (cell) => this.#kindOf(cell)));
	}

	isBlank(r: number): boolean {
		return this.filled(r) === 0;
	}

	/** How many cells of a row hold something. */
	filled(r: number): number {
		let count = this.#filled[r];
		if (count === undefined) {
			count = 0;
			for (const cell of this.rows[r]!) if (cell !== '') count++;
			this.#filled[r] = count;
		}
		return count;
	}

	/** Whether a row has hardly anything but periods, as the heading of a block does. */
	isHeadingLike(r: number): boolean {
		const kinds = this.kinds(r);
		let periods = 0;
		let filled = 0;
		for (const kind of kinds) {
			if (kind !== BLANK) filled++;
			if (kind & PERIOD) periods++;
		}
		return periods > 1 && periods >= 0.6 * filled;
	}

	/** How many of some cells of a row are numbers, words (periods among them), and signs for no figure. */
	count(
		r: number,
		columns: readonly number[],
	): { numbers: number; words: number; periods: number; none: number } {
		const count = { numbers: 0, words: 0, periods: 0, none: 0 };
		const kinds = this.kinds(r);
		for (const c of columns) {
			const kind = kinds[c] ?? BLANK;
			if (kind & NUMBER) count.numbers++;
			else if (kind & WORDS) count.words++;
			else if (kind & NONE) count.none++;
			if (kind & PERIOD) count.periods++;
		}
		return count;
	}

	#kindOf(cell: string): number {
		if (cell === '') return BLANK;
		if (isDigits(cell)) return NUMBER;
		let kind = this.#known.get(cell);
		if (kind === undefined) {
			kind = kindOf(cell);
			if (this.#known.size < KEPT) this.#known.set(cell, kind);
		}
		return kind;
	}
}
