import { type Frequency } from '$core/series/frequency';
import { dayNumber, firstDay, formatPeriod, type Ordinal } from '$core/series/period';
import { monthsOf, weekdayOf, WEEKDAYS_OF } from './month-names';
import {
	anyOf,
	COMMON,
	type DateOrder,
	exact,
	fiscal,
	isoTimes,
	NUMBERED,
	type Reader,
	serials,
	spellingsOf,
	steps,
	years,
} from './spellings';
import { isBareYear, isUnitLabel, plain, quantitySays, seasonWordOf } from './words';

/** What is decided about periods from the outside. */
export interface PeriodChoices {
	frequency?: Frequency | undefined;
	dateOrder?: DateOrder | undefined;
}

/** Period cells understood as one frequency. */
export interface PeriodColumn {
	frequency: Frequency;
	/** One a cell; without a year, the season (1 …) within it. */
	ordinals: Ordinal[];
	/** Frequencies that the same cells can be read at, the most likely first. */
	possible: Frequency[];
	/** How many of `possible` keep every two different cells apart. */
	apart: number;
	/** How the cells are spelt, for a reader. */
	spelling: string;
	/** Days since 1970 of dates, unless they are of every hour. */
	days?: number[];
	/** Set where the dates could be read in the other order too. */
	dateOrder?: { used: DateOrder; open: boolean };
	/** Set where the cells carry no year: how many seasons one has. */
	yearless?: number;
	/** Set for years that begin in one calendar year and end in the next. */
	business?: true;
}

function readAll(cells: readonly string[], read: Reader): Ordinal[] | null {
	const known = new Map<string, Ordinal>();
	const ordinals: Ordinal[] = [];
	for (const cell of cells) {
		let ordinal = known.get(cell);
		if (ordinal === undefined) {
			const read1 = read(cell.trim());
			if (read1 === null) return null;
			known.set(cell, (ordinal = read1));
		}
		ordinals.push(ordinal);
	}
	return ordinals;
}

/**
 * Reads cells as periods, all in one spelling: dates and times in any order, weeks, quarters, months, years, and
 * these without their year, serial dates and plain numbers. Dates are given the frequency that their spacing shows.
 * @returns null where the cells are not all periods of one spelling
 */
export function readPeriods(cells: readonly string[], choices: PeriodChoices = {}): PeriodColumn | null {
	const distinct = [...new Set(cells)];
	if (distinct.length === cells.length) return readDistinct(cells, choices);
	// Most tables have the same labels in row after row.
	const column = readDistinct(distinct, choices);
	if (!column) return null;
	const places = new Map(distinct.map((cell, i) => [cell, column.ordinals[i]!]));
	const { days } = column;
	const dayOf = days && new Map(distinct.map((cell, i) => [cell, days[i]!]));
	return {
		...column,
		ordinals: cells.map((cell) => places.get(cell)!),
		...(dayOf && { days: cells.map((cell) => dayOf.get(cell)!) }),
	};
}

function readDistinct(cells: readonly string[], choices: PeriodChoices): PeriodColumn | null {
	if (cells.length === 0) return null;
	const dated = readDates(cells, choices);
	if (dated) return dated;
	const business = cells.length > 1 ? readAll(cells, fiscal) : null;
	if (business)
		return {
			...at('year', business, ['year', 'step'], choices, 'business years, by the year they begin in'),
			business: true,
		};
	for (const { dated } of spellingsOf(cells)) {
		const wanted = dated.filter(({ frequency }) => frequency === choices.frequency);
		for (const { frequency, name, read, fits } of [...wanted, ...dated]) {
			const ordinals = readAll(cells, read);
			if (ordinals && (fits?.(ordinals) ?? true)) return at(frequency, ordinals, [frequency], choices, name);
		}
	}
	const asYears = readAll(cells, years);
	if (asYears) return at('year', asYears, ['year', 'step'], choices, 'years');
	for (const { yearless } of spellingsOf(cells)) {
		for (const { frequency, name, read, length, fits } of yearless) {
			const seasons = readAll(cells, read);
			if (!seasons || !(fits?.(seasons) ?? true)) continue;
			const possible: Frequency[] = [frequency, 'step'];
			const wanted =
				choices.frequency && possible.includes(choices.frequency) ? choices.frequency : frequency;
			return { frequency: wanted, ordinals: seasons, possible, apart: 2, spelling: name, yearless: length };
		}
	}
	const numbers = readAll(cells, steps);
	if (numbers) return at('step', numbers, ['step'], choices, 'plain numbers');
	const bare = cells.map((cell) => partQuantity(cell).period);
	const column = bare.some((cell, i) => cell !== cells[i]) ? readDistinct(bare, choices) : null;
	// “Part 1” and “Part 2” are no periods.
	return column?.frequency === 'step' ? null : column;
}

