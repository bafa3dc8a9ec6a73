import { written } from '$core/bounds';
import type { Ordinal } from '$core/series/period';
import { findPeriods } from './align';
import type { Choices } from './choices';
import { noUnits, partUnits, takeFigures } from './entries';
import { type Entry, Gatherer } from './gather';
import { type Filled, filledBy } from './orders';
import { settle, type Settled } from './read';
import type { Reading } from './reading';
import type { Source } from './source';
import { cutPart, isBlank, standsBetweenBars } from './table';

/** Figures of some rows of a table that is read part by part. */
export interface Part {
	entries: readonly Entry[];
	/** One an entry; null for one that says nothing. */
	ordinals: readonly (Ordinal | null)[];
	values: readonly (number | null)[];
}

/** Said of a table that takes more than its beginning to be read. */
const NOT_BY_ROWS =
	'A file of this size is read row by row, and this layout takes the whole table: %s. Save it as rows of an item, a period and a figure, or in parts of at most 8 million characters.';

/**
 * Reads a table part by part, in the phases in which one is read whole: what its beginning settles holds for all of it. Memory does
 * not grow with the rows, only with the items that have labels or units.
 */
export class RowsReader {
	/** Rows of figures that were read. */
	rows = 0;
	/** Place of the next row; those held back for the next part were not read yet. */
	at = 0;
	readonly #settled: Settled;
	readonly #gatherer: Gatherer;
	readonly #units = noUnits();
	readonly #framed: boolean;
	/** Rows whose meaning rests on those that follow. */
	#held: string[][] = [];
	readonly #days = new Set<number>();
	#first = Infinity;
	#last = -Infinity;

	private constructor(
		/** Of the beginning. */
		readonly reading: Reading,
		settled: Settled,
		beginning: Source,
	) {
		const { opened, layout, choices } = settled;
		this.#settled = settled;
		this.#framed = beginning.kind === 'text' && standsBetweenBars(beginning.text, opened.delimiter!);
		this.#gatherer = new Gatherer(opened.rows, layout.roles, choices);
	}

	/**
	 * @param beginning of the table, in whole rows
	 * @returns a reader, or why the table cannot be read so
	 */
	static of(beginning: Source, choices: Choices): RowsReader | { problem: string } {
		const { reading, settled } = settle(beginning, choices);
		if (reading.problem !== null) return { problem: reading.problem };
		const refuse = (why: string) => ({ problem: NOT_BY_ROWS.replace('%s', why) });
		if (!settled || reading.delimiter === null || reading.delimiter === '  ')
			return refuse('its columns are found by all of its rows');
		if (reading.asksFirst) return refuse('its periods are counted from its first row on');
		if (!settled.byRows || reading.items.some(({ code }) => code === ''))
			return refuse('its rows name no item');
		return new RowsReader(reading, settled, beginning);
	}

	get frequency(): Reading['frequency'] {
		return this.reading.frequency;
	}

	/** Whether figures of one period are always put together, as lines of orders are. */
	get sums(): boolean {
		return this.#settled.orders;
	}

	/** The labels of an item, one for each of the reading's. */
	labelsOf(item: string): readonly string[] {
		const { of } = this.#gatherer.labels;
		return of.get(item) ?? of.get(this.#units.parted.get(item) ?? '') ?? [];
	}

	/**
	 * The figures of the rows that come next. @param isLast whether none come after them
	 * @returns them, or a sentence about the first that cannot be read
	 * @throws CutError where the text cannot be cut into cells
	 */
	take(text: string, isLast: boolean): Part | { refused: string } {
		const { opened, layout, choices } = this.#settled;
		const cut = cutPart(text, opened.delimiter!, this.#framed);
		const rows = this.#held.concat(opened.spaced ? cut.filter((row) => !isBlank(row)) : cut);
		const from = this.at;
		const known = layout.roles.rows.slice(from, Math.min(layout.looked, from + rows.length));
		const behind = from + known.length;
		const lines = known.concat(layout.rolesOf(rows.slice(known.length), behind));
		const held = isLast
			? rows.length
			: lines.findLastIndex((role) => role === 'figures' || role === 'total') + 1;
		this.#held = rows.slice(held);
		this.at += held;
		for (let i = 0; i < held; i++) if (lines[i] === 'figures') this.rows++;
		const wide = rows.findIndex(
			(row, i) => i < held && row.length > this.reading.columnCount && !isBlank(row),
		);
		if (wide >= 0)
			return {
				refused: `Row ${written(from + wide + 1)} has ${rows[wide]!.length} columns where others have ${this.reading.columnCount}`,
			};
		const gathered = this.#gatherer.take(rows.slice(0, held), lines, from);
		return this.#read(partUnits(gathered, this.#units, choices), from);
	}

	#read(entries: readonly Entry[], from: number): Part | { refused: string } {
		const { anchors, choices, marks, said, drawnWider, orders } = this.#settled;
		if (entries.length === 0) return { entries, ordinals: [], values: [] };
		// The labels of the beginning are read along, so that those of a part mean what they would mean beside them. Of which item each is
		// makes no difference once the frequency is settled.
		const all = [...anchors.entries, ...entries];
		const timed = findPeriods(all, new Int32Array(all.length), choices, said);
		if (timed.problem !== null) return { refused: timed.problem };
		const count = anchors.entries.length;
		if (
			timed.frequency !== this.frequency ||
			anchors.ordinals.some((ordinal, i) => ordinal !== timed.ordinals[i])
		)
			return {
				refused: `From row ${written(from + 1)} on there are periods beside which those of the beginning read otherwise. Write all of them in one way, such as 2024-03`,
			};
		const figures = takeFigures(entries, marks, choices, this.reading.columnCount, orders);
		const [refused] = figures.refusals.values();
		if (refused !== undefined) return { refused };
		const ordinals = timed.ordinals.slice(count);
		for (const [i, { cell }] of entries.entries()) {
			const ordinal = ordinals[i] ?? null;
			// A table drawn wider than its figures go says nothing with its blanks.
			if (ordinal === null || !orders) {
				if (cell === '' && drawnWider) ordinals[i] = null;
				continue;
			}
			const day = timed.days?.[count + i];
			if (day !== null && day !== undefined) this.#days.add(day);
			if (ordinal < this.#first) this.#first = ordinal;
			if (ordinal > this.#last) this.#last = ordinal;
		}
		return { entries, ordinals, values: figures.values };
	}

	/** What lines of orders fill, once all of them are read; null for other tables. */
	filled(): Filled | null {
		if (!this.#settled.orders || this.#days.size === 0) return null;
		return filledBy([...this.#days], [this.#first, this.#last], this.frequency, this.#settled.choices, []);
	}
}
