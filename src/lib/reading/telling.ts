import { TELLS } from './costs';
import { isMissing } from './figures';
import { isCountedCycle, isPeriodWord, readPeriods, readSeasons, readSerials } from './periods';
import { gapsOf } from './spellings';
import { headingSays, saysPeriods, isBareYear } from './words';

/** How labels along one side tell time. */
export type TimeKind =
	/** Each label a whole period: 2024-03, 5 Mar 2024. */
	| 'full'
	/** Years, which are periods or the cycles of months and quarters. */
	| 'years'
	/** Year 1, cycle 2. */
	| 'counted'
	/** Months, quarters, half-years, weeks, seasons of the year. */
	| 'seasons'
	| 'weekdays'
	| 'hours'
	/** 1, 2, 3 …: seasons of a cycle, or periods that are counted on. */
	| 'numbers'
	/** 1 … 31 of a month. */
	| 'dates';

/** One way in which labels tell time, and how unlikely it is: 0 is beyond doubt, 1 a guess. */
export interface Telling {
	kind: TimeKind;
	cost: number;
	/** Of whole periods: what share of the span between the first and the last is missing. */
	gaps: number;
	/** Whether some of the labels are no periods, or none of that spelling: they will be named. */
	broken?: true;
}

const LOOKED_AT = 2000;

