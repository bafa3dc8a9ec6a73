import type { Choices, ColumnRole, RowRole } from './choices';
import type { Grid } from './grid';
import { NUMBER, PERIOD, TEXT } from './grid';
import { isMissing } from './figures';
import { monthsOf } from './month-names';
import { isPeriodWord, partQuantity, readPeriods, readSerials } from './periods';
import { likeliestOf, sameQuantity } from './quantities';
import type { Roles } from './roles';
import { runsOn, startsOver } from './telling';
import { findTotals, spanOf, YEAR_SPAN } from './totals';
import {
	headingSays,
	isCounterHeading,
	isTotalLabel,
	quantitySays,
	isUnitLabel,
	saysPeriods,
	isBareYear,
} from './words';

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
/** Columns of numbers that may be labels, tried both ways. */
const MOST_OPEN = 4;
/** Rows of numbers that may be headings. */
const MOST_NUMERIC_HEADINGS = 3;
const ROOM = 4;

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

/** Rows that the figures may begin with. */
function startsOf(grid: Grid, looked: number, choices: Choices): { body: number; cost: number }[] {
	const all = Array.from({ length: grid.width }, (_, c) => c);
	const heads = (r: number) => {
		const role = choices.rows?.[r];
		return role !== undefined && role !== 'figures';
	};
	const starts: { body: number; cost: number }[] = [];
	let cost = 0;
	for (let r = 0; r < looked && starts.length <= MOST_NUMERIC_HEADINGS; r++) {
		const { numbers, words } = grid.count(r, all);
		if (numbers === 0) continue;
		// A title with a year in it, cut off from the rest.
		const lone = numbers + words === 1 && grid.width > 1 && r + 1 < looked && grid.isBlank(r + 1);
		if (choices.rows?.[r] === 'figures') {
			starts.push({ body: r, cost });
			break;
		}
		// A code of digits alone in its row may be the title of a block.
		const title =
			numbers === 1 && words === 0 && grid.width > 2 && grid.filled(r) === 1 && grid.kind(r, 0) & NUMBER;
		if (title && choices.rows?.[r] === undefined) {
			cost += 0.4;
			continue;
		}
		if (!heads(r) && !lone) {
			starts.push({ body: withBroken(grid, r), cost: cost + (numbers < words - 1 ? 0.8 : 0) });
			cost += asHeading(grid, r) + underWords(grid, r);
			if (cost > ROOM) break;
		}
	}
	return starts;
}

/** How unlikely a row of numbers is as a heading under words of which each stands once: they head it. */
function underWords(grid: Grid, r: number): number {
	if (r === 0) return 0;
	const above = grid.rows[r]!.flatMap((_, c) => (grid.kind(r, c) & NUMBER ? [grid.cell(r - 1, c)] : []));
	const words = new Set(above.filter((cell) => cell !== '' && !/^[\d.,\s]*$/.test(cell)));
	return words.size > 1 && words.size === above.length ? 2 : 0;
}

/** Whether numbers are months or days written without a word, or the serial dates of a spreadsheet. */
const areDates = (cells: readonly string[]): boolean =>
	cells.length > 1 &&
	(cells.every((cell) => /^(19|20)\d\d[-/.]?(0[1-9]|1[0-2])([0-3]\d)?$|^\d\d[./-](19|20)\d\d$/.test(cell)) ||
		readSerials(cells) !== null);

/** The first row from which on the same column has periods, though the first figures may be broken. */
function withBroken(grid: Grid, first: number): number {
	const c = grid.rows[first]!.findIndex((_, i) => grid.kind(first, i) & PERIOD);
	let r = first;
	while (c >= 0 && r > 0 && grid.kind(r - 1, c) & PERIOD) r--;
	return r;
}

/** Whether a label is a word that heads a column rather than one that names something. */
const isHeading = (label: string): boolean => {
	const says = headingSays(label);
	return says !== null && says !== 'figure' && says !== 'measure' && says !== 'unit' && !isPeriodWord(label);
};

