import { aPeriod, type Frequency, hasUnevenPeriods } from './frequency';

/**
 * A period is kept as an ordinal: an integer that grows by one from each period to the next, so that
 * "three periods later" is `ordinal + 3` at every frequency. What the integer counts:
 * hours and days since 1970-01-01, Monday-to-Friday days since Monday 1969-12-29, ISO weeks since that
 * Monday, months, quarters and half-years since year 0, years, or the plain number of a step.
 * All calendar arithmetic is UTC, so that no clock change adds or drops an hour.
 */
export type Ordinal = number;

/** Thrown when a text is not a period of the frequency asked for; the message says what would be right. */
export class PeriodError extends Error {
	override name = 'PeriodError';
}

const DAY = 86_400_000;
/** 1970-01-01 was a Thursday: the Monday of its ISO week is three days earlier. */
const DAYS_FROM_MONDAY = 3;

/** How the first period of each frequency is written, for forms and refusals. */
export const PERIOD_EXAMPLE: Readonly<Record<Frequency, string>> = {
	hour: '2022-01-31T05',
	day: '2022-01-31',
	weekday: '2022-01-31',
	week: '2022-W05',
	month: '2022-01',
	quarter: '2022-Q1',
	'half-year': '2022-H1',
	year: '2022',
	step: '1',
};

const PATTERN: Readonly<Record<Frequency, RegExp>> = {
	hour: /^(\d{4})-(\d\d)-(\d\d)T(\d\d)(?::00(?::00)?)?$/,
	day: /^(\d{4})-(\d\d)-(\d\d)$/,
	weekday: /^(\d{4})-(\d\d)-(\d\d)$/,
	week: /^(\d{4})-W(\d\d)$/,
	month: /^(\d{4})-(\d\d)$/,
	quarter: /^(\d{4})-Q([1-4])$/,
	'half-year': /^(\d{4})-H([12])$/,
	year: /^(\d{4})$/,
	step: /^(-?\d{1,9})$/,
};

/** Days since 1970-01-01 of a date in the proleptic Gregorian calendar, or null where it does not exist. */
export function dayNumber(year: number, month: number, day: number): number | null {
	const date = new Date(0);
	// setUTCFullYear, unlike Date.UTC, does not move the years 0 to 99 into the twentieth century.
	date.setUTCFullYear(year, month - 1, day);
	const real =
		date.getUTCFullYear() === year && date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
	return real ? date.getTime() / DAY : null;
}

const EARLIEST = dayNumber(0, 1, 1)!;
const LATEST = dayNumber(9999, 12, 31)!;

/** ISO 8601 week of a day: the week belongs to the year that holds its Thursday. */
export function isoWeek(day: number): { year: number; week: number } {
	const thursday = Math.floor((day + DAYS_FROM_MONDAY) / 7) * 7;
	const year = new Date(thursday * DAY).getUTCFullYear();
	const firstThursday = isoWeekMonday(year, 1) + DAYS_FROM_MONDAY;
	return { year, week: (thursday - firstThursday) / 7 + 1 };
}

/** The Monday (days since 1970-01-01) of an ISO week. 4 January is always in week 1. */
function isoWeekMonday(year: number, week: number): number {
	const fourth = dayNumber(year, 1, 4)!;
	const monday = Math.floor((fourth + DAYS_FROM_MONDAY) / 7) * 7 - DAYS_FROM_MONDAY;
	return monday + 7 * (week - 1);
}

/** Monday = 0 … Sunday = 6. */
function dayOfWeek(day: number): number {
	return (((day + DAYS_FROM_MONDAY) % 7) + 7) % 7;
}

/**
 * The ordinal of a period written as in PERIOD_EXAMPLE; a year or a step may also be a number.
 * @throws PeriodError for a text of another shape and for a period that the calendar does not have
 * (2023-02-29, 2021-W53, a Saturday at frequency `weekday`).
 */
