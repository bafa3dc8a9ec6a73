import { expect, test } from 'vitest';
import { lines, testShaped } from '../../../tests/support/shaped';
import { readText } from './read';

/** Exports of tills, stores and spreadsheets, and what colleagues send. */

testShaped('several quantities', [
	[
		'opening, in, out and closing beside each other',
		lines(
			'Item;Description;Opening;In;Out;Closing;Period',
			'R-10;Rear rack;120;40;55;105;2026-08',
			'R-10;Rear rack;105;60;48;117;2026-09',
			'R-12;Front rack;80;20;31;69;2026-08',
			'R-12;Front rack;69;20;28;61;2026-09',
		),
		['month', '2026-08', { 'R-10': [55, 48], 'R-12': [31, 28] }],
	],
	[
		'actual and budget under each month, below the year',
		lines(
			';2026;;;;;',
			';Jan;;Feb;;Mar;',
			'Item;Act;Bud;Act;Bud;Act;Bud',
			'A-1;10;12;11;12;14;12',
			'A-2;20;22;19;22;25;22',
		),
		['month', '2026-01', { 'A-1': [10, 11, 14], 'A-2': [20, 19, 25] }],
	],
	[
		'sales, returns and their sum by turns',
		lines(
			'Item\tType\t2026-01\t2026-02',
			'A-1\tSales\t40\t42',
			'\tReturns\t-2\t-1',
			'\tNet\t38\t41',
			'A-2\tSales\t12\t15',
			'\tReturns\t0\t-1',
			'\tNet\t12\t14',
		),
		['month', '2026-01', { 'A-1': [40, 42], 'A-2': [12, 15] }],
	],
	[
		'what left is negative, among what came',
		lines(
			'Item;Posting date;Movement;Qty',
			'A-1;2026-01-05;issue;-4',
			'A-1;2026-01-06;receipt;50',
			'A-1;2026-01-06;issue;-6',
			'A-1;2026-01-07;issue;-5',
			'A-1;2026-01-08;issue;-7',
		),
		['day', '2026-01-05', { 'A-1': [4, 6, 5, 7] }],
		{ frequency: 'day' },
	],
	[
		'pieces and money by year, named in one heading',
		lines(
			'Customer no.;Item;Qty 2024;Qty 2025;Value 2024;Value 2025',
			'1001;A-1;10;12;100;120',
			'1001;A-2;4;6;40;60',
			'1002;A-1;7;9;70;90',
		),
		['year', '2024', { 'A-1': [17, 21], 'A-2': [4, 6] }],
	],
	[
		'stock below demand on one sheet',
		lines(
			'Item;Jan 26;Feb 26',
			'A-1;10;11',
			'A-2;20;21',
			'',
			'Stock',
			'Item;Jan 26;Feb 26',
			'A-1;100;98',
			'A-2;50;49',
		),
		['month', '2026-01', { 'A-1': [10, 11], 'A-2': [20, 21] }],
	],
	[
		'days of the month and a rate beside demand',
		lines(
			'Month\tDays\tDemand\tPer day',
			'2026-01\t31\t310\t10.0',
			'2026-02\t28\t300\t10.7',
			'2026-03\t31\t290\t9.4',
		),
		['month', '2026-01', [310, 300, 290]],
	],
	[
		'sums to date and of last year behind the months',
		lines(
			'Article\tJan 26\tFeb 26\tMar 26\tQ1\tYTD\tYTD LY\t%',
			'A-1\t10\t11\t12\t33\t33\t30\t10.0',
			'A-2\t20\t21\t22\t63\t63\t70\t-10.0',
		),
		['month', '2026-01', { 'A-1': [10, 11, 12], 'A-2': [20, 21, 22] }],
	],
	[
		'a running sum under names that say nothing',
		lines(
			'Item;Month;A;B',
			'X-1;2026-01;10;10',
			'X-1;2026-02;12;22',
			'X-1;2026-03;9;31',
			'X-1;2026-04;8;39',
			'X-1;2026-05;7;46',
		),
		['month', '2026-01', { 'X-1': [10, 12, 9, 8, 7] }],
	],
]);

