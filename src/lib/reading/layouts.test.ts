import { lines as t, type Shaped as Case, testShaped } from '../../../tests/support/shaped';

const ONE: Case[] = [
	['one column', t('412', '398', '440'), ['step', 1, [412, 398, 440]]],
	['one column under a name', t('Chain guard', '412', '398'), ['step', 1, { 'Chain guard': [412, 398] }]],
	['one row, tabs', '412\t398\t440', ['step', 1, [412, 398, 440]]],
	['one row, commas', '412,398,440,12', ['step', 1, [412, 398, 440, 12]]],
	['one row, blanks', '412 398 440', ['step', 1, [412, 398, 440]]],
	['one row with its name', 'Chain guard\t412\t398\t440', ['step', 1, { 'Chain guard': [412, 398, 440] }]],
	[
		'a list out of a mail',
		t('Jan 2024   412', 'Feb 2024   398', 'Mar 2024   1,204'),
		['month', '2024-01', [412, 398, 1204]],
	],
	['a list with single blanks', t('2024-01 412', '2024-02 398'), ['month', '2024-01', [412, 398]]],
	[
		'month and figure',
		t('Month,Pieces', '2024-01,412', '2024-02,398'),
		['month', '2024-01', { Pieces: [412, 398] }],
	],
	[
		'figure before period',
		t('412;2024-01', '398;2024-02', '440;2024-03'),
		['month', '2024-01', [412, 398, 440]],
	],
	[
		'period, figure, remark',
		t('2024-01;412;', '2024-02;398;strike', '2024-03;440;', '2024-04;12;fair'),
		['month', '2024-01', [412, 398, 440, 12]],
	],
	[
		'title above, footnote below',
		t('Demand of the depot', '', 'Month\tPieces', '2024-01\t412', '2024-02\t398', '', '* counted by hand'),
		['month', '2024-01', { Pieces: [412, 398] }],
	],
	[
		'a line of units',
		t('Month\tDemand', '\t(pcs)', '2024-01\t412', '2024-02\t398'),
		['month', '2024-01', { Demand: [412, 398] }],
	],
	[
		'a total below',
		t('2024-01\t412', '2024-02\t398', '2024-03\t440', 'Total\t1250'),
		['month', '2024-01', [412, 398, 440]],
	],
	[
		'an average below, in German',
		t('Jan 2024;4,5', 'Feb 2024;5,5', 'Mär 2024;8', 'Durchschnitt;6'),
		['month', '2024-01', [4.5, 5.5, 8]],
	],
	[
		'bars around',
		t('| Month | Demand |', '|-------|-------:|', '| 2024-01 | 412 |', '| 2024-02 | 398 |'),
		['month', '2024-01', { Demand: [412, 398] }],
	],
	[
		'periods across one row',
		t('Month\tJan 2024\tFeb 2024\tMar 2024', 'Demand\t412\t398\t440'),
		['month', '2024-01', { Demand: [412, 398, 440] }],
	],
	[
		'periods across, no label',
		t('2024-Q1\t2024-Q2\t2024-Q3', '412\t398\t440'),
		['quarter', '2024-Q1', [412, 398, 440]],
	],
	['bare years across', t('2021\t2022\t2023', '412\t398\t440'), ['year', '2021', [412, 398, 440]]],
	['years down', t('2021;412', '2022;398', '2023;440'), ['year', '2021', [412, 398, 440]]],
	['plain numbers down', t('t,y', '1,412', '2,398', '3,440'), ['step', 1, { y: [412, 398, 440] }]],
	['unsorted', t('2024-03;440', '2024-01;412', '2024-02;398'), ['month', '2024-01', [412, 398, 440]]],
	['a gap', t('2024-01;412', '2024-04;398'), ['month', '2024-01', [412, null, null, 398]]],
	['a blank figure', t('2024-01;412', '2024-02;', '2024-03;398'), ['month', '2024-01', [412, null, 398]]],
	[
		'months without a year, said',
		t('Nov;4', 'Dec;5', 'Jan;6'),
		['month', '2023-11', [4, 5, 6]],
		{ first: '2023-11' },
	],
	[
		'weeks without a year, counted',
		t('Week 7;4', 'Week 8;5', 'Week 9;6'),
		['step', 1, [4, 5, 6]],
		{ frequency: 'step' },
	],
	[
		'first period said',
		t('412', '398'),
		['quarter', '2024-Q3', [412, 398]],
		{ frequency: 'quarter', first: '2024-Q3' },
	],
	['duplicates summed', t('2024-01;4', '2024-01;5', '2024-02;6'), ['month', '2024-01', [9, 6]]],
	[
		'duplicates averaged',
		t('2024-01;4', '2024-01;5', '2024-02;6'),
		['month', '2024-01', [4.5, 6]],
		{ duplicates: 'mean' },
	],
	[
		'duplicates, the last',
		t('2024-01;4', '2024-01;5', '2024-02;6'),
		['month', '2024-01', [5, 6]],
		{ duplicates: 'last' },
	],
	[
		'days summed to weeks',
		t('2024-01-01;1', '2024-01-03;2', '2024-01-09;4', '2024-01-10;5'),
		['week', '2024-W01', [3, 9]],
		{ frequency: 'week' },
	],
];

