import { expect, test } from 'vitest';
import { lines, testShaped } from '../../../tests/support/shaped';
import { readText } from './read';

/** Tables as they turn up in mails, reports and exports, which nobody would draw up for a program to read. */

const two = (count: number, of: number) => Array.from({ length: count }, () => of);
const none = (count: number): null[] => Array.from({ length: count }, () => null);

testShaped('around the table', [
	[
		'a report with its head, its page number and cells that are blank to the right',
		lines(
			'Kestrel Bay Cycle Supply;;;',
			'Demand report;;printed:;03.05.2024',
			';;;',
			'Item;Jan 2024;Feb 2024;Mar 2024',
			'Chain;4;5;6',
			'Pedal;1;2;3',
			';;;',
			'Page 1 of 1;;;',
		),
		['month', '2024-01', { Chain: [4, 5, 6], Pedal: [1, 2, 3] }],
	],
	[
		'commas in names and in figures, quoted',
		lines('Item,Jan 2024,Feb 2024,Mar 2024', '"Chain, 9-speed","1,204","1,310","990"', 'Pedal,12,15,18'),
		['month', '2024-01', { 'Chain, 9-speed': [1204, 1310, 990], Pedal: [12, 15, 18] }],
	],
	[
		'dashes under the heading',
		lines('Month | Demand', '--- | ---', 'Jan 2024 | 4', 'Feb 2024 | 5', 'Mar 2024 | 6'),
		['month', '2024-01', { Demand: [4, 5, 6] }],
	],
	[
		'lines drawn around it',
		lines(
			'┌──────┬────────┐',
			'│ Year │ Demand │',
			'├──────┼────────┤',
			'│ 2022 │ 41     │',
			'│ 2023 │ 39     │',
			'└──────┴────────┘',
		),
		['year', '2022', { Demand: [41, 39] }],
	],
	[
		'a blank line after each, as pages are copied',
		lines('Month\tChain', '', 'Jan 2024\t4', '', 'Feb 2024\t5', '', 'Mar 2024\t6'),
		['month', '2024-01', { Chain: [4, 5, 6] }],
	],
	[
		'single blanks',
		lines('2024-01 412', '2024-02 398', '2024-03 440'),
		['month', '2024-01', [412, 398, 440]],
	],
	[
		'single blanks and names of months',
		lines('Mar 2024 412', 'Apr 2024 398'),
		['month', '2024-03', [412, 398]],
	],
	[
		'a remark behind',
		lines('Item;Unit;Jan 24;Feb 24;Mar 24;Total;Remark', 'Chain;pcs;4;5;6;15;late', 'Pedal;pcs;1;2;;3;'),
		['month', '2024-01', { Chain: [4, 5, 6], Pedal: [1, 2] }],
	],
	[
		'lines that are counted',
		lines('No.\tMonth\tDemand', '1\tJan 2024\t4', '2\tFeb 2024\t5', '3\tMar 2024\t6'),
		['month', '2024-01', { Demand: [4, 5, 6] }],
	],
]);

testShaped('what stands beside demand', [
	[
		'what it brought',
		lines('Month;Units;Revenue', 'Jan 2024;4;400', 'Feb 2024;5;510', 'Mar 2024;6;590'),
		['month', '2024-01', [4, 5, 6]],
	],
	[
		'what was forecast, and how far off',
		lines('Month,Actual,Forecast,Error', '2024-01,4,5,-1', '2024-02,5,5,0', '2024-03,7,6,1'),
		['month', '2024-01', [4, 5, 7]],
	],
	[
		'stock before and after',
		lines(
			'Month;Opening stock;Demand;Closing stock',
			'2024-01;100;40;60',
			'2024-02;60;30;130',
			'2024-03;130;50;80',
		),
		['month', '2024-01', [40, 30, 50]],
	],
	[
		'a change in per cent',
		lines(
			'month\t2022\t2023\tchange',
			'Jan\t10\t12\t20 %',
			'Feb\t11\t13\t18 %',
			'Mar\t12\t14\t17 %',
			'Apr\t9\t11\t22 %',
		),
		['month', '2022-01', [10, 11, 12, 9, ...none(8), 12, 13, 14, 11]],
	],
	[
		'taken all the same',
		lines('Month;Units;Revenue', 'Jan 2024;4;400', 'Feb 2024;5;510'),
		['month', '2024-01', { Units: [4, 5], Revenue: [400, 510] }],
		{ columns: { 2: 'figure' } },
	],
	[
		'its weekday',
		lines('Date\tWeekday\tQty', '2024-03-04\tMon\t4', '2024-03-05\tTue\t5', '2024-03-06\tWed\t6'),
		['weekday', '2024-03-04', { Qty: [4, 5, 6] }],
	],
	[
		'its quarter',
		lines(
			'Quarter\tMonth\tQty',
			'Q1 2024\tJan 2024\t4',
			'Q1 2024\tFeb 2024\t5',
			'Q1 2024\tMar 2024\t6',
			'Q2 2024\tApr 2024\t2',
		),
		['month', '2024-01', { Qty: [4, 5, 6, 2] }],
	],
]);