/** Characters beyond which a heading is not looked through. */
const LONGEST = 60;
/** The quantity and the period of a heading that has both, “Qty 2024” or “Jan 2024 actual”; no quantity where it has not. */
export function partQuantity(cell: string): { quantity: string; period: string } {
	if (cell.length > LONGEST || !/\S[\s_]\S/.test(cell)) return { quantity: '', period: cell };
	const words = cell.trim().split(/[\s_]+/);
	for (let count = 1; count < Math.min(4, words.length); count++) {
		for (const [quantity, period] of [
			[words.slice(0, count), words.slice(count)],
			[words.slice(-count), words.slice(0, -count)],
		] as const)
			if (/\d|^\p{L}{3,}$/u.test(period.join('')) && quantitySays(quantity.join(' ')) !== null)
				return { quantity: quantity.join(' '), period: period.join(' ') };
	}
	return { quantity: '', period: cell };
}

function at(
	frequency: Frequency,
	ordinals: Ordinal[],
	possible: Frequency[],
	choices: PeriodChoices,
	spelling: string,
): PeriodColumn {
	const wanted = choices.frequency && possible.includes(choices.frequency) ? choices.frequency : frequency;
	return { frequency: wanted, ordinals, possible, apart: possible.length, spelling };
}

/** A date without the weekday before or behind it, and without the words that say which day of a week it is. */
function bareDate(cell: string): string {
	const text = cell.trim();
	const before = /^\p{L}+\.?,?\s+(?=\S)/u.exec(text)?.[0] ?? '';
	if (before && weekdayOf(before.replace(/[.,\s]/g, ''))) return text.slice(before.length);
	const behind = /[\s,]+\(?(\p{L}+)\.?\)?$/u.exec(text);
	return behind && weekdayOf(behind[1]!) ? text.slice(0, behind.index) : text;
}

const OF_WEEK =
	/^(?:w\/e|w\/b|w\/c|week(?: ending| beginning| starting| commencing| of)?|woche (?:vom|ab|bis|zum)|wochenende|semaine (?:du|au)|semana (?:del?|al))[:\s]+/iu;

/** Dates of one day in each week, said to be so, or the first of two: “week ending 8 Mar 2024”, “04.03.–10.03.2024”. */
function weekDate(cell: string): string | null {
	const text = cell.trim();
	const said = OF_WEEK.exec(text)?.[0];
	if (said) return text.slice(said.length).trim();
	const span =
		/^(\d{1,2}[./]\d{1,2}[./]?(?:\d{4}|\d{2})?)\s*(?:[–-]|to|bis|au|al)\s*(\d{1,2}[./]\d{1,2}[./](?:\d{4}|\d{2}))$/iu.exec(
			text,
		);
	// The last day has its year for sure.
	return span ? span[2]! : null;
}

function readDates(written: readonly string[], choices: PeriodChoices): PeriodColumn | null {
	const column = readBareDates(written, choices);
	if (column) return column;
	const weeks = written.map(weekDate);
	if (weeks.every((cell) => cell !== null)) {
		const said = readBareDates(weeks, { ...choices, frequency: 'week' });
		return (
			said && { ...said, possible: ['week', ...said.possible.filter((each) => each !== 'week')], apart: 1 }
		);
	}
	const bare = written.map(bareDate);
	return bare.some((cell, i) => cell !== written[i]!.trim()) ? readBareDates(bare, choices) : null;
}

