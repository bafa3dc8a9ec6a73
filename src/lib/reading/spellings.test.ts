import { describe, expect, test } from 'vitest';
import { formatPeriod } from '$core/series/period';
import { isPeriodWord, readCycles, readPeriods, readSeasons, readSerials, seasonInCycle } from './periods';
import { findTotals } from './totals';
import { headingSays, isTotalLabel, isUnitLabel } from './words';

describe('a period in every spelling there is', () => {
	test.each<[string, string, string | number]>([
		['2024-03-05', 'day', '2024-03-05'],
		['2024/3/5', 'day', '2024-03-05'],
		['20240305', 'day', '2024-03-05'],
		['5.3.2024', 'day', '2024-03-05'],
		['31/03/24', 'day', '2024-03-31'],
		['03/31/2024', 'day', '2024-03-31'],
		['5 Mar 2024', 'day', '2024-03-05'],
		['Tue 5 Mar 2024', 'day', '2024-03-05'],
		['March 5, 2024', 'day', '2024-03-05'],
		['5. März 2024', 'day', '2024-03-05'],
		['5 de marzo de 2024', 'day', '2024-03-05'],
		['1er', '', ''],
		['2024-03-05T14:30:00Z', 'hour', '2024-03-05T14'],
		['2024-03-05 14:00', 'hour', '2024-03-05T14'],
		['05.03.2024 07:15', 'hour', '2024-03-05T07'],
		['2024-W05', 'week', '2024-W05'],
		['Week 5 2024', 'week', '2024-W05'],
		['KW 5/2024', 'week', '2024-W05'],
		['W05-24', 'week', '2024-W05'],
		['2024-03', 'month', '2024-03'],
		['2024/3', 'month', '2024-03'],
		['202403', 'month', '2024-03'],
		['2024M03', 'month', '2024-03'],
		['03/2024', 'month', '2024-03'],
		['3/24', 'month', '2024-03'],
		['March-24', 'month', '2024-03'],
		["Mar '24", 'month', '2024-03'],
		['févr. 2024', 'month', '2024-02'],
		['Dez 24', 'month', '2024-12'],
		['enero de 2024', 'month', '2024-01'],
		['2024 août', 'month', '2024-08'],
		['2024 Q2', 'quarter', '2024-Q2'],
		['Q2/24', 'quarter', '2024-Q2'],
		['2Q24', 'quarter', '2024-Q2'],
		['2. Quartal 2024', 'quarter', '2024-Q2'],
		['T2 2024', 'quarter', '2024-Q2'],
		['Q3 FY24', 'quarter', '2024-Q3'],
		['FY2024', 'year', '2024'],
		['FY24', 'year', '2024'],
		['2024', 'year', '2024'],
		['Period 7', 'step', 7],
		['-3', 'step', -3],
		['2024-13', '', ''],
		['30.02.2024', '', ''],
		['2024-Q5', '', ''],
		['Week 54 2024', '', ''],
		['someday', '', ''],
	])('%s', (cell, frequency, period) => {
		const column = readPeriods([cell]);
		expect(column?.frequency ?? '').toBe(frequency);
		if (column) expect(formatPeriod(column.frequency, column.ordinals[0]!)).toBe(period);
	});

	test('business years by the year they begin in; one alone could be a month', () => {
		expect(readPeriods(['2023/24', '2024/25'])).toMatchObject({ frequency: 'year', ordinals: [2023, 2024] });
		expect(readPeriods(['2011-12', '2012-13'])).toMatchObject({ frequency: 'year', ordinals: [2011, 2012] });
		expect(readPeriods(['2011-12'])).toMatchObject({ frequency: 'month' });
	});

	test('the day stands first where one of the dates shows it, or full stops do', () => {
		const order = (...cells: string[]) => readPeriods(cells)?.dateOrder;
		expect(order('01/02/2024', '13/02/2024')).toEqual({ used: 'day-first', open: false });
		expect(order('01/02/2024', '01/13/2024')).toEqual({ used: 'month-first', open: false });
		expect(order('01.02.2024', '02.02.2024')).toEqual({ used: 'day-first', open: true });
		expect(order('01/02/2024', '01/03/2024', '01/04/2024')!.open).toBe(true);
		expect(readPeriods(['31/01/2024', '01/31/2024'])).toBeNull();
	});

	test('serial dates are dates only where they are spaced like dates', () => {
		expect(readSerials(['45292', '45323', '45352'])).toMatchObject({
			frequency: 'month',
			ordinals: [24_288, 24_289, 24_290],
		});
		expect(readSerials(['45292', '45293', '61000'])).toBeNull();
		expect(readSerials(['412', '398'])).toBeNull();
	});

	test('every fourth week, evenly, counts as periods of their own', () => {
		expect(readPeriods(['2024-01-01', '2024-01-29', '2024-02-26', '2024-03-25'])).toMatchObject({
			frequency: 'step',
			ordinals: [1, 2, 3, 4],
		});
	});
});

test('figures and codes are no periods', () => {
	for (const cell of ['412', '1.204', '4,5', '70-214', 'M6 bolt', 'a', '', '12%', 'Chain 9'])
		expect([cell, isPeriodWord(cell)]).toEqual([cell, false]);
	for (const cell of ['Mar', 'Q2', 'Week 7', 'KW 7', 'FY24', 'Year 1', 'mardi', '01.02.2024'])
		expect([cell, isPeriodWord(cell)]).toEqual([cell, true]);
});

