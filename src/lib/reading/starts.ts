import type { Choices } from './choices';
import { ROOM, START } from './costs';
import type { Grid } from './grid';
import { NUMBER, PERIOD, TEXT } from './grid';
import { isPeriodWord, readSerials } from './periods';
import { runsOn, startsOver } from './telling';
import { headingSays, isBareYear, isTotalLabel } from './words';

/** Rows of numbers that may be headings. */
const MOST_NUMERIC_HEADINGS = 3;

/** Rows that the figures may begin with. */
export function startsOf(grid: Grid, looked: number, choices: Choices): { body: number; cost: number }[] {
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
			cost += START.titleOfDigits;
			continue;
		}
		if (!heads(r) && !lone) {
			starts.push({ body: withBroken(grid, r), cost: cost + (numbers < words - 1 ? START.moreWords : 0) });
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
	return words.size > 1 && words.size === above.length ? START.underWords : 0;
}

/** Whether numbers are months or days written without a word, or the serial dates of a spreadsheet. */
export const areDates = (cells: readonly string[]): boolean =>
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
export const isHeading = (label: string): boolean => {
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
	if (years && (counts || said)) return said ? 0 : START.years;
	// Beside a word that is no heading, 1, 2, 3 may well be its figures.
	const strange = corner !== '' && says === null;
	if (counts && cells[0] !== undefined && Number(cells[0]) <= 1)
		return said ? 0 : strange ? START.countsBesideWord : START.counts;
	if (counts && said) return START.countsSaid;
	// Each stands once, or again and again over what it was merged from.
	const apart = new Set(cells).size;
	const codes =
		cells.every((cell) => /^\d{4,}$/.test(cell) && cell.length === cells[0]!.length) &&
		(apart === cells.length || apart <= cells.length / 2);
	if (areDates(cells)) return START.dates;
	const words = grid.rows[r]!.some((_, c) => grid.kind(r, c) & (TEXT | PERIOD));
	if (codes && (said || (corner === '' && cells.length > 1))) return START.codesSaid;
	// One code over all columns stands for those that it was merged from.
	if (codes)
		return cells.length > 1
			? words
				? START.codesAmongWords
				: START.codes
			: grid.filled(r) === 1 && grid.cell(r, 0) === ''
				? START.oneCode
				: START.figures;
	return said ? START.figuresSaid : START.figures;
}
