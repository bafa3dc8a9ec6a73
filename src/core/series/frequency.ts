import { figure } from '../numbers/figure';

/** How often an item's demand is counted. `weekday` has no Saturdays and Sundays; `step` is a plain number. */
export const FREQUENCIES = [
	'hour',
	'day',
	'weekday',
	'week',
	'month',
	'quarter',
	'half-year',
	'year',
	'step',
] as const;

export type Frequency = (typeof FREQUENCIES)[number];

/** Periods in the cycle that the calendar gives each frequency; 1 where there is none. */
export const CALENDAR_SEASON_LENGTH: Readonly<Record<Frequency, number>> = {
	hour: 24,
	day: 7,
	weekday: 5,
	week: 52,
	month: 12,
	quarter: 4,
	'half-year': 2,
	year: 1,
	step: 1,
};

/** Whether totals of this frequency depend on the length of the period. */
export const hasUnevenPeriods = (frequency: Frequency): boolean =>
	frequency === 'month' || frequency === 'quarter' || frequency === 'half-year' || frequency === 'year';

/** Periods ahead that are forecast until somebody asks for another number: about what one plans by. */
export const USUAL_HORIZON: Readonly<Record<Frequency, number>> = {
	hour: 24,
	day: 14,
	weekday: 10,
	week: 13,
	month: 12,
	quarter: 4,
	'half-year': 4,
	year: 3,
	step: 12,
};

/** So many periods in a sentence: “1 month”, “2 997 days”. */
export const periodsInWords = (frequency: Frequency, count: number): string =>
	`${figure(count, 0)} ${periodWord(frequency, count)}`;

/** The word for one period and for several, for sentences: `periodWord('month', 3)` is "months". */
export function periodWord(frequency: Frequency, count: number): string {
	const word = frequency === 'step' ? 'period' : frequency;
	return count === 1 ? word : `${word}s`;
}

/** One period with its article, for what comes in each: “a month”, “an hour”. */
export function aPeriod(frequency: Frequency): string {
	const word = periodWord(frequency, 1);
	return `${word === 'hour' ? 'an' : 'a'} ${word}`;
}