/** How unlikely a row of numbers is as a heading: years and counted periods are, and codes of digits may be. */
function asHeading(grid: Grid, r: number): number {
	const cells = grid.rows[r]!.filter((cell, c) => grid.kind(r, c) & NUMBER && !isTotalLabel(cell));
	const first = grid.rows[r]!.findIndex((_, c) => grid.kind(r, c) & NUMBER);
	const corner = grid.rows[r]!.slice(0, first).find((cell) => cell !== '') ?? '';
	const says = headingSays(corner);
	const years = cells.every((cell) => isBareYear(cell));
	const counts = cells.length > 1 && (runsOn(cells) || startsOver(cells));
	const said = says !== null && says !== 'figure';
	if (years && (counts || said)) return said ? 0 : 0.5;
	// Beside a word that is no heading, 1, 2, 3 may well be its figures.
	const strange = corner !== '' && says === null;
	if (counts && cells[0] !== undefined && Number(cells[0]) <= 1) return said ? 0 : strange ? 2.2 : 0.7;
	if (counts && said) return 0.2;
	// Each stands once, or again and again over what it was merged from.
	const apart = new Set(cells).size;
	const codes =
		cells.every((cell) => /^\d{4,}$/.test(cell) && cell.length === cells[0]!.length) &&
		(apart === cells.length || apart <= cells.length / 2);
	if (areDates(cells)) return 0.4;
	const words = grid.rows[r]!.some((_, c) => grid.kind(r, c) & (TEXT | PERIOD));
	if (codes && (said || (corner === '' && cells.length > 1))) return 0.3;
	// One code over all columns stands for those that it was merged from.
	if (codes)
		return cells.length > 1 ? (words ? 1.5 : 2) : grid.filled(r) === 1 && grid.cell(r, 0) === '' ? 1 : 5;
	return said ? 1.5 : 5;
}

interface Columns {
	keys: number[];
	figures: number[];
	cost: number;
	/** Of several quantities that the headings name beside their periods, the one that is taken. */
	quantity: Roles['quantity'];
}

/** Which columns hold figures and which label them, in every likely way, given the first row of figures. */
function columnsOf(grid: Grid, looked: number, body: number, choices: Choices): Columns[] {
	const keys: number[] = [];
	const figures: number[] = [];
	/** Columns of numbers that may be labels, with what either costs. */
	const open: { c: number; asKey: number; asFigure: number }[] = [];
	let coded = false;
	const heading = (c: number) => above(grid, body, c);
	const headed = Array.from({ length: looked }, (_, r) => r > body && grid.isHeadingLike(r));
	const numeric: number[] = [];
	for (let c = 0; c < grid.width; c++) {
		let numbers = 0;
		let words = 0;
		let none = 0;
		for (let r = body; r < looked; r++) {
			if (headed[r]) continue;
			const kind = grid.kind(r, c);
			if (kind & NUMBER) numbers++;
			else if (kind & (TEXT | PERIOD)) words++;
			else if (kind !== 0) none++;
		}
		const role = choices.columns?.[c];
		if (role === 'figure' || role === 'total') figures.push(c);
		else if (role === 'ignored') continue;
		else if (role) keys.push(c);
		else if (numbers > 0 && numbers >= words) numeric.push(c);
		else if (words > 0) keys.push(c);
		else if (none > 0) figures.push(c);
	}
	const cellsOf = (c: number) => {
		const cells: string[] = [];
		for (let r = body; r < looked; r++) if (grid.kind(r, c) & NUMBER) cells.push(grid.cell(r, c));
		return cells;
	};
	if (!choices.columns) {
		const words = keys.length > 0 ? keys.at(-1)! : -1;
		const periods = numeric.filter((c) => isPeriodWord(heading(c))).length;
		const saysNothing = numeric.filter((c) => {
			if (numeric.length < 2 || keys.length === 0 || isPeriodWord(heading(c))) return false;
			const cells = cellsOf(c);
			// Beside months across, two rows are enough.
			if (cells.length < (periods > 1 ? 2 : ENOUGH_ROWS)) return false;
			if (counts(cells, heading(c))) return true;
			return (c < words || periods > 1) && isConstant(cells, heading(c));
		});
		if (saysNothing.length < numeric.length + figures.length)
			for (const c of saysNothing) {
				numeric.splice(numeric.indexOf(c), 1);
				if (!counts(cellsOf(c), heading(c))) keys.push(c);
			}
	}
	const dated = keys.some((c) => isDated(grid, looked, body, c));
	// What is no number and yet holds figures ends the labels on its left as well.
	const least = figures.reduce((first, c) => Math.min(first, c), Infinity);
	let leftmost = true;
	for (const c of numeric) {
		const cells = cellsOf(c);
		const costs = isPeriodWord(heading(c))
			? null
			: asKey(cells, heading(c), dated, leftmost && least > c, !coded);
		if (costs === null || numeric.length + figures.length === 1) {
			figures.push(c);
			leftmost = false;
		} else if (costs.asFigure > 3) keys.push(c);
		else {
			open.push({ c, ...costs });
			// After one column of codes may come years, but no other codes; what is rather a figure ends the run of labels.
			if (costs.isCode) coded = true;
			else if (costs.asKey > costs.asFigure) leftmost = false;
		}
	}
	// Beyond so many the likelier way is taken.
	open.sort((a, b) => Math.abs(a.asKey - a.asFigure) - Math.abs(b.asKey - b.asFigure));
	for (const { c, asKey: key, asFigure } of open.splice(MOST_OPEN)) (key < asFigure ? keys : figures).push(c);
	const ways: Columns[] = [];
	for (let mask = 0; mask < 1 << open.length; mask++) {
		const way: Columns = { keys: [...keys], figures: [...figures], cost: 0, quantity: null };
		for (const [i, { c, asKey: key, asFigure }] of open.entries()) {
			const isKey = (mask & (1 << i)) !== 0;
			(isKey ? way.keys : way.figures).push(c);
			way.cost += isKey ? key : asFigure;
		}
		if (way.figures.length === 0) continue;
		way.keys.sort((a, b) => a - b);
		way.figures.sort((a, b) => a - b);
		ways.push(way);
	}
	return ways.flatMap((way) => ofDemand(grid, body, way, choices));
}