export function parsePeriod(frequency: Frequency, written: string | number): Ordinal {
	const text = String(written).trim();
	const parts = PATTERN[frequency].exec(text)?.slice(1).map(Number);
	const refuse = (why: string) =>
		new PeriodError(
			`“${text.slice(0, 40)}” ${why}; ${aPeriod(frequency)} is written like ${PERIOD_EXAMPLE[frequency]}`,
		);
	if (!parts) throw refuse(`is not ${aPeriod(frequency)}`);
	const [first = 0, second = 0, third = 0, fourth = 0] = parts;
	switch (frequency) {
		case 'step':
		case 'year':
			return first;
		case 'quarter':
			return first * 4 + second - 1;
		case 'half-year':
			return first * 2 + second - 1;
		case 'month':
			if (second < 1 || second > 12) throw refuse('has a month outside 01 to 12');
			return first * 12 + second - 1;
		case 'week': {
			const monday = isoWeekMonday(first, second);
			const real = isoWeek(monday);
			if (real.year !== first || real.week !== second)
				throw refuse(`does not exist: ${first} has no week ${second}`);
			return (monday + DAYS_FROM_MONDAY) / 7;
		}
		default: {
			const day = dayNumber(first, second, third);
			if (day === null) throw refuse('is not a date of the calendar');
			if (frequency === 'day') return day;
			if (frequency === 'hour') {
				if (fourth > 23) throw refuse('has an hour outside 00 to 23');
				return day * 24 + fourth;
			}
			const weekday = dayOfWeek(day);
			if (weekday > 4) throw refuse('is a Saturday or Sunday, and weekdays have neither');
			return Math.floor((day + DAYS_FROM_MONDAY) / 7) * 5 + weekday;
		}
	}
}

/** Whether an ordinal is a period that can be written and read: of the years 0 to 9999, or a step of at most nine digits. */
export function isInCalendar(frequency: Frequency, ordinal: Ordinal): boolean {
	if (frequency === 'step') return Math.abs(ordinal) < 1e9;
	const day = firstDay(frequency, ordinal);
	return day !== null && day >= EARLIEST && day <= LATEST;
}

const pad = (value: number, width = 2) => String(value).padStart(width, '0');

/** Day (since 1970-01-01) on which the period begins; null for a step, which has no calendar. */
export function firstDay(frequency: Frequency, ordinal: Ordinal): number | null {
	switch (frequency) {
		case 'step':
			return null;
		case 'year':
			return dayNumber(ordinal, 1, 1);
		case 'quarter':
			return dayNumber(Math.floor(ordinal / 4), (((ordinal % 4) + 4) % 4) * 3 + 1, 1);
		case 'half-year':
			return dayNumber(Math.floor(ordinal / 2), (((ordinal % 2) + 2) % 2) * 6 + 1, 1);
		case 'month':
			return dayNumber(Math.floor(ordinal / 12), (((ordinal % 12) + 12) % 12) + 1, 1);
		case 'week':
			return ordinal * 7 - DAYS_FROM_MONDAY;
		case 'weekday':
			return Math.floor(ordinal / 5) * 7 - DAYS_FROM_MONDAY + (((ordinal % 5) + 5) % 5);
		case 'day':
			return ordinal;
		case 'hour':
			return Math.floor(ordinal / 24);
	}
}

/** The week or month that a day (since 1970-01-01) lies in. */
export function periodOfDay(frequency: 'week' | 'month', day: number): Ordinal {
	if (frequency === 'week') return Math.floor((day + DAYS_FROM_MONDAY) / 7);
	const date = new Date(day * DAY);
	return date.getUTCFullYear() * 12 + date.getUTCMonth();
}

/** Days of a period where its length varies (months to years); 1 elsewhere, where a total is as good as a rate. */
export function daysIn(frequency: Frequency, ordinal: Ordinal): number {
	if (!hasUnevenPeriods(frequency)) return 1;
	return firstDay(frequency, ordinal + 1)! - firstDay(frequency, ordinal)!;
}