const YEAR_MONTH = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const twelve = (from: number) => YEAR_MONTH.map((_, i) => from + i * 7);
const CYCLES: Case[] = [
	[
		'years down, months across',
		t(`\t${YEAR_MONTH.join('\t')}`, `2022\t${twelve(100).join('\t')}`, `2023\t${twelve(200).join('\t')}`),
		['month', '2022-01', [...twelve(100), ...twelve(200)]],
	],
	[
		'the same, totals and averages',
		t(
			`Year\t${YEAR_MONTH.join('\t')}\tTotal`,
			`2022\t${twelve(100).join('\t')}\t1662`,
			`2023\t${twelve(200).join('\t')}\t2862`,
			`Mean\t${twelve(150).join('\t')}\t2262`,
		),
		['month', '2022-01', [...twelve(100), ...twelve(200)]],
	],
	[
		'years down, quarters across',
		t('Year;Q1;Q2;Q3;Q4', '2022;1;2;3;4', '2023;5;6;7;8'),
		['quarter', '2022-Q1', [1, 2, 3, 4, 5, 6, 7, 8]],
	],
	[
		'quarters down, years across',
		t(';2022;2023', 'Q1;1;5', 'Q2;2;6', 'Q3;3;7', 'Q4;4;8'),
		['quarter', '2022-Q1', [1, 2, 3, 4, 5, 6, 7, 8]],
	],
	[
		'months down, years across, unfinished',
		t('Month\t2022\t2023', ...YEAR_MONTH.map((month, i) => `${month}\t${i + 10}\t${i < 3 ? i + 50 : ''}`)),
		['month', '2022-01', [10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 50, 51, 52]],
	],
	[
		'numbered months down, years across',
		t('Month;2022;2023', ...YEAR_MONTH.map((_, i) => `${i + 1};${i + 10};${i + 50}`)),
		[
			'month',
			'2022-01',
			[10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 50, 51, 52, 53, 54, 55, 56, 57, 58, 59, 60, 61],
		],
	],
	['weeks across', t('Year\tWeek 1\tWeek 2\tWeek 3', '2024\t4\t5\t6'), ['week', '2024-W01', [4, 5, 6]]],
	[
		'weekdays across, weeks down',
		t('\tMon\tTue\tWed\tThu\tFri', '2024-W02\t1\t2\t3\t4\t5', '2024-W03\t6\t7\t8\t9\t10'),
		['weekday', '2024-01-08', [1, 2, 3, 4, 5, 6, 7, 8, 9, 10]],
	],
	[
		'weekdays down in German',
		t('Tag;2024-W02;2024-W03', 'Mo;1;8', 'Di;2;9', 'Mi;3;10', 'Do;4;11', 'Fr;5;12', 'Sa;6;13', 'So;7;14'),
		['day', '2024-01-08', [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14]],
	],
	[
		'year and month in columns',
		t('Year,Month,Demand', '2023,11,4', '2023,12,5', '2024,1,6'),
		['month', '2023-11', { Demand: [4, 5, 6] }],
	],
	[
		'year and quarter, year given once',
		t('Year;Quarter;Demand', '2023;Q3;4', ';Q4;5', '2024;Q1;6', ';Q2;7'),
		['quarter', '2023-Q3', { Demand: [4, 5, 6, 7] }],
	],
	[
		'two heading rows, merged years',
		t('\t2023\t\t\t\t2024\t\t\t', '\tQ1\tQ2\tQ3\tQ4\tQ1\tQ2\tQ3\tQ4', 'Chain\t1\t2\t3\t4\t5\t6\t7\t8'),
		['quarter', '2023-Q1', { Chain: [1, 2, 3, 4, 5, 6, 7, 8] }],
	],
	[
		'quarter sums among the months',
		t(
			'\tJan\tFeb\tMar\tQ1\tApr\tMay\tJun\tQ2',
			'2023\t1\t2\t5\t8\t4\t5\t9\t18',
			'2024\t3\t3\t3\t9\t2\t2\t2\t6',
		),
		['month', '2023-01', [1, 2, 5, 4, 5, 9, null, null, null, null, null, null, 3, 3, 3, 2, 2, 2]],
	],
	[
		'thirteen four-week periods',
		t(
			`Year;${Array.from({ length: 13 }, (_, i) => `P${i + 1}`).join(';')}`,
			`2023;${Array.from({ length: 13 }, (_, i) => i + 20).join(';')}`,
			`2024;${Array.from({ length: 13 }, (_, i) => i + 40).join(';')}`,
		),
		[
			'step',
			1,
			[...Array.from({ length: 13 }, (_, i) => i + 20), ...Array.from({ length: 13 }, (_, i) => i + 40)],
		],
	],
	[
		'counted years',
		t('\tQ1\tQ2\tQ3\tQ4', 'Year 1\t1\t2\t3\t4', 'Year 2\t5\t6\t7\t8'),
		['step', 1, [1, 2, 3, 4, 5, 6, 7, 8]],
	],
	[
		'hours across, days down',
		t(
			'Day;0;1;2;3;4;5;6;7;8;9;10;11;12;13;14;15;16;17;18;19;20;21;22;23',
			`2024-01-08;${Array.from({ length: 24 }, (_, i) => i).join(';')}`,
		),
		['hour', '2024-01-08T00', Array.from({ length: 24 }, (_, i) => i)],
	],
	[
		'fiscal years down',
		t(';Q1;Q2;Q3;Q4', 'FY2022;1;2;3;4', 'FY2023;5;6;7;8'),
		['quarter', '2022-Q1', [1, 2, 3, 4, 5, 6, 7, 8]],
	],
];