/** Rows of which fewer say too little of a column. */
const ENOUGH_ROWS = 3;

/** Whether a column only counts the rows: from 0 or 1 by one, below nothing or a word for it. */
function counts(cells: readonly string[], heading: string): boolean {
	const first = Number(cells[0]);
	return (
		(first === 0 || first === 1) &&
		cells.every((cell, i) => Number(cell.replace(/\.$/, '')) === first + i) &&
		isCounterHeading(heading)
	);
}

/** Whether a column has one value throughout, and no heading that would make it demand. */
function isConstant(cells: readonly string[], heading: string): boolean {
	const says = headingSays(heading);
	return (
		cells.every((cell) => cell === cells[0]) &&
		/^\D+$/.test(heading) &&
		monthsOf([heading]).length === 0 &&
		!isTotalLabel(heading) &&
		(says === null || says === 'label' || says === 'other')
	);
}

/** Where headings are periods, some with the quantity that they are of: those of demand, without what is worked out beside them. */
function ofDemand(grid: Grid, body: number, way: Columns, choices: Choices): Columns[] {
	const heads = way.figures.map((c) => {
		const heading = above(grid, body, c);
		const { quantity, period } = partQuantity(heading);
		const timed = isPeriodWord(period) || isBareYear(period);
		return { c, timed, quantity: timed ? quantity : heading };
	});
	const timed = heads.filter((head) => head.timed);
	if (timed.length < 2) return [way];
	const labels = [...new Set(timed.map(({ quantity }) => quantity))].filter((label) => label !== '');
	const demand = labels.length > 1 ? (choices.quantity ?? likeliestOf(labels)) : null;
	const others = heads.filter(({ timed, quantity }) =>
		timed
			? demand !== null && quantity !== '' && !sameQuantity(quantity, demand)
			: !['demand', 'count', null].includes(quantitySays(quantity)),
	);
	const kept = way.figures.filter(
		(c) => choices.columns?.[c] === 'figure' || !others.some((other) => other.c === c),
	);
	if (kept.length === way.figures.length) return [way];
	return [
		{ ...way, figures: kept, quantity: demand === null ? null : { labels, demand } },
		{ ...way, cost: way.cost + 1.2 },
	];
}