function readBareDates(cells: readonly string[], choices: PeriodChoices): PeriodColumn | null {
	const iso = readAll(cells, isoTimes);
	if (iso) return fromHours(iso, choices, 'dates, year first');
	for (const { namedDates } of spellingsOf(cells)) {
		const named = readAll(cells, namedDates);
		if (named) return fromHours(named, choices, 'dates with month names');
	}
	const dayFirst = readAll(cells, NUMBERED['day-first']);
	const monthFirst = readAll(cells, NUMBERED['month-first']);
	if (dayFirst && monthFirst) {
		const used = choices.dateOrder ?? likelierOrder(cells, dayFirst, monthFirst);
		const same = dayFirst.every((hour, i) => hour === monthFirst[i]);
		const column = fromHours(used === 'day-first' ? dayFirst : monthFirst, choices, spelt(used));
		return { ...column, dateOrder: { used, open: !same } };
	}
	if (dayFirst)
		return {
			...fromHours(dayFirst, choices, spelt('day-first')),
			dateOrder: { used: 'day-first', open: false },
		};
	if (monthFirst) {
		return {
			...fromHours(monthFirst, choices, spelt('month-first')),
			dateOrder: { used: 'month-first', open: false },
		};
	}
	return null;
}

const spelt = (order: DateOrder) => (order === 'day-first' ? 'dates, day first' : 'dates, month first');

/** With full stops the day stands first; else the order under which the dates are spaced the more evenly. */
function likelierOrder(
	cells: readonly string[],
	dayFirst: readonly number[],
	monthFirst: readonly number[],
): DateOrder {
	if (cells[0]!.includes('.')) return 'day-first';
	return unevenness(monthFirst) < unevenness(dayFirst) ? 'month-first' : 'day-first';
}

function unevenness(hours: readonly number[]): number {
	const sorted = [...new Set(hours)].sort((a, b) => a - b);
	const gaps = sorted.slice(1).map((hour, i) => hour - sorted[i]!);
	if (gaps.length === 0) return 0;
	const least = gaps.reduce((a, b) => Math.min(a, b));
	const most = gaps.reduce((a, b) => Math.max(a, b));
	// A month is 28 to 31 days: spacings within that are as even as dates can be.
	return most / least <= 31 / 28 ? 1 : most / least;
}

/** Dates as hours: at frequency hour where any of them has a time, else as days at the frequency of their spacing. */
function fromHours(hours: Ordinal[], choices: PeriodChoices, spelling: string): PeriodColumn {
	const withTimes = hours.some((hour) => hour % 24 !== 0);
	const days = hours.map((hour) => Math.floor(hour / 24));
	const { possible, apart, stride } = dateFrequency(days);
	const comeAnytime = withTimes && comeAndGo(hours);
	if (comeAnytime) possible.push('hour');
	else if (withTimes) possible.unshift('hour');
	const frequency =
		choices.frequency && possible.includes(choices.frequency) ? choices.frequency : possible[0]!;
	const origin = days.reduce((least, each) => Math.min(least, each), Infinity);
	const ordinals =
		frequency === 'hour'
			? hours
			: days.map((each) =>
					frequency === 'step' ? (each - origin) / stride + 1 : periodOfDay(frequency, each),
				);
	return {
		frequency,
		ordinals,
		possible,
		apart: withTimes && !comeAnytime ? 1 : apart,
		...(withTimes && !comeAnytime ? {} : { days }),
		spelling: withTimes ? `${spelling}, with times` : spelling,
	};
}

/** Whether times come when they come, as those of orders do, rather than every hour or at the same hours of each day. */
function comeAndGo(times: readonly number[]): boolean {
	const sorted = [...new Set(times)].sort((a, b) => a - b);
	if (sorted.length < 5 || sorted.length > 0.3 * (sorted.at(-1)! - sorted[0]! + 1)) return false;
	return new Set(sorted.slice(1).map((time, i) => time - sorted[i]!)).size > 3;
}