const BLOCKS: Case[] = [
	[
		'two blocks',
		t(
			'Month\tJan 2024\tFeb 2024\tMar 2024',
			'Demand\t1\t2\t3',
			'',
			'Month\tApr 2024\tMay 2024\tJun 2024',
			'Demand\t4\t5\t6',
		),
		['month', '2024-01', { Demand: [1, 2, 3, 4, 5, 6] }],
	],
	[
		'three blocks without blank lines',
		t(
			'Period\t1\t2\t3',
			'Demand\t41\t12\t43',
			'Period\t4\t5\t6',
			'Demand\t44\t40\t46',
			'Period\t7\t8',
			'Demand\t17\t48',
		),
		['step', 1, { Demand: [41, 12, 43, 44, 40, 46, 17, 48] }],
	],
	[
		'blocks without labels',
		t('2024-01;2024-02;2024-03', '1;2;3', '2024-04;2024-05;2024-06', '4;5;6'),
		['month', '2024-01', [1, 2, 3, 4, 5, 6]],
	],
	[
		'blocks of two items',
		t(
			'\tQ1 2023\tQ2 2023',
			'Chain\t1\t2',
			'Pedal\t5\t6',
			'',
			'\tQ3 2023\tQ4 2023',
			'Chain\t3\t4',
			'Pedal\t7\t8',
		),
		['quarter', '2023-Q1', { Chain: [1, 2, 3, 4], Pedal: [5, 6, 7, 8] }],
	],
	[
		'blocks with the item above each',
		t(
			'Chain guard',
			'\tQ1 2023\tQ2 2023\tQ3 2023',
			'\t1\t2\t3',
			'',
			'Pedal',
			'\tQ1 2023\tQ2 2023\tQ3 2023',
			'\t5\t6\t7',
		),
		['quarter', '2023-Q1', { 'Chain guard': [1, 2, 3], Pedal: [5, 6, 7] }],
	],
];