/** Every way in which labels of one side could tell time; none for names. */
export function tellingsOf(labels: readonly string[], heading: string): Telling[] {
	const distinct = [...new Set(labels)]
		.filter((label) => label !== '' && !isMissing(label))
		.slice(0, LOOKED_AT);
	if (distinct.length === 0 || headingSays(heading) === 'other') return [];
	if (distinct.every(isCountedCycle)) return [{ kind: 'counted', cost: TELLS.countedCycles, gaps: 0 }];
	const says = headingSays(heading);
	// “No.” may stand over codes or over periods.
	const named =
		says === 'name' ||
		says === 'unit' ||
		says === 'label' ||
		(says === 'item' && !/^(?:no|nr|n|#|id)\.?$/i.test(heading.trim()));
	return distinct.every((label) => /^\d+$/.test(label))
		? named
			? []
			: ofDigits(labels, distinct, heading)
		: ofWords(distinct, heading, named);
}

function ofDigits(labels: readonly string[], distinct: readonly string[], heading: string): Telling[] {
	const said = saysPeriods(heading);
	const found: Telling[] = [];
	const runs = runsOn(labels);
	if (distinct.every((label) => isBareYear(label))) {
		const steady = runs || runsOn(sortedNumbers(distinct));
		found.push({
			kind: 'years',
			cost: said ? 0 : steady ? TELLS.steadyYears : TELLS.years,
			gaps: gapsOf(distinct.map(Number)),
		});
		return found;
	}
	const serials = readSerials(distinct, {}, said);
	if (serials) {
		const gaps = gapsOf(serials.ordinals);
		found.push({ kind: 'full', cost: (said ? TELLS.said : TELLS.serials) + gaps, gaps });
	}
	const column = serials ? null : readPeriods(distinct);
	if (column && column.frequency !== 'step') {
		const gaps = gapsOf(column.ordinals);
		// 202403 beside other numbers of six digits: only what follows each other is a row of months.
		found.push({ kind: 'full', cost: (said ? TELLS.said : TELLS.months) + 2 * gaps, gaps });
	}
	if (distinct.every((label) => Number(label) >= 1 && Number(label) <= 31))
		found.push({
			kind: 'dates',
			cost: /^(?:day|tag|jour|d[ií]a|date|datum|日)/i.test(heading) ? 0 : TELLS.dates,
			gaps: 0,
		});
	const seasons = readSeasons(distinct, heading);
	if (seasons)
		found.push({
			kind: seasons.frequency === 'hour' ? 'hours' : 'numbers',
			cost: said ? TELLS.said : runs || startsOver(labels) ? TELLS.runs : TELLS.numbers,
			gaps: 0,
		});
	if (!seasons && !column && !serials) return found;
	if (distinct.length > 1 && !seasons && column?.frequency === 'step') {
		const gaps = gapsOf(column.ordinals);
		const steady = runs || gaps === 0;
		found.push({
			kind: 'numbers',
			cost: (said ? TELLS.saidNumbers : steady ? TELLS.steadyNumbers : TELLS.anyNumbers) + gaps,
			gaps,
		});
	}
	return found;
}

function ofWords(distinct: readonly string[], heading: string, named: boolean): Telling[] {
	const column = readPeriods(distinct);
	const extra = named ? TELLS.named : 0;
	if (column?.frequency === 'step')
		return [{ kind: 'numbers', cost: TELLS.numbersInWords + extra, gaps: gapsOf(column.ordinals) }];
	if (column?.yearless) return [{ kind: 'seasons', cost: extra, gaps: 0 }];
	if (column) {
		// Dates of orders come when they come.
		const gaps = (column.days ? TELLS.gapsOfDays : 1) * gapsOf(column.ordinals);
		const bare = column.frequency === 'year' && !column.dateOrder && column.possible.length === 2;
		return [{ kind: bare ? 'years' : 'full', cost: extra + Math.min(1, gaps), gaps }];
	}
	const seasons = readSeasons(distinct, heading);
	if (seasons) {
		const kind =
			seasons.frequency === 'hour'
				? 'hours'
				: seasons.frequency === 'day' || seasons.frequency === 'weekday'
					? 'weekdays'
					: 'seasons';
		return [{ kind, cost: extra + (seasons.words ? TELLS.seasonsInWords : 0), gaps: 0 }];
	}
	const odd = distinct.filter((label) => !isPeriodWord(label)).length;
	// Mostly periods: it tells time, and what is odd in it will be named.
	return odd < distinct.length / 2
		? [{ kind: 'full', cost: TELLS.broken + extra + odd / distinct.length, gaps: 0, broken: true }]
		: [];
}

/** What a side that tells one thing is beside another that tells something else. */
export function isCycleOf(cycle: TimeKind, season: TimeKind): boolean {
	switch (season) {
		case 'seasons':
		case 'numbers':
			return cycle === 'years' || cycle === 'counted';
		case 'weekdays':
			return cycle === 'full' || cycle === 'counted' || cycle === 'seasons';
		case 'hours':
			return cycle === 'full' || cycle === 'counted';
		default:
			return false;
	}
}

const sortedNumbers = (labels: readonly string[]) =>
	labels
		.map(Number)
		.sort((a, b) => a - b)
		.map(String);

/** Whether whole numbers run 1, 2, 3 … (or … 3, 2, 1); repeated ones and blanks between them are left out. */
export function runsOn(cells: readonly string[]): boolean {
	let before: number | null = null;
	let step = 0;
	for (const cell of cells) {
		if (cell === '') continue;
		if (!/^\d{1,9}$/.test(cell)) return false;
		const value = Number(cell);
		if (before !== null && value !== before) {
			const taken = value - before;
			if (Math.abs(taken) !== 1 || (step !== 0 && taken !== step)) return false;
			step = taken;
		}
		before = value;
	}
	return before !== null;
}

/** Whether numbers count up by one and fall back to where they began, as months do beside a column of years. */
export function startsOver(cells: readonly string[]): boolean {
	const numbers: number[] = [];
	for (const cell of cells) {
		if (cell === '') continue;
		if (!/^\d{1,9}$/.test(cell)) return false;
		const value = Number(cell);
		if (value !== numbers.at(-1)) numbers.push(value);
	}
	const least = numbers.reduce((a, b) => Math.min(a, b), Infinity);
	let falls = 0;
	const steady = numbers.every((value, i) => {
		if (i === 0 || value === numbers[i - 1]! + 1) return true;
		falls++;
		return value === least;
	});
	return steady && falls > 0;
}