/** The period of a frequency that holds a day (since 1970-01-01); at `weekday`, weekends go to the Friday. */
export function periodOfDay(frequency: Frequency, days: number): Ordinal {
	switch (frequency) {
		case 'hour':
			return days * 24;
		case 'week':
			return Math.floor((days + 3) / 7);
		case 'weekday':
			return Math.floor((days + 3) / 7) * 5 + Math.min(4, weekdayIndex(days));
		case 'day':
		case 'step':
			return days;
		default: {
			const [year = 0, which = 1] = String(formatPeriod('day', days)).split('-').map(Number);
			if (frequency === 'year') return year;
			if (frequency === 'half-year') return year * 2 + Math.floor((which - 1) / 6);
			return frequency === 'quarter' ? year * 4 + Math.floor((which - 1) / 3) : year * 12 + which - 1;
		}
	}
}

/** Monday = 0 … Sunday = 6. */
const weekdayIndex = (days: number) => (((days + 3) % 7) + 7) % 7;

/** Most likely first: the longest period in which no two of the dates fall together; then those that add up. */
function dateFrequency(days: readonly number[]): { possible: Frequency[]; apart: number; stride: number } {
	const sorted = [...new Set(days)].sort((a, b) => a - b);
	const gaps = sorted.slice(1).map((each, i) => each - sorted[i]!);
	const alone = (frequency: Frequency) =>
		new Set(sorted.map((each) => periodOfDay(frequency, each))).size === sorted.length;
	const likely: Frequency[] = [];
	const stride = gaps[0] ?? 1;
	if (gaps.length > 0) {
		if (alone('year') && sameSpot(sorted, 12)) likely.push('year');
		if (alone('half-year') && sameSpot(sorted, 6)) likely.push('half-year');
		if (alone('quarter') && sameSpot(sorted, 3)) likely.push('quarter');
		if (alone('month') && sameSpot(sorted, 1)) likely.push('month');
		const even = gaps.every((gap) => gap === stride);
		// Every second or fourth week, evenly: periods of their own rather than weeks with holes.
		if (gaps.length > 1 && even && stride % 7 === 0 && stride > 7 && likely.length === 0) likely.push('step');
		if (alone('week') && gaps.every((gap) => gap % 7 === 0)) likely.push('week');
	}
	// Days of which none is at a weekend were counted on weekdays, if there are enough of them to tell.
	const daily = gaps.some((gap) => gap < 7);
	const noWeekend = sorted.every((each) => weekdayIndex(each) < 5);
	const working: Frequency[] = daily && noWeekend ? ['weekday', 'day'] : ['day'];
	likely.push(...(sorted.at(-1)! - sorted[0]! >= 7 ? working : working.reverse()));
	const coarser = (['week', 'month', 'quarter', 'half-year', 'year'] as const).filter(
		(each) => !likely.includes(each),
	);
	return { possible: [...likely, ...coarser], apart: likely.length, stride };
}

/** Whether all dates stand on the same day of their month, or all at its end, a number of months apart. */
function sameSpot(sorted: readonly number[], monthsApart: number): boolean {
	const parts = sorted.map((each) => String(formatPeriod('day', each)).split('-').map(Number));
	const [, firstMonth = 1, firstDate = 1] = parts[0]!;
	const ends = parts.every(([year = 0, which = 1, date = 1]) => dayNumber(year, which, date + 1) === null);
	return parts.every(
		([, which = 1, date = 1]) => (which - firstMonth) % monthsApart === 0 && (ends || date === firstDate),
	);
}

/**
 * Serial dates of a spreadsheet: whole numbers, at least two, evenly spaced as dates are.
 * @param said whether it is said that these are dates: they may come when they come then
 */
export function readSerials(
	cells: readonly string[],
	choices: PeriodChoices = {},
	said = false,
): PeriodColumn | null {
	const days = cells.length > 1 ? readAll(cells, serials) : null;
	if (!days || (!said && unevenness(days) > 7)) return null;
	return fromHours(
		days.map((each) => each * 24),
		choices,
		'serial dates of a spreadsheet',
	);
}

