import type { Frequency } from '$core/series/frequency';
import { dayNumber, formatPeriod, type Ordinal, parsePeriod, PeriodError } from '$core/series/period';

/** A column of period cells understood as one frequency. */
export interface PeriodColumn {
	frequency: Frequency;
	/** One a cell. */
	ordinals: Ordinal[];
	/** Frequencies that the same cells could be read at. */
	possible: Frequency[];
}

const SPELT: readonly Frequency[] = ['hour', 'week', 'quarter', 'month'];

/**
 * Reads cells as periods: 2024-03, 2024-Q1, 2024-W05, 2024-03-01, 2024-03-01T05, bare years, plain numbers.
 * Dates are given the frequency that their spacing shows.
 * @returns null where the cells are not all periods of one spelling
 */
export function readPeriods(cells: readonly string[], wanted?: Frequency): PeriodColumn | null {
	if (cells.length === 0) return null;
	for (const frequency of SPELT) {
		const ordinals = ordinalsAt(frequency, cells);
		if (ordinals) return { frequency, ordinals, possible: [frequency] };
	}
	const days = ordinalsAt('day', cells);
	if (days) {
		const found = dateFrequency(days);
		const frequency = wanted && found.possible.includes(wanted) ? wanted : found.possible[0]!;
		return { frequency, ordinals: days.map((day) => dayAt(frequency, day)!), possible: found.possible };
	}
	const numbers = ordinalsAt('step', cells);
	if (!numbers) return null;
	const years = numbers.every((value) => value >= 1800 && value <= 2200);
	const possible: Frequency[] = years ? ['year', 'step'] : ['step'];
	const frequency = wanted && possible.includes(wanted) ? wanted : possible[0]!;
	return { frequency, ordinals: numbers, possible };
}

function ordinalsAt(frequency: Frequency, cells: readonly string[]): Ordinal[] | null {
	const ordinals: Ordinal[] = [];
	for (const cell of cells) {
		try {
			ordinals.push(parsePeriod(frequency, cell.replace(/^(\d{4}-\d\d-\d\d) (\d\d)/, '$1T$2')));
		} catch (error) {
			if (error instanceof PeriodError) return null;
			throw error;
		}
	}
	return ordinals;
}

/** The ordinal of the period of a frequency that holds a day; null for a weekend at `weekday`. */
function dayAt(frequency: Frequency, day: number): Ordinal | null {
	const date = String(formatPeriod('day', day));
	const [year = 0, month = 1] = date.split('-').map(Number);
	switch (frequency) {
		case 'year':
			return year;
		case 'quarter':
			return year * 4 + Math.floor((month - 1) / 3);
		case 'month':
			return year * 12 + month - 1;
		case 'week':
			return Math.floor((day + 3) / 7);
		case 'weekday':
			try {
				return parsePeriod('weekday', date);
			} catch {
				return null;
			}
		default:
			return day;
	}
}

/** Most likely first: the longest period in which no two of the dates fall together. */
function dateFrequency(days: readonly number[]): { possible: Frequency[] } {
	const sorted = [...new Set(days)].sort((a, b) => a - b);
	const gaps = sorted.slice(1).map((day, i) => day - sorted[i]!);
	const alone = (frequency: Frequency) => {
		const ordinals = sorted.map((day) => dayAt(frequency, day));
		return !ordinals.includes(null) && new Set(ordinals).size === sorted.length;
	};
	const sameSpot = (monthsApart: number) =>
		sorted.every((day) => {
			const [, month = 1, date = 1] = String(formatPeriod('day', day)).split('-').map(Number);
			const [firstYear = 0, firstMonth = 1, firstDate = 1] = String(formatPeriod('day', sorted[0]!))
				.split('-')
				.map(Number);
			const atEnd = isMonthEnd(day) && isMonthEnd(sorted[0]!);
			return firstYear > 0 && (month - firstMonth) % monthsApart === 0 && (date === firstDate || atEnd);
		});
	const possible: Frequency[] = [];
	if (gaps.length > 0) {
		if (alone('year') && sameSpot(12)) possible.push('year');
		if (alone('quarter') && sameSpot(3)) possible.push('quarter');
		if (alone('month') && sameSpot(1)) possible.push('month');
		if (alone('week') && gaps.every((gap) => gap % 7 === 0)) possible.push('week');
	}
	// Days of which none is at a weekend were counted on weekdays, if there are enough of them to tell.
	const daily = gaps.some((gap) => gap < 7);
	const working: Frequency[] = daily && alone('weekday') ? ['weekday', 'day'] : ['day'];
	possible.push(...(sorted.at(-1)! - sorted[0]! >= 7 ? working : working.reverse()));
	return { possible };
}

function isMonthEnd(day: number): boolean {
	const [year = 0, month = 1, date = 1] = String(formatPeriod('day', day)).split('-').map(Number);
	return dayNumber(year, month, date + 1) === null;
}
