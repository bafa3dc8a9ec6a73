import type { Choices, ColumnRole, RowRole } from './choices';
import { above, type Columns, columnsOf, isDated } from './columns';
import { HEADED, NOTHING_THERE, ODD, ROOM } from './costs';
import type { Grid } from './grid';
import { NUMBER, PERIOD, TEXT } from './grid';
import { readPeriods } from './periods';
import type { Roles } from './roles';
import { areDates, isHeading, startsOf } from './starts';
import { runsOn } from './telling';
import { findTotals, spanOf, YEAR_SPAN } from './totals';
import { headingSays, isBareYear, isTotalLabel, isUnitLabel, saysPeriods } from './words';

/** Where a table's figures stand: below some headings, beside some keys. */
export interface Frame {
	/** Columns of figures, totals left out. */
	figures: readonly number[];
	/** Columns of labels beside them. */
	keys: readonly number[];
	/** Rows of figures among those that were looked at, totals left out. */
	data: readonly number[];
	/** Rows of labels above the first figures. */
	headings: readonly number[];
	totals: {
		columns: readonly number[];
		rows: readonly number[];
		bySum: { columns: number[]; rows: number[] };
	};
	/** Rows that were looked at. */
	looked: number;
	/** Of several quantities that its headings name beside their periods, the one that is taken. */
	quantity: Roles['quantity'];
	/** How unlikely it is that figures stand there. */
	cost: number;
	/** What stands above a column. */
	headingOf(c: number): string;
	/** What a row is, by the same rules from the first to the last; null where it is left to be named. */
	roleOf(r: number): RowRole | null;
	/** Rows inside the table that head another block of it, each with the heading that it repeats. */
	blocks: ReadonlyMap<number, number>;
	/** The rows behind those looked at are others now, the first of them at this place of the table. */
	follow(from: number): void;
	/** Whether a row is a word alone above the heading of another block: what the block is of. */
	titlesBlock(r: number): boolean;
	/** Rows of a year alone, which the rows below it are of. */
	sections: readonly number[];
	/** How much of the table is left over when roles are given. */
	oddity(roles: { columns: readonly ColumnRole[]; rows: readonly RowRole[] }): number;
}

/** Frames that are calculated in full. */
const MOST_FRAMES = 14;

interface Sketch extends Columns {
	body: number;
}

/** Every likely place of a table's figures, the likeliest first. */
export function framesOf(grid: Grid, looked: number, choices: Choices): Frame[] {
	const sketches = startsOf(grid, looked, choices).flatMap(({ body, cost }) =>
		columnsOf(grid, looked, body, choices).map((columns) => ({
			body,
			...columns,
			cost: cost + columns.cost,
		})),
	);
	sketches.sort((a, b) => a.cost - b.cost);
	const least = sketches[0]?.cost ?? 0;
	return sketches
		.filter(({ cost }) => cost <= least + ROOM)
		.slice(0, MOST_FRAMES)
		.map((sketch) => new FrameAt(grid, looked, sketch, choices));
}
class FrameAt implements Frame {
	readonly body: number;
	readonly keys: readonly number[];
	readonly headings: readonly number[];
	readonly figures: readonly number[];
	readonly data: readonly number[];
	readonly totals: Frame['totals'];
	readonly blocks = new Map<number, number>();
	readonly sections: readonly number[];
	readonly cost: number;
	readonly quantity: Roles['quantity'];
	readonly #all: readonly number[];
	/** Columns without figures, those that only count the rows among them: a total may stand there. */
	readonly #beside: readonly number[];
	readonly #dated: number;
	readonly #total = new Set<number>();