testShaped('years and their parts', [
	['a year above its months', lines('2024', 'Jan\t4', 'Feb\t5', 'Mar\t6'), ['month', '2024-01', [4, 5, 6]]],
	[
		'years between their months',
		lines('2023', 'Nov\t4', 'Dec\t5', '2024', 'Jan\t6', 'Feb\t7'),
		['month', '2023-11', [4, 5, 6, 7]],
	],
	[
		'years above rows of months',
		lines('Year 2023', 'Oct\tNov\tDec', '4\t5\t6', 'Year 2024', 'Jan\tFeb\tMar', '7\t8\t9'),
		['month', '2023-10', [4, 5, 6, 7, 8, 9]],
	],
	[
		'business years over two calendar years',
		lines(
			'FY\tApr\tMay\tJun\tJul\tAug\tSep\tOct\tNov\tDec\tJan\tFeb\tMar',
			`2022/23\t${two(12, 5).join('\t')}`,
			`2023/24\t${two(12, 7).join('\t')}`,
		),
		['month', '2022-04', [...two(12, 5), ...two(12, 7)]],
	],
	[
		'business years called by the year they end in',
		lines(
			'\tApr\tMay\tJun\tJul\tAug\tSep\tOct\tNov\tDec\tJan\tFeb\tMar',
			`FY23\t${two(12, 5).join('\t')}`,
			`FY24\t${two(12, 7).join('\t')}`,
		),
		['month', '2022-04', [...two(12, 5), ...two(12, 7)]],
		{ yearNamed: 'ends' },
	],
	[
		'quarters of a business year from April on',
		lines(';Q1;Q2;Q3;Q4', 'FY2022;1;2;3;4', 'FY2023;5;6;7;8'),
		['quarter', '2022-Q2', [1, 2, 3, 4, 5, 6, 7, 8]],
		{ firstMonth: 4 },
	],
	[
		'seasons of the year down',
		lines('\t2023\t2024', 'Winter\t1\t5', 'Spring\t2\t6', 'Summer\t3\t7', 'Autumn\t4\t8'),
		['quarter', '2023-Q1', [1, 2, 3, 4, 5, 6, 7, 8]],
	],
	[
		'seasons of the year across, in French',
		lines('année;hiver;printemps;été;automne', '2023;1;2;3;4', '2024;5;6;7;8'),
		['quarter', '2023-Q1', [1, 2, 3, 4, 5, 6, 7, 8]],
	],
	[
		'ordinal numbers for quarters',
		lines('année\ttrimestre\tquantité', '2023\t1er\t4', '2023\t2e\t5', '2023\t3e\t6', '2023\t4e\t7'),
		['quarter', '2023-Q1', { quantité: [4, 5, 6, 7] }],
	],
	['half-years', lines('H1 22;4', 'H2 22;5', 'H1 23;6'), ['half-year', '2022-H1', [4, 5, 6]]],
	[
		'half-years in German',
		lines('1. Halbjahr 2023;4', '2. Halbjahr 2023;5'),
		['half-year', '2023-H1', [4, 5]],
	],
	[
		'years and half-years',
		lines('Year;H1;H2', '2022;4;5', '2023;6;7'),
		['half-year', '2022-H1', [4, 5, 6, 7]],
	],
	[
		'half-years of dates',
		lines('30.06.2022;4', '31.12.2022;5', '30.06.2023;6'),
		['half-year', '2022-H1', [4, 5, 6]],
	],
	['months in Chinese', lines('2021年1月\t12', '2021年2月\t15'), ['month', '2021-01', [12, 15]]],
	[
		'year, month and day in columns',
		lines('Year\tMonth\tDay\tQty', '2024\t1\t30\t4', '2024\t1\t31\t5', '2024\t2\t1\t6'),
		['weekday', '2024-01-30', { Qty: [4, 5, 6] }],
		{ frequency: 'weekday' },
	],
	[
		'year, month in words and day',
		lines(
			'Jahr;Monat;Tag;Menge',
			'2024;Januar;31;4',
			'2024;Februar;1;5',
			'2024;Februar;2;6',
			'2024;Februar;3;7',
		),
		['day', '2024-01-31', { Menge: [4, 5, 6, 7] }],
	],
	[
		'the week that ends on a day',
		lines('w/e 05.01.2024;4', 'w/e 12.01.2024;5', 'w/e 19.01.2024;6'),
		['week', '2024-W01', [4, 5, 6]],
	],
	[
		'weeks from day to day',
		lines('04.03.–10.03.2024\t4', '11.03.–17.03.2024\t5'),
		['week', '2024-W10', [4, 5]],
	],
	[
		'weekdays before their dates',
		lines('Sat, 2 Mar 2024\t12', 'Sun, 3 Mar 2024\t13', 'Mon, 4 Mar 2024\t9'),
		['day', '2024-03-02', [12, 13, 9]],
	],
	[
		'dates in words',
		lines('1er mars 2024\t4', '2 mars 2024\t5', '3 mars 2024\t6'),
		['day', '2024-03-01', [4, 5, 6]],
	],
	['eight digits', lines('20240131;4', '20240229;5', '20240331;6'), ['month', '2024-01', [4, 5, 6]]],
	['newest first', lines('Mar 2024;6', 'Feb 2024;5', 'Jan 2024;4'), ['month', '2024-01', [4, 5, 6]]],
]);

