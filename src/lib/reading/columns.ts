import type { Choices } from './choices';
import { KEY } from './costs';
import { isMissing } from './figures';
import type { Grid } from './grid';
import { NUMBER, PERIOD, TEXT } from './grid';
import { monthsOf } from './month-names';
import { isPeriodWord, partQuantity, readSerials } from './periods';
import { likeliestOf, sameQuantity } from './quantities';
import type { Roles } from './roles';
import { runsOn, startsOver } from './telling';
import { headingSays, isBareYear, isCounterHeading, isTotalLabel, quantitySays, saysPeriods } from './words';

/** Columns of numbers that may be labels, tried both ways. */
const MOST_OPEN = 4;

export interface Columns {
	keys: number[];
	figures: number[];
	cost: number;
	/** Of several quantities that the headings name beside their periods, the one that is taken. */
	quantity: Roles['quantity'];
}

/** Which columns hold figures and which label them, in every likely way, given the first row of figures. */
export function columnsOf(grid: Grid, looked: number, body: number, choices: Choices): Columns[] {
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
		} else if (costs.asFigure > KEY.beyondDoubt) keys.push(c);
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
		{ ...way, cost: way.cost + KEY.everyQuantity },
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
		return { asKey: 0, asFigure: KEY.figureSaidKey };
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
			? { asKey: 0, asFigure: KEY.figureSaidPeriod }
			: { asKey: KEY.saidPeriodAlone, asFigure: 0 };
	if (!leftmost) return null;
	const strange = heading !== '' ? KEY.strangeHeading : 0;
	if (years)
		return {
			asKey: KEY.years + strange,
			asFigure: counts && filled.length > 1 ? KEY.yearsAsFigures : KEY.fewYearsAsFigures,
		};
	if (compact || serial)
		return { asKey: KEY.dates + strange, asFigure: serial ? KEY.serialsAsFigures : KEY.datesAsFigures };
	if (counts && isWhole && filled.length > 1)
		return {
			asKey: KEY.counts + strange + (dated ? KEY.countsBesideDates : 0),
			asFigure:
				strange > 0
					? KEY.countsSaidAsFigures
					: filled[0] === '1' && filled.length > 2
						? KEY.countsAsFigures
						: KEY.someCountsAsFigures,
		};
	const length = filled[0]!.length;
	// Codes of digits: of one length, and given again and again or beside periods.
	if (mayCode && isWhole && length >= 4 && filled.every((cell) => cell.length === length))
		return {
			asKey: KEY.codes + strange / 4,
			asFigure:
				dated || new Set(filled).size <= filled.length / 2 ? KEY.codesAgainAsFigures : KEY.codesAsFigures,
			isCode: true,
		};
	return null;
}

/** Whether most cells of a column are periods that no figure is written like. */
export function isDated(grid: Grid, looked: number, body: number, c: number): boolean {
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
export function above(grid: Grid, body: number, c: number): string {
	for (let r = body - 1; r >= 0; r--) {
		if (grid.isBlank(r)) return '';
		const cell = grid.cell(r, c);
		if (cell !== '' && (grid.width === 1 || grid.filled(r) > 1)) return cell;
	}
	return '';
}