/** Whether a cell counts cycles that are no calendar's: Year 1, cycle 2. */
export const isCountedCycle = (cell: string): boolean =>
	/^(?:year|jahr|ann[ée]e|an|año|ano|cycle|zyklus)\s*\d{1,3}$/i.test(cell.trim());

const isDate = (text: string): boolean =>
	isoTimes(text) !== null ||
	NUMBERED['day-first'](text) !== null ||
	NUMBERED['month-first'](text) !== null ||
	COMMON.namedDates(text) !== null;

/** A month of any language behind its year, as no figure has its unit: “2024 set.”, “22-lut”. */
const isNamed = (text: string): boolean => {
	const name = /^(?:(?:19|20)\d\d[\s.-]+|\d\d-)(\p{L}{2,})\.?$/u.exec(text)?.[1];
	return name !== undefined && monthsOf([name]).length > 0;
};

/** Whether a cell is a period that no figure is written like: 2024-03, Q2/24, Mar, 31.01.2024, Week 7. */
export function isPeriodWord(cell: string): boolean {
	if (isBarePeriod(cell)) return true;
	const { quantity, period } = partQuantity(cell);
	if (quantity === '') return false;
	// 2009 pcs is a figure with its unit.
	const year = isBareYear(period) && !(isUnitLabel(quantity) && cell.trim().startsWith(period));
	return year || isBarePeriod(period);
}