const MANY: Case[] = [
	[
		'items across, months down',
		t('Month\tChain\tPedal', '2024-01\t1\t4', '2024-02\t2\t5', '2024-03\t3\t6'),
		['month', '2024-01', { Chain: [1, 2, 3], Pedal: [4, 5, 6] }],
	],
	[
		'codes of digits across',
		t('Month\t10101\t10102', '2024-01\t1\t4', '2024-02\t2\t5'),
		['month', '2024-01', { '10101': [1, 2], '10102': [4, 5] }],
	],
	[
		'items down, months across',
		t('Item\t2024-01\t2024-02\t2024-03', 'Chain\t1\t2\t3', 'Pedal\t4\t5\t6'),
		['month', '2024-01', { Chain: [1, 2, 3], Pedal: [4, 5, 6] }],
	],
	[
		'items down with name and unit',
		t('Code;Description;Unit;2024-01;2024-02', '70-214;Rear rack;pcs;1;2', '70-215;Front rack;pcs;4;5'),
		['month', '2024-01', { '70-214': [1, 2], '70-215': [4, 5] }],
	],
	[
		'long: item, period, figure',
		t('Item,Month,Demand', 'Chain,2024-01,1', 'Chain,2024-02,2', 'Pedal,2024-01,4', 'Pedal,2024-02,5'),
		['month', '2024-01', { Chain: [1, 2], Pedal: [4, 5] }],
	],
	[
		'long without headings, items mixed',
		t('2024-01;A-1;1', '2024-01;A-2;4', '2024-02;A-1;2', '2024-02;A-2;5'),
		['month', '2024-01', { 'A-1': [1, 2], 'A-2': [4, 5] }],
	],
	[
		'long with merged items',
		t('Item\tMonth\tDemand', 'Chain\t2024-01\t1', '\t2024-02\t2', 'Pedal\t2024-01\t4', '\t2024-02\t5'),
		['month', '2024-01', { Chain: [1, 2], Pedal: [4, 5] }],
	],
	[
		'long with year and month',
		t('Item;Year;Month;Demand', 'Chain;2023;12;1', 'Chain;2024;1;2', 'Pedal;2023;12;4', 'Pedal;2024;1;5'),
		['month', '2023-12', { Chain: [1, 2], Pedal: [4, 5] }],
	],
	[
		'numeric codes in the long form',
		t(
			'Code;Date;Qty',
			'70214;31.01.2024;1',
			'70214;29.02.2024;2',
			'70215;31.01.2024;4',
			'70215;29.02.2024;5',
		),
		['month', '2024-01', { '70214': [1, 2], '70215': [4, 5] }],
	],
	[
		'item and year down, months across',
		t(
			'Item\tYear\tJan\tFeb\tMar',
			'Chain\t2023\t1\t2\t3',
			'Chain\t2024\t4\t5\t6',
			'Pedal\t2023\t7\t8\t9',
			'Pedal\t2024\t10\t11\t12',
		),
		[
			'month',
			'2023-01',
			{
				Chain: [1, 2, 3, null, null, null, null, null, null, null, null, null, 4, 5, 6],
				Pedal: [7, 8, 9, null, null, null, null, null, null, null, null, null, 10, 11, 12],
			},
		],
	],
	[
		'items down, no periods',
		t('Chain\t1\t2\t3', 'Pedal\t4\t5\t6'),
		['step', 1, { Chain: [1, 2, 3], Pedal: [4, 5, 6] }],
	],
	[
		'items across, no periods',
		t('Chain;Pedal', '1;4', '2;5', '3;6'),
		['step', 1, { Chain: [1, 2, 3], Pedal: [4, 5, 6] }],
	],
	[
		'columns without a name',
		t('1;4', '7;5', '3;6'),
		['step', 1, { 'column 1': [1, 7, 3], 'column 2': [4, 5, 6] }],
	],
	[
		'a total of all items, by its label',
		t('Month\tChain\tPedal\tTotal', '2024-01\t1\t4\t5', '2024-02\t2\t5\t7'),
		['month', '2024-01', { Chain: [1, 2], Pedal: [4, 5] }],
	],
	[
		'a total of all items, by its sum',
		t(
			'Month\tChain\tPedal\tBell\tDepot',
			'2024-01\t1\t4\t8\t13',
			'2024-02\t2\t5\t9\t16',
			'2024-03\t2\t6\t9\t17',
		),
		['month', '2024-01', { Chain: [1, 2, 2], Pedal: [4, 5, 6], Bell: [8, 9, 9] }],
	],
	[
		'a row of sums without a label',
		t('\t2024-01\t2024-02\t2024-03', 'Chain\t1\t2\t2', 'Pedal\t4\t5\t6', 'Bell\t8\t9\t9', '\t13\t16\t17'),
		['month', '2024-01', { Chain: [1, 2, 2], Pedal: [4, 5, 6], Bell: [8, 9, 9] }],
	],
	[
		'figures in two spellings',
		t('Month\tA\tB', '2024-01\t1,5\t1.5', '2024-02\t2,25\t2.25'),
		['month', '2024-01', { A: [1.5, 2.25], B: [1.5, 2.25] }],
	],
	[
		'a discontinued item',
		t('Month;A;B', '2024-01;1;4', '2024-02;2;5', '2024-03;;6'),
		['month', '2024-01', { A: [1, 2], B: [4, 5, 6] }],
	],
];