testShaped('reports of programs', [
	[
		'a till: a group, a sum of pieces and one of money',
		lines(
			'Kestrel Bay Cycle Supply\tTill 3',
			'Article sales by month\tPrinted 02/12/2026 08:14',
			'',
			'PLU\tArticle\tGroup\tSep 26\tOct 26\tTotal qty\tTotal value',
			'1001\tPatch kit\tTyres\t14\t18\t32\t95.68',
			'1002\tBell, brass\tBells\t3\t0\t3\t26.97',
			'\tTotal\t\t17\t18\t35\t122.65',
		),
		['month', '2026-09', { 1001: [14, 18], 1002: [3, 0] }],
	],
	[
		'groups that head their sums',
		lines(
			'Row Labels\t2024-01\t2024-02\tGrand Total',
			'Brakes\t30\t33\t63',
			'   B-1\t10\t11\t21',
			'   B-2\t20\t22\t42',
			'Wheels\t7\t8\t15',
			'   W-1\t7\t8\t15',
			'Grand Total\t37\t41\t78',
		),
		['month', '2024-01', { 'B-1': [10, 11], 'B-2': [20, 22], 'W-1': [7, 8] }],
	],
	[
		'long material numbers, a plant, a unit at the end',
		lines(
			'MATNR;WERKS;P01/2026;P02/2026;MEINS',
			'000000001001;1000;12,000;15,500;ST',
			'000000001002;1000;4,000;6,250;ST',
		),
		['month', '2026-01', { '000000001001': [12, 15.5], '000000001002': [4, 6.25] }],
		{ decimal: ',' },
	],
	[
		'row numbers, an id of the export and when it was made',
		lines(
			'id,export_id,sku,period,qty,created_at',
			'1,771,A-1,2026-09,40,2026-10-01T02:00:00Z',
			'2,771,A-1,2026-10,44,2026-11-01T02:00:00Z',
			'3,771,A-2,2026-09,12,2026-10-01T02:00:00Z',
			'4,771,A-2,2026-10,15,2026-11-01T02:00:00Z',
		),
		['month', '2026-09', { 'A-1': [40, 44], 'A-2': [12, 15] }],
	],
	[
		'an object a line',
		lines(
			'{"sku":"A-1","month":"2026-09","qty":40}',
			'{"sku":"A-1","month":"2026-10","qty":44}',
			'{"sku":"A-2","month":"2026-09","qty":12}',
			'{"sku":"A-2","month":"2026-10","qty":15}',
		),
		['month', '2026-09', { 'A-1': [40, 44], 'A-2': [12, 15] }],
	],
	[
		'what came in, what went out and what is there, in pieces',
		lines(
			'Item;Month;Qty in;Qty out;On hand',
			'A-1;2026-09;50;40;110',
			'A-1;2026-10;40;44;106',
			'A-1;2026-11;60;39;127',
		),
		['month', '2026-09', { 'A-1': [40, 44, 39] }],
	],
	[
		'stock and its minimum before the months of use',
		lines(
			'Artikelnr.;Bezeichnung;Lagerort;Bestand;Mindestbestand;Verbrauch 09/26;Verbrauch 10/26;Verbrauch 11/26',
			'4711-A;Kette 8-fach;B2;120;40;35;38;41',
			'4711-B;Kette 9-fach;B2;80;40;22;25;19',
		),
		['month', '2026-09', { '4711-A': [35, 38, 41], '4711-B': [22, 25, 19] }],
	],
	[
		'a total that stands in the column of row numbers',
		lines('Lp.;Indeks;styczeń 2026;luty 2026', '1;X-900;41;39', '2;X-901;3;4', 'Razem;;44;43'),
		['month', '2026-01', { 'X-900': [41, 39], 'X-901': [3, 4] }],
	],
	[
		'totals in another language',
		lines(
			'Артикул;Янв. 2026;Февр. 2026;Март 2026;Итого',
			'А-1;10;12;9;31',
			'А-2;5;6;4;15',
			'Итого;15;18;13;46',
		),
		['month', '2026-01', { 'А-1': [10, 12, 9], 'А-2': [5, 6, 4] }],
	],
]);