	constructor(
		readonly grid: Grid,
		readonly looked: number,
		{ body, keys, figures, cost, quantity }: Sketch,
		readonly choices: Choices,
	) {
		this.body = body;
		this.quantity = quantity;
		this.keys = keys;
		this.#all = figures;
		const counted = (c: number) => !keys.includes(c) && !figures.includes(c) && c < (figures[0] ?? 0);
		this.#beside = Array.from({ length: grid.width }, (_, c) => c).filter(
			(c) => keys.includes(c) || counted(c),
		);
		this.#dated = keys.find((c) => isDated(grid, looked, body, c)) ?? -1;
		this.headings = this.#headingRows();
		this.sections = this.#sectionRows();
		const rows: number[] = [];
		for (let r = body; r < looked; r++) if (this.roleOf(r) === 'figures') rows.push(r);
		const found = this.#findTotals(rows);
		this.totals = found;
		for (const r of found.rows) this.#total.add(r);
		this.figures = figures.filter((c) => !found.columns.includes(c) && choices.columns?.[c] !== 'total');
		this.data = rows.filter((r) => !this.#total.has(r));
		this.cost = cost + (this.data.length === 0 || this.figures.length === 0 ? NOTHING_THERE : this.#headed());
	}

	/** How much further down the table the rows are than in the grid, behind those looked at. */
	#ahead = 0;
	follow(from: number): void {
		this.#ahead = from - this.looked;
		for (const r of this.blocks.keys()) if (r >= this.looked) this.blocks.delete(r);
	}

	headingOf(c: number): string {
		return above(this.grid, this.body, c);
	}

	/** How unlikely it is that the first rows are figures rather than what heads them: “Month”, or nothing where others are named. */
	#headed(): number {
		const { grid, keys } = this;
		if (keys.length === 0 || this.data.length < 2) return 0;
		const labels = (r: number) => keys.map((c) => grid.cell(r, c));
		const named = this.data.filter((r) => labels(r).some((label) => label !== '')).length;
		let cost = 0;
		for (const r of this.data.slice(0, 3)) {
			const own = labels(r);
			if (own.some((label) => isHeading(label))) cost += HEADED.word;
			else if (own.every((label) => label === '') && named > this.data.length / 2) cost += HEADED.unnamed;
		}
		return Math.min(HEADED.most, cost);
	}

