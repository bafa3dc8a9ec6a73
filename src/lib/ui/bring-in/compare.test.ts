import { expect, test } from 'vitest';
import { compareItem, comparisonWords } from './compare';

const item = (first: number, values: (number | null)[]) => ({
	code: 'A',
	name: 'A',
	unit: '',
	first,
	values,
	problem: null,
	remarks: [],
	labels: ['Brakes', ''],
});
const monthly = { frequency: 'month' as const, labels: ['Family', 'Site'] };
const stored = {
	code: 'A',
	name: 'A',
	unit: '',
	frequency: 'month' as const,
	first: 100,
	values: [1, null, 3],
	labels: [
		['Family', 'Brakes'],
		['Site', 'North'],
	] as [string, string][],
};

test('an item that is kept: what is new, what differs with the old figure beside it, what is the same', () => {
	const comparison = compareItem(item(100, [1, 2, 4, 5, 6]), monthly, stored);
	expect(comparison).toEqual({
		// One of them in a hole of what is kept.
		added: 3,
		corrected: [{ period: 102, from: 3, to: 4 }],
		same: 1,
		relabelled: [],
		problem: null,
	});
	expect(comparisonWords(comparison, false, 'month')).toBe('3 new, 1 differs, 1 the same');
});

test('a blank takes nothing away, and earlier periods are new ones', () => {
	const comparison = compareItem(item(98, [7, 8, null, null, null]), monthly, stored);
	expect(comparisonWords(comparison, false, 'month')).toBe('2 new, 3 the same');
});

test('an item that is not kept is new; one at another frequency is refused', () => {
	expect(
		comparisonWords(compareItem(item(5, [1]), { ...monthly, frequency: 'week' }, null), true, 'week'),
	).toBe('new item, 1 week');
	expect(compareItem(item(5, [1]), { ...monthly, frequency: 'week' }, stored).problem).toBe(
		'it is saved by the month, and the table is by the week',
	);
});

test('labels that it is given or that change are said; a blank takes none away', () => {
	const comparison = compareItem(item(100, [1]), monthly, {
		...stored,
		labels: [
			['Family', 'Wheels'],
			['Site', 'North'],
		],
	});
	expect(comparison.relabelled).toEqual(['Family: Wheels → Brakes']);
	expect(comparisonWords(comparison, false, 'month')).toBe('1 the same, Family: Wheels → Brakes');
	expect(compareItem(item(100, [1]), monthly, { ...stored, labels: [] }).relabelled).toEqual([
		'Family: Brakes',
	]);
});