interface CalendarParts {
	year: number;
	month: number;
	day: number;
	hour: number;
	isoYear: number;
	week: number;
}

function calendarParts(frequency: Exclude<Frequency, 'step'>, ordinal: Ordinal): CalendarParts {
	const days = firstDay(frequency, ordinal)!;
	const date = new Date(days * DAY);
	const { year: isoYear, week } = isoWeek(days);
	return {
		year: date.getUTCFullYear(),
		month: date.getUTCMonth() + 1,
		day: date.getUTCDate(),
		hour: frequency === 'hour' ? ((ordinal % 24) + 24) % 24 : 0,
		isoYear,
		week,
	};
}

/** The period as data, the same spelling that `parsePeriod` reads; a step stays a number. */
export function formatPeriod(frequency: Frequency, ordinal: Ordinal): string | number {
	if (frequency === 'step') return ordinal;
	const at = calendarParts(frequency, ordinal);
	const year = pad(at.year, 4);
	const date = `${year}-${pad(at.month)}-${pad(at.day)}`;
	switch (frequency) {
		case 'year':
			return year;
		case 'quarter':
			return `${year}-Q${Math.ceil(at.month / 3)}`;
		case 'half-year':
			return `${year}-H${Math.ceil(at.month / 6)}`;
		case 'month':
			return `${year}-${pad(at.month)}`;
		case 'week':
			return `${pad(at.isoYear, 4)}-W${pad(at.week)}`;
		case 'hour':
			return `${date}T${pad(at.hour)}`;
		default:
			return date;
	}
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** The period for a reader: "Mar 2024", "Q1 2024", "H1 2024", "week 5, 2024", "Tue 5 Mar 2024", "5 Mar 2024 14:00". */
export function describePeriod(frequency: Frequency, ordinal: Ordinal): string {
	if (frequency === 'step') return `period ${ordinal}`;
	const at = calendarParts(frequency, ordinal);
	const date = `${at.day} ${MONTHS[at.month - 1]} ${at.year}`;
	switch (frequency) {
		case 'year':
			return String(at.year);
		case 'quarter':
			return `Q${Math.ceil(at.month / 3)} ${at.year}`;
		case 'half-year':
			return `H${Math.ceil(at.month / 6)} ${at.year}`;
		case 'month':
			return `${MONTHS[at.month - 1]} ${at.year}`;
		case 'week':
			return `week ${at.week}, ${at.isoYear}`;
		case 'hour':
			return `${date} ${pad(at.hour)}:00`;
		default:
			return `${WEEKDAYS[dayOfWeek(firstDay(frequency, ordinal)!)]} ${date}`;
	}
}

/** Year that the period is counted to (the ISO year for weeks); null for a step. For axis marks. */
export function yearOf(frequency: Frequency, ordinal: Ordinal): number | null {
	if (frequency === 'step') return null;
	const at = calendarParts(frequency, ordinal);
	return frequency === 'week' ? at.isoYear : at.year;
}

/**
 * Season (1 … P) of a period by the calendar: January, Q1, H1, Monday and hour 0 are season 1, week 53 is counted
 * with week 52. Null where the calendar has no cycle at this frequency.
 */
export function calendarSeason(frequency: Frequency, ordinal: Ordinal): number | null {
	switch (frequency) {
		case 'month':
			return (((ordinal % 12) + 12) % 12) + 1;
		case 'quarter':
			return (((ordinal % 4) + 4) % 4) + 1;
		case 'half-year':
			return (((ordinal % 2) + 2) % 2) + 1;
		case 'week':
			return Math.min(52, isoWeek(firstDay('week', ordinal)!).week);
		case 'weekday':
			return (((ordinal % 5) + 5) % 5) + 1;
		case 'day':
			return dayOfWeek(ordinal) + 1;
		case 'hour':
			return (((ordinal % 24) + 24) % 24) + 1;
		default:
			return null;
	}
}