/** What a column of numbers costs as a label and as figures; null for what can only be figures. */
function asKey(
	cells: readonly string[],
	heading: string,
	dated: boolean,
	leftmost: boolean,
	mayCode: boolean,
): { asKey: number; asFigure: number; isCode?: true } | null {
	const filled = cells.filter((cell) => cell !== '' && !isMissing(cell));
	if (filled.length === 0) return null;
	const says = headingSays(heading);
	if (says === 'item' || says === 'name' || says === 'label' || says === 'other')
		return { asKey: 0, asFigure: 4 };
	if (filled.some((cell) => !/^\d{1,8}(?:\.\d{0,4})?$/.test(cell))) return null;
	if (says === 'figure' || says === 'measure') return null;
	const said = saysPeriods(heading);
	const years = filled.every((cell) => isBareYear(cell));
	const whole = filled.map((cell) => cell.replace(/\.$/, ''));
	const counts = runsOn(whole) || startsOver(whole);
	const small = filled.every((cell) => /^\d{1,2}$/.test(cell) && Number(cell) <= 53);
	const compact =
		filled.length > 1 &&
		filled.every((cell) =>
			/^(19|20)\d\d(0[1-9]|1[0-2])([0-3]\d)?$|^\d\d\.(19|20)\d\d$|^(19|20)\d\d\.\d\d$/.test(cell),
		);
	const serial = !compact && !years && readSerials(filled, {}, said) !== null;
	const isWhole = whole.every((cell) => /^\d+$/.test(cell));
	if (said)
		return years || counts || small || compact || serial
			? { asKey: 0, asFigure: 3.5 }
			: { asKey: 1.5, asFigure: 0 };
	if (!leftmost) return null;
	const strange = heading !== '' ? 1.4 : 0;
	if (years) return { asKey: 0.2 + strange, asFigure: counts && filled.length > 1 ? 2 : 1 };
	if (compact || serial) return { asKey: 0.3 + strange, asFigure: serial ? 1.2 : 2 };
	if (counts && isWhole && filled.length > 1)
		return {
			asKey: 0.6 + strange + (dated ? 0.6 : 0),
			asFigure: strange > 0 ? 0.2 : filled[0] === '1' && filled.length > 2 ? 1 : 0.5,
		};
	const length = filled[0]!.length;
	// Codes of digits: of one length, and given again and again or beside periods.
	if (mayCode && isWhole && length >= 4 && filled.every((cell) => cell.length === length))
		return {
			asKey: 0.9 + strange / 4,
			asFigure: dated || new Set(filled).size <= filled.length / 2 ? 1 : 0.3,
			isCode: true,
		};
	return null;
}

/** Whether most cells of a column are periods that no figure is written like. */
function isDated(grid: Grid, looked: number, body: number, c: number): boolean {
	let periods = 0;
	let filled = 0;
	for (let r = body; r < looked; r++) {
		const kind = grid.kind(r, c);
		if (kind & PERIOD) periods++;
		if (kind !== 0) filled++;
	}
	return periods > filled / 2;
}

/** The nearest label above a column, titles left out. */
function above(grid: Grid, body: number, c: number): string {
	for (let r = body - 1; r >= 0; r--) {
		if (grid.isBlank(r)) return '';
		const cell = grid.cell(r, c);
		if (cell !== '' && (grid.width === 1 || grid.filled(r) > 1)) return cell;
	}
	return '';
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
		this.cost = cost + (this.data.length === 0 || this.figures.length === 0 ? 20 : this.#headed());
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
			if (own.some((label) => isHeading(label))) cost += 2.5;
			else if (own.every((label) => label === '') && named > this.data.length / 2) cost += 1.5;
		}
		return Math.min(4, cost);
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
		const labelsOfRow = (r: number) => this.keys.map((c) => grid.cell(r, c)).filter((cell) => cell !== '');
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
		return this.keys.some((c) => {
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
				const alike = years || dates || (runsOn(above) && runsOn(cells));
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
		cost += Math.min(3, lost);
		for (const r of this.headings) if (roles.rows[r] === 'ignored' && !this.#says(r)) cost += 0.3;
		return cost + 0.05 * (this.totals.columns.length + this.totals.rows.length);
	}

	/** What it costs that a column of labels says nothing: little for words, and for lines that are only counted. */
	#leftOut(c: number): number {
		if (!(this.grid.kind(this.data[0]!, c) & NUMBER)) return 0.25;
		if (this.data.every((r) => this.grid.cell(r, c) === this.grid.cell(this.data[0]!, c))) return 0.25;
		return runsOn(this.data.map((r) => this.grid.cell(r, c).replace(/\.$/, ''))) ? 0.3 : 1.5;
	}

	/** Whether a heading says only that figures or units are below it. */
	#says(r: number): boolean {
		return this.#all.every((c) => {
			const cell = this.grid.cell(r, c);
			return cell === '' || headingSays(cell) === 'figure' || isUnitLabel(cell);
		});
	}
}