test('seasons and cycles: what the labels count', () => {
	expect(readSeasons(['Lun', 'Mar', 'Mer', 'Jeu', 'Ven'])).toMatchObject({
		frequency: 'weekday',
		length: 5,
		seasons: [1, 2, 3, 4, 5],
	});
	expect(readSeasons(['Sa', 'So'])).toMatchObject({ frequency: 'day', length: 7, seasons: [6, 7] });
	expect(readSeasons(['1', '2', '3', '4'])).toMatchObject({ frequency: 'quarter', open: true });
	expect(readSeasons(['1', '2'], 'Month')).toMatchObject({ frequency: 'month', length: 12 });
	expect(readSeasons(['P1', 'P13'])).toMatchObject({ frequency: 'step', length: 13 });
	expect(readSeasons(['08:00', '09:00'])).toMatchObject({ frequency: 'hour', seasons: [9, 10] });
	expect(readSeasons(['Mar', 'Chain'])).toBeNull();
	expect(readCycles(['Year 1', 'Year 2'], 'quarter')).toEqual({
		ordinals: [1, 2],
		calendar: false,
		business: false,
	});
	expect(readCycles(['FY2023'], 'month')).toEqual({ ordinals: [2023], calendar: true, business: true });
	expect(formatPeriod('week', seasonInCycle('week', 2020, 53)!)).toBe('2020-W53');
	expect(seasonInCycle('week', 2021, 53)).toBeNull();
});

test('words that head columns, units, totals', () => {
	expect(
		[
			'Year',
			'Month',
			'Datum',
			'Article no',
			'Part A',
			'Bezeichnung',
			'Unit',
			'Units sold',
			'Qty',
			'Chain',
		].map(headingSays),
	).toEqual(['cycle', 'season', 'period', 'item', null, 'name', 'unit', 'figure', 'figure', null]);
	expect(
		[
			'Total',
			'Gesamt',
			'Somme',
			'Grand total',
			'Ø',
			'Mean',
			'Average per month',
			'Totally other',
			'Summer tyre',
			'Mediator',
		].map(isTotalLabel),
	).toEqual([true, true, true, true, true, true, true, false, false, false]);
	expect(['pcs', '(kg)', 'in boxes', '€', 'Chain', 'pieces of art'].map(isUnitLabel)).toEqual([
		true,
		true,
		true,
		true,
		false,
		false,
	]);
});

test('totals by their figures: three addends, two places, and no period’s label', () => {
	const table = [
		[1, 4, 8, 13],
		[2, 5, 9, 16],
		[3, 6, 9, 18],
	];
	const cell = (r: number, c: number) => String(table[r]![c]!);
	const lines = (labels: string[]) => labels.map((label, at) => ({ at, labels: label ? [label] : [] }));
	const rows = lines(['', '', '']);
	expect(findTotals(lines(['A', 'B', 'C', 'D']), rows, cell).columns).toEqual([3]);
	expect(findTotals(lines(['2024-01', '2024-02', '2024-03', '2024-04']), rows, cell).columns).toEqual([]);
	expect(findTotals(lines(['A', 'B', 'C', 'D']), rows.slice(0, 1), cell).columns).toEqual([]);
	table[2]![3] = 19;
	expect(findTotals(lines(['A', 'B', 'C', 'D']), rows, cell).columns).toEqual([]);
	expect(findTotals(lines(['A', 'B', 'C', 'Total']), rows, cell)).toMatchObject({
		columns: [3],
		bySum: { columns: [] },
	});
});

/** Languages whose months and weekdays are read, as `Intl` calls them. */
const LOCALES =
	'en de fr es it pt nl sv da nb fi is et lv lt pl cs sk hu ro bg hr sr sl mk sq el tr uk ru be ca gl eu id'.split(
		' ',
	);

test.each(LOCALES)('months and weekdays as they are written in a language: %s', (locale) => {
	for (const style of ['long', 'short'] as const) {
		const format = new Intl.DateTimeFormat(locale, { month: style, timeZone: 'UTC' });
		const months = Array.from({ length: 14 }, (_, i) => {
			const at = new Date(Date.UTC(2024, i, 15));
			return `${format.formatToParts(at).find(({ type }) => type === 'month')!.value} ${at.getUTCFullYear()}`;
		});
		if (months.some((month) => /^\d/.test(month))) continue;
		for (const written of [months, months.map((month) => month.toLocaleUpperCase(locale))])
			expect(readPeriods(written)?.ordinals, written.join()).toEqual(
				Array.from({ length: 14 }, (_, i) => 2024 * 12 + i),
			);
	}
	const days = new Intl.DateTimeFormat(locale, { weekday: 'long', timeZone: 'UTC' });
	const week = Array.from({ length: 7 }, (_, i) => days.format(new Date(Date.UTC(2024, 0, 1 + i))));
	expect(readSeasons(week)?.seasons, week.join()).toEqual([1, 2, 3, 4, 5, 6, 7]);
});

test('a month that is another one in another language is read by the others beside it', () => {
	const months = (labels: string) => readPeriods(labels.split(','))?.ordinals.map((each) => (each % 12) + 1);
	expect(months('srpanj 2024,kolovoz 2024,rujan 2024,listopad 2024')).toEqual([7, 8, 9, 10]);
	expect(months('sierpień 2024,wrzesień 2024,październik 2024,listopad 2024')).toEqual([8, 9, 10, 11]);
	// By itself it could be either.
	expect(readPeriods(['listopad 2024'])?.frequency).toBe('month');
});

test('sets, parts and codes are no months, though a language has a month of their name', () => {
	for (const label of ['Set', 'LED', 'Pro', 'P-3', 'M8 20', 'Part 2', 'Stock 2'])
		expect([label, isPeriodWord(label)]).toEqual([label, false]);
	expect(readPeriods(['Stock 1', 'Stock 2', 'Stock 3'])).toBeNull();
	expect([isPeriodWord('2009 pcs'), isPeriodWord('Qty 2009'), isPeriodWord('Units Oct 2026')]).toEqual([
		false,
		true,
		true,
	]);
});