/** What the doubts of a text offer, by their codes. */
const doubtsOf = (text: string) =>
	Object.fromEntries(
		readText(text, {}).doubts.map(({ code, text: said, options }) => [code, { said, options }]),
	);

test('the other quantities are one press away, and so are all of them', () => {
	const text = lines(
		'Item;Month;Actual;Budget',
		'A-1;2026-01;4;5',
		'A-1;2026-02;6;7',
		'A-2;2026-01;8;9',
		'A-2;2026-02;1;2',
	);
	const { said, options } = doubtsOf(text)['quantity']!;
	expect(said).toBe('“Actual” is taken as demand; “Budget” is left out.');
	const of = (label: string) =>
		readText(text, options.find((option) => option.label === label)!.choices).items.map(
			({ code, values }) => [code, values],
		);
	expect(of('“Budget” is the demand')).toEqual([
		['A-1', [5, 7]],
		['A-2', [9, 2]],
	]);
	expect(of('each is an item of its own')).toHaveLength(4);
});

test('codes that stand with their names are parted, or taken whole', () => {
	const text = lines(
		'Artikel;2026-01;2026-02',
		'Rear rack (A-1);10;11',
		'Bell (A-2);5;6',
		'Saddle (A-3);7;8',
	);
	expect(readText(text, {}).items.map(({ code, name }) => [code, name])).toEqual([
		['A-1', 'Rear rack'],
		['A-2', 'Bell'],
		['A-3', 'Saddle'],
	]);
	const { options } = doubtsOf(text)['codes']!;
	expect(readText(text, options[0]!.choices).items[0]).toMatchObject({ code: 'Rear rack (A-1)' });
});

test('sizes of one thing are no codes', () => {
	const text = lines('Part;2026-01;2026-02', 'M10 bolt;10;11', 'M12 bolt;5;6', 'M16 bolt;7;8');
	expect(readText(text, {}).items.map(({ code }) => code)).toEqual(['M10 bolt', 'M12 bolt', 'M16 bolt']);
});

test('figures that are all negative lose their sign, unless they are to keep it', () => {
	const text = lines('Month;Demand', '2026-01;-4', '2026-02;-6', '2026-03;0');
	expect(readText(text, {}).items[0]!.values).toEqual([4, 6, 0]);
	expect(readText(text, doubtsOf(text)['sign']!.options[0]!.choices).items[0]!.values).toEqual([-4, -6, 0]);
});

test('depots beside each other are joined to their items, or summed', () => {
	const text = lines(
		'Date,Item,North,South',
		'2026-01,A-1,10,12',
		'2026-02,A-1,11,13',
		'2026-01,A-2,5,6',
		'2026-02,A-2,4,7',
	);
	const { said, options } = doubtsOf(text)['joined']!;
	expect(said).toMatch(/“A-1 · North”/);
	expect(readText(text, options[0]!.choices).items.map(({ code, values }) => [code, values])).toEqual([
		['A-1', [22, 24]],
		['A-2', [11, 11]],
	]);
});

test('one period for many items, as its title says; of two the period is asked', () => {
	const table = (title: string) => lines(title, '', 'Code\tPieces', 'A-1\t40', 'A-2\t12');
	const read = (title: string) => readText(table(title), {});
	expect(read('Demand November 2026').items.map(({ code, first, values }) => [code, first, values])).toEqual([
		['A-1', 24_322, [40]],
		['A-2', 24_322, [12]],
	]);
	expect(read('01.11.2026 – 30.11.2026').items[0]).toMatchObject({ first: 24_322 });
	expect(read('From Jan 2026 to Mar 2026').problem).toMatch(/Say which month/);
	expect(read('Printed 02.12.2026').problem).toMatch(/Say which month/);
});
