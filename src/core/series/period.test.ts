import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { FREQUENCIES, type Frequency } from './frequency';
import { calendarSeason, describePeriod, formatPeriod, parsePeriod, PeriodError } from './period';

const after = (frequency: Frequency, period: string | number, steps = 1) =>
	formatPeriod(frequency, parsePeriod(frequency, period) + steps);

describe('the next period', () => {
	test.each<[Frequency, string, number, string]>([
		['year', '1999', 1, '2000'],
		['quarter', '2024-Q4', 1, '2025-Q1'],
		['half-year', '2024-H2', 1, '2025-H1'],
		['month', '2024-12', 1, '2025-01'],
		['month', '2024-01', -1, '2023-12'],
		['week', '2020-W52', 1, '2020-W53'],
		['week', '2020-W53', 1, '2021-W01'],
		['week', '2021-W52', 1, '2022-W01'],
		['week', '2026-W53', 1, '2027-W01'],
		['day', '2024-02-28', 1, '2024-02-29'],
		['day', '2023-02-28', 1, '2023-03-01'],
		['day', '1900-02-28', 1, '1900-03-01'],
		['day', '2024-12-31', 1, '2025-01-01'],
		['day', '2024-01-31', 1, '2024-02-01'],
		['weekday', '2024-03-01', 1, '2024-03-04'],
		['weekday', '2024-12-31', 1, '2025-01-01'],
		['weekday', '2024-03-04', -1, '2024-03-01'],
		['weekday', '1969-12-29', -1, '1969-12-26'],
		['hour', '2024-02-28T23', 1, '2024-02-29T00'],
		['hour', '2024-12-31T23', 1, '2025-01-01T00'],
		['hour', '1969-12-31T23', 1, '1970-01-01T00'],
	])('%s %s %+i is %s', (frequency, from, steps, to) => expect(after(frequency, from, steps)).toBe(to));

	test('a step is a plain number', () => expect(after('step', 7, 5)).toBe(12));
});

test.each<[Frequency, string, RegExp]>([
	['week', '2021-W53', /2021 has no week 53/],
	['week', '2021-W00', /no week/],
	['day', '2023-02-29', /not a date of the calendar.*2022-01-31/],
	['day', '2024-04-31', /not a date/],
	['month', '2024-13', /month outside 01 to 12/],
	['quarter', '2024-Q5', /is not a quarter/],
	['half-year', '2024-H3', /is not a half-year/],
	['weekday', '2024-03-02', /Saturday or Sunday/],
	['hour', '2024-03-02T24', /hour outside/],
	['year', 'last year', /is not a year; a year is written like 2022/],
	['step', '1.5', /is not a period; a period is written like 1/],
	['hour', 'noon', /is not an hour; an hour is written like 2022-01-31T05/],
])('%s refuses %s', (frequency, text, message) => {
	expect(() => parsePeriod(frequency, text)).toThrow(PeriodError);
	expect(() => parsePeriod(frequency, text)).toThrow(message);
});

test('every period reads back from its own spelling, and readers see each only once', () => {
	fc.assert(
		fc.property(fc.constantFrom(...FREQUENCIES), fc.integer({ min: 0, max: 6000 }), (frequency, offset) => {
			const ordinal =
				parsePeriod(frequency, frequency === 'step' ? 1 : after(frequency, first[frequency])) + offset;
			expect(parsePeriod(frequency, formatPeriod(frequency, ordinal))).toBe(ordinal);
			expect(describePeriod(frequency, ordinal)).not.toBe(describePeriod(frequency, ordinal + 1));
		}),
	);
});

const first: Record<Frequency, string> = {
	hour: '2019-12-30T05',
	day: '2019-12-30',
	weekday: '2019-12-30',
	week: '2019-W50',
	month: '2019-11',
	quarter: '2019-Q3',
	'half-year': '2019-H2',
	year: '1850',
	step: '1',
};

test.each<[Frequency, string, number | null]>([
	['month', '2024-01', 1],
	['month', '2023-12', 12],
	['quarter', '2024-Q1', 1],
	['half-year', '2023-H2', 2],
	['day', '2024-03-04', 1],
	['day', '1969-12-28', 7],
	['weekday', '2024-03-08', 5],
	['week', '2020-W53', 52],
	['hour', '2024-03-04T00', 1],
	['year', '2024', null],
])('%s %s is season %s of the calendar', (frequency, period, season) => {
	expect(calendarSeason(frequency, parsePeriod(frequency, period))).toBe(season);
});