testShaped('periods in words', [
	['a colon after each period', 'Jan 2024: 4\nFeb 2024: 7\nMar 2024: 9', ['month', '2024-01', [4, 7, 9]]],
	[
		'an equals sign, under a title',
		'Bells sold\n2024-01 = 4\n2024-02 = 7\n2024-03 = 1,204.5',
		['month', '2024-01', [4, 7, 1204.5]],
	],
	['years with a colon', '2021: 400\n2022: 500\n2023: 450', ['year', '2021', [400, 500, 450]]],
	[
		'quarters by their months',
		'Jan–Mar 2024\t40\nApr–Jun 2024\t70\nJul–Sep 2024\t90',
		['quarter', '2024-Q1', [40, 70, 90]],
	],
	[
		'months run through, against years',
		'\t2023\t2024\nJan-Mar\t40\t50\nApr-Jun\t30\t60\nJul-Sep\t20\t30\nOct-Dec\t10\t15',
		['quarter', '2023-Q1', [40, 30, 20, 10, 50, 60, 30, 15]],
	],
	[
		'half-years by their months, in German',
		'Artikel;Jan. bis Juni 2023;Juli bis Dez. 2023\nKette;4;5\nPedal;6;7',
		['half-year', '2023-H1', { Kette: [4, 5], Pedal: [6, 7] }],
	],
	[
		'times of orders, under “Order date”, as serial dates',
		lines(
			'Order date;Item;Qty',
			...[45296, 45296, 45299, 45301, 45310, 45311, 45330, 45331, 45350].map((day, i) => `${day};A;${i + 1}`),
		),
		['week', '2024-W01', { A: [3, 7, 11, 0, 0, 15, 0, 0, 9] }],
	],
	[
		'lines of orders of which no two are of one day',
		lines(
			'Date;Qty',
			...['03', '04', '09', '11', '20', '21', '22', '28', '31'].map((day, i) => `2024-01-${day};${i + 1}`),
		),
		[
			'day',
			'2024-01-03',
			{
				Qty: [1, 2, ...two(4, 0), 3, 0, 4, ...two(8, 0), 5, 6, 7, ...two(5, 0), 8, 0, 0, 9],
			},
		],
	],
]);

testShaped('figures', [
	[
		'points that are thousands marks, as the smallest figure shows',
		lines('month\tdemand', 'Jan-24\t1.200', 'Feb-24\t1.350', 'Mar-24\t990'),
		['month', '2024-01', { demand: [1200, 1350, 990] }],
	],
	[
		'thousands as k',
		lines('2024-01;1.2k', '2024-02;0.9k', '2024-03;1.35k'),
		['month', '2024-01', [1200, 900, 1350]],
	],
	[
		'millions of a currency',
		lines('2024;1,2 Mio. €', '2025;0,95 Mio. €'),
		['year', '2024', [1_200_000, 950_000]],
	],
	[
		'what people call missing',
		lines('2024-01;4', '2024-02;k.A.', '2024-03;x', '2024-04;7'),
		['month', '2024-01', [4, null, null, 7]],
	],
	[
		'the same, as nought',
		lines('2024-01;4', '2024-02;k.A.', '2024-03;x', '2024-04;7'),
		['month', '2024-01', [4, 0, 0, 7]],
		{ missing: 'zero' },
	],
]);