const JSON_TEXTS: Case[] = [
	['a JSON list', '[412, 398, null, 440.5]', ['step', 1, [412, 398, null, 440.5]]],
	[
		'JSON objects',
		'[{"period":"2024-01","demand":1.125},{"period":"2024-02","demand":2.25}]',
		['month', '2024-01', { demand: [1.125, 2.25] }],
	],
	[
		'JSON objects, long',
		'[{"item":"A","month":"2024-01","qty":1},{"item":"B","month":"2024-01","qty":3},{"item":"A","month":"2024-02","qty":2},{"item":"B","month":"2024-02","qty":4}]',
		['month', '2024-01', { A: [1, 2], B: [3, 4] }],
	],
	[
		'JSON columns',
		'{"month":["2024-01","2024-02"],"Chain":[1,2],"Pedal":[4,5]}',
		['month', '2024-01', { Chain: [1, 2], Pedal: [4, 5] }],
	],
	['JSON by period', '{"2024-01": 412, "2024-02": 398}', ['month', '2024-01', [412, 398]]],
	[
		'JSON, wrapped',
		'{"depot":"Kestrel Bay","rows":[["2024-01",1],["2024-02",2]]}',
		['month', '2024-01', [1, 2]],
	],
];

testShaped('one item', ONE);
testShaped('cycles and seasons', CYCLES);
testShaped('blocks', BLOCKS);
testShaped('many items', MANY);
testShaped('JSON', JSON_TEXTS);