function isBarePeriod(cell: string): boolean {
	const text = cell.trim();
	if (text.length < 2 || text.length > 40 || /^[\d.,\s]*$/.test(text)) {
		return /^\d{1,2}\.\d{1,2}\.\d{2,4}$/.test(text);
	}
	return (
		isDate(text) ||
		isDate(bareDate(text)) ||
		isDate(weekDate(text) ?? '') ||
		COMMON.dated.some(({ read, fits }) => !fits && read(text) !== null) ||
		isCountedCycle(text) ||
		isNamed(text) ||
		(/[a-z/–-]/i.test(text) && (years(text) !== null || fiscal(text) !== null)) ||
		COMMON.yearless.some(({ read, fits }) => !fits && read(text) !== null) ||
		(weekdayOf(text) !== undefined && text.length > 1) ||
		(/[a-z#]/i.test(text) && steps(text) !== null)
	);
}

/** Labels of a cycle's seasons: what they count, and the number of each. */
export interface SeasonColumn {
	/** What a cycle of years (of weeks for `weekday`, of days for `hour`) is divided into. */
	frequency: 'month' | 'quarter' | 'half-year' | 'week' | 'day' | 'weekday' | 'hour' | 'step';
	length: number;
	/** 1-based, one a label. */
	seasons: number[];
	/** Other lengths that plain numbers could stand for. */
	open: boolean;
	/** Winter, spring … rather than the calendar's quarters. */
	words?: boolean;
}

/** Reads labels as the seasons of a cycle: month names, Q1 …, Week 7, Mon …, or plain numbers from 1. */
export function readSeasons(labels: readonly string[], heading = ''): SeasonColumn | null {
	for (const { yearless } of spellingsOf(labels))
		for (const { frequency, read, length, fits } of yearless) {
			const seasons = readAll(labels, read);
			if (seasons && (fits?.(seasons) ?? true))
				return { frequency: frequency as 'month', length, seasons, open: false };
		}
	// A word of two letters is a weekday in some language: one alone is none.
	for (const of of new Set(labels).size > 1 ? [weekdayOf, ...WEEKDAYS_OF] : [weekdayOf]) {
		const days = readAll(labels, (cell) => of(cell) ?? null);
		if (!days) continue;
		const working = days.every((each) => each <= 5);
		return { frequency: working ? 'weekday' : 'day', length: working ? 5 : 7, seasons: days, open: false };
	}
	const inWords = readAll(labels, (cell) => seasonWordOf(cell) ?? null);
	if (inWords && new Set(inWords).size > 1)
		return { frequency: 'quarter', length: 4, seasons: inWords, open: false, words: true };
	const hours = readAll(
		labels,
		anyOf([/^(\d{1,2}):00$/, (hour) => (Number(hour) < 24 ? Number(hour) + 1 : null)]),
	);
	if (hours) return { frequency: 'hour', length: 24, seasons: hours, open: false };
	const numbers = readAll(
		labels,
		anyOf(
			[/^[MPSQ]?(\d{1,3})(?:er|e|st|nd|rd|th|º|ª|\.)?$/i, Number],
			[/^(?:period|periode|month|season)\s*(\d{1,3})$/i, Number],
		),
	);
	if (!numbers || numbers.some((each) => each < 0)) return null;
	return numberedSeasons(labels, numbers, heading);
}

function numberedSeasons(labels: readonly string[], numbers: number[], heading: string): SeasonColumn | null {
	const most = numbers.reduce((a, b) => Math.max(a, b), 0);
	const least = numbers.reduce((a, b) => Math.min(a, b), Infinity);
	if (least === 0 && most === 23)
		return { frequency: 'hour', length: 24, seasons: numbers.map((each) => each + 1), open: false };
	if (least < 1 || most > 53) return null;
	const said = plain(heading);
	if (/^(month|monat|mois|mes)/.test(said) && most <= 12)
		return { frequency: 'month', length: 12, seasons: numbers, open: false };
	if (/^(quarter|qtr|quartal|trimestre)/.test(said) && most <= 4)
		return { frequency: 'quarter', length: 4, seasons: numbers, open: false };
	if (/^(half|halbjahr|semestre)/.test(said) && most <= 2)
		return { frequency: 'half-year', length: 2, seasons: numbers, open: false };
	if (/^(week|woche|kw|semaine|semana)/.test(said))
		return { frequency: 'week', length: 52, seasons: numbers, open: false };
	if (most === 4 && !labels.some((label) => /^[MP]/i.test(label)))
		return { frequency: 'quarter', length: 4, seasons: numbers, open: true };
	if (most <= 12 && most > 4 && most !== 7 && most !== 5)
		return { frequency: 'month', length: 12, seasons: numbers, open: most < 12 };
	if (most >= 52) return { frequency: 'week', length: 52, seasons: numbers, open: false };
	return most >= 2 ? { frequency: 'step', length: most, seasons: numbers, open: true } : null;
}

/** The years (or days, or weeks) that label cycles; null where they name none. */
export function readCycles(
	labels: readonly string[],
	of: SeasonColumn['frequency'],
): { ordinals: Ordinal[]; calendar: boolean; business: boolean } | null {
	const column = readPeriods(labels);
	if (!column || column.yearless) {
		const counted = readAll(labels, anyOf([/(\d{1,4})$/, (count) => Number(count)]));
		return counted && { ordinals: counted, calendar: false, business: false };
	}
	if (of === 'hour') {
		const days = column.possible.includes('day') ? readPeriods(labels, { frequency: 'day' }) : null;
		return days?.frequency === 'day' ? { ordinals: days.ordinals, calendar: true, business: false } : null;
	}
	if (of === 'day' || of === 'weekday') {
		const weeks = column.possible.includes('week') ? readPeriods(labels, { frequency: 'week' }) : null;
		return weeks?.frequency === 'week'
			? { ordinals: weeks.ordinals, calendar: true, business: false }
			: { ordinals: column.ordinals, calendar: false, business: false };
	}
	return {
		ordinals: column.ordinals,
		calendar: column.frequency === 'year',
		business: column.business === true || labels.every((label) => /^FY/i.test(label)),
	};
}

/** The ordinal of a season within a calendar cycle; null where the calendar has none (week 53 of a short year). */
export function seasonInCycle(of: SeasonColumn['frequency'], cycle: Ordinal, season: number): Ordinal | null {
	switch (of) {
		case 'month':
			return cycle * 12 + season - 1;
		case 'quarter':
			return cycle * 4 + season - 1;
		case 'half-year':
			return cycle * 2 + season - 1;
		case 'week':
			return exact('week', `${String(cycle).padStart(4, '0')}-W${String(season).padStart(2, '0')}`);
		case 'day':
			return firstDay('week', cycle)! + season - 1;
		case 'weekday':
			return cycle * 5 + season - 1;
		case 'hour':
			return cycle * 24 + season - 1;
		default:
			return null;
	}
}