testShaped('several keys', [
	[
		'summed over the region',
		lines(
			'Region;Item;Month;Qty',
			'North;KB-1;2024-01;4',
			'North;KB-1;2024-02;5',
			'South;KB-1;2024-01;2',
			'South;KB-1;2024-02;1',
			'North;KB-2;2024-01;7',
			'North;KB-2;2024-02;8',
		),
		['month', '2024-01', { 'KB-1': [6, 6], 'KB-2': [7, 8] }],
	],
	[
		'each region an item of its own',
		lines(
			'Region;Item;Month;Qty',
			'North;KB-1;2024-01;4',
			'North;KB-1;2024-02;5',
			'South;KB-1;2024-01;2',
			'South;KB-1;2024-02;1',
		),
		['month', '2024-01', { 'North · KB-1': [4, 5], 'South · KB-1': [2, 1] }],
		{ columns: { 0: 'item' } },
	],
	[
		'two rows of names across',
		lines(
			'Month\tNorth\t\tSouth\t',
			'\tKB-1\tKB-2\tKB-1\tKB-2',
			'Jan 2024\t1\t2\t3\t4',
			'Feb 2024\t5\t6\t7\t8',
		),
		[
			'month',
			'2024-01',
			{ 'North · KB-1': [1, 5], 'North · KB-2': [2, 6], 'South · KB-1': [3, 7], 'South · KB-2': [4, 8] },
		],
	],
	[
		'the columns in any order',
		lines('Demand;Month;Item', '4;2024-01;KB-1', '5;2024-02;KB-1', '6;2024-01;KB-2', '7;2024-02;KB-2'),
		['month', '2024-01', { 'KB-1': [4, 5], 'KB-2': [6, 7] }],
	],
]);

const ORDERS = lines(
	'Date;Order;Item;Qty;Price',
	'2024-01-02;1001;KB-1;4;12.50',
	'2024-01-02;1002;KB-1;2;12.50',
	'2024-01-09;1003;KB-2;1;8.00',
	'2024-01-17;1004;KB-1;-1;12.50',
	'2024-01-30;1005;KB-2;2;8.00',
	'2024-03-04;1006;KB-1;6;12.50',
	'2024-03-11;1007;KB-2;3;8.00',
	'2024-03-29;1008;KB-1;2;12.50',
	'2024-04-08;1009;KB-1;9;12.50',
);
testShaped('lines of orders', [
	[
		'summed to weeks, those without a line as nought, the last one whole',
		ORDERS,
		[
			'week',
			'2024-W01',
			{
				'KB-1': [6, 0, -1, 0, 0, 0, 0, 0, 0, 6, 0, 0, 2, 0, 9],
				'KB-2': [1, 0, 0, 2, 0, 0, 0, 0, 0, 3, 0, 0, 0, 0],
			},
		],
	],
	[
		'to months: April is not over',
		ORDERS,
		['month', '2024-01', { 'KB-1': [5, 0, 8], 'KB-2': [3, 0, 3] }],
		{ frequency: 'month' },
	],
	[
		'April all the same, returns left out, months without a line missing',
		ORDERS,
		['month', '2024-01', { 'KB-1': [6, null, 8, 9], 'KB-2': [3, null, 3] }],
		{ frequency: 'month', ends: 'take', returns: 'leave', without: 'gap' },
	],
]);

test('of lines of orders everything that was decided is one press away', () => {
	const doubts = readText(ORDERS, { frequency: 'month' }).doubts;
	const texts = Object.fromEntries(doubts.map(({ code, text }) => [code, text]));
	expect(texts['order-lines']).toMatch(
		/several on one day: summed to months; a month without a line is taken as zero/,
	);
	expect(texts['ends']).toMatch(/Apr 2024 is not whole: the lines end on Mon 8 Apr 2024\. Left out\./);
	expect(texts['returns']).toMatch(/1 line is negative: taken off, as returns/);
	for (const code of ['order-lines', 'ends', 'returns']) {
		for (const { choices } of doubts.find((doubt) => doubt.code === code)!.options)
			expect(readText(ORDERS, { frequency: 'month', ...choices }).items).not.toEqual(
				readText(ORDERS, { frequency: 'month' }).items,
			);
	}
});

test('frequencies mixed in one table are refused, with the row', () => {
	const { problem } = readText('Month;A;B\n2024-01;4;400\n2024-02;5;510\n2024-Q2;6;590');
	expect(problem).toMatch(/“2024-Q2” in row 4 is not written like the periods before it \(months\)/);
});

test('what stands for no figure is asked about once', () => {
	const { doubts } = readText('2024-01;4\n2024-02;k.A.\n2024-03;x\n2024-04;x\n2024-05;7');
	expect(doubts.map(({ code }) => code)).toEqual(['no-figure']);
	expect(doubts[0]!.text).toMatch(/“k\.A\.” and “x” in 3 cells were taken as a missing figure/);
});
