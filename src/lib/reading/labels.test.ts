import { describe, expect, test } from 'vitest';
import { lines } from '../../../tests/support/shaped';
import { readText } from './read';

const labelled = (text: string, choices = {}) => {
	const { labels, items } = readText(text, choices);
	return { labels, items: Object.fromEntries(items.map(({ code, labels: own }) => [code, own])) };
};

describe('columns that label items', () => {
	test('by their heading, beside code and name; blank where none is given', () => {
		const text = lines(
			'Item;Name;Family;Site;2024-01;2024-02',
			'K-1;Chain;Drivetrain;North;4;5',
			'K-2;Cassette;Drivetrain;South;6;7',
			'K-3;Bell, brass;;North;8;9',
		);
		expect(labelled(text)).toEqual({
			labels: ['Family', 'Site'],
			items: { 'K-1': ['Drivetrain', 'North'], 'K-2': ['Drivetrain', 'South'], 'K-3': ['', 'North'] },
		});
	});

	test('by words that several items share, whatever they are headed', () => {
		const text = lines(
			'SKU,Moves,Month,Qty',
			...['A', 'B', 'C', 'D', 'E', 'F'].flatMap((code, i) =>
				[1, 2, 3].map((m) => `${code},${i % 2 ? 'fast' : 'slow'},2024-0${m},${10 * i + m}`),
			),
		);
		expect(labelled(text)).toMatchObject({ labels: ['Moves'], items: { A: ['slow'], F: ['fast'] } });
	});

	test('a row over the items, merged over those that it holds for', () => {
		const text = lines(
			'\tBrakes\t\tWheels\t\t\tTotal',
			'Month\tK-1\tK-2\tK-3\tK-4\tK-5\t',
			'Jan 2024\t4\t5\t6\t7\t8\t30',
			'Feb 2024\t5\t6\t7\t8\t9\t35',
			'Mar 2024\t6\t5\t4\t3\t2\t20',
		);
		expect(labelled(text)).toEqual({
			labels: ['label'],
			items: {
				'K-1': ['Brakes'],
				'K-2': ['Brakes'],
				'K-3': ['Wheels'],
				'K-4': ['Wheels'],
				'K-5': ['Wheels'],
			},
		});
	});

	test('codes of digits under a heading of labels', () => {
		const text = lines('Item\tSite\t2024-01\t2024-02', 'A\t101\t4\t5', 'B\t102\t6\t7', 'C\t101\t8\t9');
		expect(labelled(text)).toMatchObject({ labels: ['Site'], items: { A: ['101'], B: ['102'] } });
	});

	test('chosen by hand, two of one heading; a word that changes within an item is said', () => {
		const text = lines(
			'Item;Mark;Mark;Month;Qty',
			'A;x1;red;2024-01;4',
			'A;x1;blue;2024-02;5',
			'B;x2;red;2024-01;6',
			'B;x2;red;2024-02;7',
		);
		const choices = { columns: { 1: 'label', 2: 'label' } } as const;
		expect(labelled(text, choices)).toEqual({
			labels: ['Mark', 'Mark 2'],
			items: { A: ['x1', 'red'], B: ['x2', 'red'] },
		});
		const doubt = readText(text, choices).doubts.find(({ code }) => code === 'labels');
		expect(doubt?.text).toBe('Of labels an item keeps the first: one item has several for “Mark 2”.');
	});

	test('a region that parts the lines of an item is no label of it, and can be taken to part items', () => {
		const text = lines(
			'Region,Product,Month,Units',
			...['Saddle', 'Grip'].flatMap((product, i) =>
				['North', 'South'].flatMap((region, r) =>
					[1, 2, 3].map((m) => `${region},${product},2024-0${m},${10 * i + r + m}`),
				),
			),
		);
		const reading = readText(text);
		expect([reading.labels, reading.items.map(({ values }) => values)]).toEqual([
			[],
			[
				[3, 5, 7],
				[23, 25, 27],
			],
		]);
		const doubt = reading.doubts.find(({ code }) => code === 'duplicates')!;
		expect(doubt.text).toBe('2 items have months given more than once: summed over “Region”.');
		const apart = doubt.options.find(({ label }) => label === 'an item for each “Region”')!;
		expect(
			readText(text, apart.choices)
				.items.map(({ code }) => code)
				.sort(),
		).toEqual(['North · Grip', 'North · Saddle', 'South · Grip', 'South · Saddle']);
	});

	test('names and constants are no labels', () => {
		const text = lines('Item;Description;Year to date;2024-01;2024-02', 'A;Chain;yes;4;5', 'B;Chain;yes;6;7');
		expect(labelled(text).labels).toEqual([]);
	});
});

describe('several units in one column', () => {
	const text = lines(
		'Item,Month,Qty,Unit',
		...[1, 2, 3, 4].flatMap((m) => [`A,2024-0${m},${m},pcs`, `A,2024-0${m},1,box`, `B,2024-0${m},${m},Stk`]),
		'B,2024-05,9,pcs.',
	);
	const items = (choices = {}) =>
		Object.fromEntries(
			readText(text, choices).items.map(({ code, values, unit }) => [code, [...values, unit]]),
		);

	test('those after the first are an item of their own, unless they are left out or count the same', () => {
		const b = [1, 2, 3, 4, 9, 'Stk'];
		expect(items()).toEqual({ A: [1, 2, 3, 4, 'pcs'], 'A · box': [1, 1, 1, 1, 'box'], B: b });
		expect(items({ units: 'leave' })).toEqual({ A: [1, 2, 3, 4, 'pcs'], B: b });
		expect(items({ units: 'same' })).toEqual({ A: [2, 3, 4, 5, 'pcs'], B: b });
	});

	test('it is said, each other way one press away', () => {
		const doubt = readText(text).doubts.find(({ code }) => code === 'units')!;
		expect(doubt.text).toBe('4 figures of A are in box beside others in pcs: kept apart, as “A · box”.');
		expect(doubt.options.map(({ choices }) => choices)).toEqual([{ units: 'leave' }, { units: 'same' }]);
	});

	test('items that are each in a unit of their own need no word', () => {
		const plain = lines('Item,2024-01,2024-02', 'A,4 kg,5 kg', 'B,6 pcs,7 pcs');
		expect(readText(plain).doubts).toEqual([]);
	});
});

describe('cancelled lines', () => {
	const text = lines(
		'Date;Item;Qty;Cancelled',
		...Array.from(
			{ length: 40 },
			(_, i) =>
				`2024-0${1 + Math.floor(i / 14)}-${String(1 + (i % 14) * 2).padStart(2, '0')};A;1;${i % 10 === 3 ? 'yes' : ''}`,
		),
		'2024-01-05;A;1;no',
	);
	test('are left out and counted; taken all the same by one press', () => {
		const reading = readText(text, { frequency: 'month', ends: 'take' });
		expect(reading.items[0]!.values).toEqual([13, 13, 11]);
		const doubt = reading.doubts.find(({ code }) => code === 'cancelled')!;
		expect(doubt.text).toBe('4 lines say that they were cancelled: left out.');
		const taken = readText(text, { frequency: 'month', ends: 'take', ...doubt.options[0]!.choices });
		expect(taken.items[0]!.values).toEqual([15, 14, 12]);
	});
});