	/** The rows above the figures that stand over them, next to each other. */
	#headingRows(): number[] {
		const { grid, body } = this;
		const found: number[] = [];
		let blanks = 0;
		for (let r = body - 1; r >= 0; r--) {
			const forced = this.choices.rows?.[r];
			if (grid.isBlank(r)) {
				if (found.length > 0 || ++blanks > 1) break;
				continue;
			}
			if (forced === 'ignored') continue;
			const over = this.#all.filter((c) => grid.kind(r, c) !== 0);
			if (forced === undefined && over.length === 0) {
				if (found.length > 0) break;
				continue;
			}
			// A title or a remark that begins over the first figures, alone in its row, in a wide table.
			const lone = grid.filled(r) === 1 && this.#all.length > 1;
			if (forced === undefined && lone && grid.kind(r, over[0]!) & TEXT) {
				if (found.length > 0) break;
				continue;
			}
			found.push(r);
		}
		return found.reverse();
	}

	/** Rows with a year and nothing else, the first of them before the first figures. */
	#sectionRows(): number[] {
		const { grid, body, looked, keys } = this;
		if (keys.length === 0 || grid.width < 2) return [];
		const found: number[] = [];
		for (let r = 0; r < looked; r++) {
			if (grid.filled(r) !== 1 || this.headings.includes(r)) continue;
			const cell = grid.rows[r]!.find((each) => each !== '')!;
			if (readPeriods([cell.replace(/:$/, '')])?.frequency === 'year') found.push(r);
		}
		return found.length > 0 && found[0]! < this.#firstLabelled(body) ? found : [];
	}

	/** The first row from the body on that has more than one cell. */
	#firstLabelled(body: number): number {
		let r = body;
		while (r < this.looked && this.grid.filled(r) < 2) r++;
		return r;
	}

	#findTotals(rows: readonly number[]): Frame['totals'] {
		const { grid, choices } = this;
		const labelsOfColumn = (c: number) =>
			this.headings.map((r) => grid.cell(r, c)).filter((cell) => cell !== '');
		const labelsOfRow = (r: number) => this.#beside.map((c) => grid.cell(r, c)).filter((cell) => cell !== '');
		return findTotals(
			this.#all
				.filter((c) => choices.columns?.[c] === undefined)
				.map((c) => ({ at: c, labels: labelsOfColumn(c) })),
			rows.filter((r) => choices.rows?.[r] === undefined).map((r) => ({ at: r, labels: labelsOfRow(r) })),
			(r, c) => grid.cell(r, c),
		);
	}

	roleOf(r: number): RowRole | null {
		const { grid, keys } = this;
		const chosen = this.choices.rows?.[r < this.looked ? r : r + this.#ahead];
		if (chosen) return chosen;
		if (r < this.body) return null;
		if (this.#total.has(r)) return 'total';
		// What follows the rows looked at is mostly as they are: labels and figures.
		if (r >= this.looked && this.#isPlain(r)) return this.#isTotal(r) ? 'total' : 'figures';
		if (grid.isBlank(r)) return grid.width === 1 && r > this.body && this.#goesOn(r) ? 'figures' : 'ignored';
		if (this.#headsBlock(r) || this.sections.includes(r)) return null;
		if (this.titlesBlock(r)) return 'ignored';
		const { numbers, words, none } = grid.count(r, this.#all);
		if (r >= this.looked && numbers > 0 && this.#isTotal(r)) return 'total';
		if (numbers + none > 0 && numbers + none >= words) return 'figures';
		const timed = keys.some((c) => grid.kind(r, c) & (PERIOD | NUMBER));
		const labelled = keys.filter((c) => grid.kind(r, c) !== 0).length > 1;
		if (words === 0) return timed || labelled || this.#isUncut(r) ? 'figures' : 'ignored';
		if (numbers > 0 && keys.some((c) => grid.kind(r, c) !== 0) && words < this.#all.length / 4)
			return 'figures';
		return this.#isBroken(r, words, timed) ? 'figures' : 'ignored';
	}

	/** By column: the label that was asked about last, as most rows have that of the row above, and whether it names a sum. */
	readonly #asked = new Map<number, { cell: string; is: boolean }>();
	#isTotal(r: number): boolean {
		return this.#beside.some((c) => {
			const cell = this.grid.cell(r, c);
			let asked = this.#asked.get(c);
			if (asked?.cell !== cell) this.#asked.set(c, (asked = { cell, is: isTotalLabel(cell) }));
			return asked.is;
		});
	}

	/** Whether each figure's cell is a number and each label's is not blank. */
	#isPlain(r: number): boolean {
		const { grid } = this;
		return (
			this.#all.every((c) => grid.kind(r, c) & NUMBER) &&
			this.keys.every((c) => grid.cell(r, c) !== '') &&
			(this.#all.length < 2 || !runsOn([grid.cell(r, this.#all[0]!), grid.cell(r, this.#all[1]!)]))
		);
	}

	/** Whether a table of one column goes on after a blank row: the row is a period without a figure. */
	#goesOn(r: number): boolean {
		for (let next = r + 1; next < Math.min(this.grid.rows.length, r + 200); next++)
			if (!this.grid.isBlank(next)) return (this.grid.kind(next, 0) & NUMBER) !== 0;
		return false;
	}

	/** Words where the figures stand, beside a key: a figure that cannot be read, rather than a remark. */
	#isBroken(r: number, words: number, timed: boolean): boolean {
		const { grid, keys } = this;
		// Remarks come after a blank line, or are sentences.
		const last = this.#lastNumbers();
		const dated = keys.some((c) => grid.kind(r, c) & PERIOD);
		if (r > last && !dated && (grid.isBlank(r - 1) || /\S\s+\S/.test(grid.cell(r, 0)))) return false;
		const texts = this.#all.filter((c) => grid.kind(r, c) & TEXT).length;
		// Among figures, a word with digits in it was to be one.
		if (
			r < last &&
			this.#all.length <= 2 &&
			this.#all.some((c) => grid.kind(r, c) & TEXT && /\d/.test(grid.cell(r, c)))
		)
			return true;
		const alike = keys.length === 0 ? grid.width === 1 : timed;
		if (texts > 0 && texts === words && alike && this.#all.length <= 2) return true;
		return this.#isUncut(r);
	}

	/** A line that was cut in another way than its neighbours: its period is asked about, not dropped. */
	#isUncut(r: number): boolean {
		const { grid } = this;
		return (
			this.#dated >= 0 &&
			r < this.#lastNumbers() &&
			(grid.kind(r, this.#dated) & TEXT) !== 0 &&
			/\d/.test(grid.cell(r, this.#dated))
		);
	}

	#last: number | null = null;
	#lastNumbers(): number {
		if (this.#last !== null) return this.#last;
		let last = this.body;
		for (let r = this.body; r < this.looked; r++) if (this.grid.count(r, this.#all).numbers > 0) last = r;
		return (this.#last = this.looked < this.grid.rows.length ? this.grid.rows.length : last);
	}

	/** Whether a row heads another block of the table, as the rows above the first figures do. */
	#headsBlock(r: number): boolean {
		const known = this.blocks.get(r);
		if (known !== undefined) return known >= 0;
		const heads = this.#repeats(r);
		this.blocks.set(r, heads);
		return heads >= 0;
	}

	titlesBlock(r: number): boolean {
		const { grid } = this;
		if (this.headings.length === 0 || grid.filled(r) !== 1 || grid.width < 2) return false;
		let next = r + 1;
		while (next < grid.rows.length && grid.isBlank(next)) next++;
		return next < grid.rows.length && this.#headsBlock(next);
	}

	/** The heading that a row repeats; -1 for none. */
	#repeats(r: number): number {
		const { grid, headings, keys } = this;
		if (r === this.body || headings.length === 0) return -1;
		const over = this.#all.filter((c) => grid.kind(r, c) !== 0);
		if (over.length === 0) return -1;
		const { periods, numbers } = grid.count(r, over);
		const corner = keys.map((c) => grid.cell(r, c));
		for (const h of headings.toReversed()) {
			const first = grid.count(h, this.#all);
			// A year below months is another part of the heading.
			const span = spanOf(this.#all.map((c) => grid.cell(h, c)).find((cell) => cell !== ''));
			if (span > 0 && span < YEAR_SPAN && spanOf(grid.cell(r, over[0]!)) === YEAR_SPAN) continue;
			const same =
				keys.length > 0 &&
				corner.some((cell) => cell !== '') &&
				keys.every((c, i) => grid.cell(h, c) === corner[i]);
			const blank = corner.every((cell) => cell === '') && keys.every((c) => grid.cell(h, c) === '');
			if (periods >= 0.6 * over.length && periods > 0 && first.periods > 0 && (periods > 1 || same || blank))
				return h;
			const said = keys.some(
				(c, i) => isHeading(corner[i]!) && saysPeriods(corner[i]!) && saysPeriods(grid.cell(h, c)),
			);
			if (numbers === over.length && first.numbers > 0 && first.words === 0 && (same || blank || said)) {
				const cells = over.map((c) => grid.cell(r, c));
				const above = this.#all.map((c) => grid.cell(h, c)).filter((cell) => cell !== '');
				// The last block may have a single column.
				const dates = areDates(above) && areDates(cells.length > 1 ? cells : [above.at(-1)!, ...cells]);
				const years = [...above, ...cells].every((cell) => isBareYear(cell));
				// 4, 4, 3, 3 below 2011, 2012, … are figures, and so is 3, 4, 5, 6 where those are codes.
				const each = (list: readonly string[]) => new Set(list).size === list.length;
				const counted = this.choices.rows?.[h] !== 'item';
				const runs = counted && runsOn(above) && runsOn(cells) && each(above) === each(cells);
				const alike = years || dates || runs;
				// A date alone in its row, behind a blank one, is no figure.
				const parted = dates && blank && r > 0 && grid.isBlank(r - 1);
				if (alike && (over.length > 1 || same || said || parted)) return h;
			}
			const equal = over.every((c) => grid.cell(r, c) === grid.cell(h, c));
			if (equal && (same || said || over.length > 2)) return h;
		}
		return -1;
	}

	oddity(roles: { columns: readonly ColumnRole[]; rows: readonly RowRole[] }): number {
		const { grid } = this;
		let cost = 0;
		for (const c of this.keys)
			if (roles.columns[c] === 'ignored' && headingSays(this.headingOf(c)) !== 'other')
				cost += this.#leftOut(c);
		let lost = 0;
		for (let r = this.body; r < this.looked; r++) {
			if (roles.rows[r] !== 'ignored' || r > this.data.at(-1)!) continue;
			const { numbers, words } = grid.count(r, this.#all);
			if (numbers > 0 || words > 1) lost++;
		}
		cost += Math.min(ODD.mostLost, lost);
		for (const r of this.headings) if (roles.rows[r] === 'ignored' && !this.#says(r)) cost += ODD.heading;
		return cost + ODD.total * (this.totals.columns.length + this.totals.rows.length);
	}

	/** What it costs that a column of labels says nothing: little for words, and for lines that are only counted. */
	#leftOut(c: number): number {
		if (!(this.grid.kind(this.data[0]!, c) & NUMBER)) return ODD.words;
		if (this.data.every((r) => this.grid.cell(r, c) === this.grid.cell(this.data[0]!, c))) return ODD.words;
		return runsOn(this.data.map((r) => this.grid.cell(r, c).replace(/\.$/, ''))) ? ODD.counts : ODD.numbers;
	}

	/** Whether a heading says only that figures or units are below it. */
	#says(r: number): boolean {
		return this.#all.every((c) => {
			const cell = this.grid.cell(r, c);
			return cell === '' || headingSays(cell) === 'figure' || isUnitLabel(cell);
		});
	}
}
