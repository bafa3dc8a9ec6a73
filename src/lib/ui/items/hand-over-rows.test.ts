import { expect, test } from 'vitest';
import type { Forecast } from '../../wire/records';
import { acrossRows, longRows } from './hand-over-rows';

const NOV = 2026 * 12 + 10;
const forecast = (
	code: string,
	first: number,
	finals: number[],
	frequency: Forecast['frequency'] = 'month',
): Forecast => ({
	code,
	name: `Item ${code}`,
	unit: 'pieces',
	frequency,
	adopted: { id: 1, label: 'Drift', at: '2026-11-03T08:00:00Z', by: 'anna' },
	first,
	steps: finals.map((final, i) => ({
		period: `p${i}`,
		computed: final - 0.5,
		final,
		ranges: { '0.95': [final - 9, final + 9] },
		reason: i === 1 ? 'a fair' : null,
	})),
	total: { computed: finals.reduce((a, b) => a + b - 0.5, 0), final: finals.reduce((a, b) => a + b, 0) },
});
const TWO = [forecast('A', NOV, [10, 12]), forecast('B', NOV + 1, [5]), forecast('C', 2027, [9], 'year')];

test('a row for each period, and the sum of each item', () => {
	const [head, ...rows] = longRows(TWO, { computed: false, level: null });
	expect(head).toEqual(['code', 'name', 'unit', 'period', 'final forecast', 'method', 'adopted', 'by']);
	expect(rows.map((row) => [row[0], row[3], row[4]])).toEqual([
		['A', 'Nov 2026', 10],
		['A', 'Dec 2026', 12],
		['A', 'sum of 2', 22],
		['B', 'Dec 2026', 5],
		['B', 'sum of 1', 5],
		['C', '2027', 9],
		['C', 'sum of 1', 9],
	]);
	const [, , second] = longRows(TWO, { computed: true, level: '0.95' });
	expect(second!.slice(4, 9)).toEqual([12, 11.5, 'a fair', 3, 21]);
	for (const row of longRows(TWO, { computed: true, level: '0.95' })) expect(row).toHaveLength(12);
});

test('periods across: those of one frequency, each in its place, with the sum', () => {
	expect(acrossRows(TWO, 'month', { computed: false, level: null })).toEqual([
		['code', 'name', 'unit', 'Nov 2026', 'Dec 2026', 'sum'],
		['A', 'Item A', 'pieces', 10, 12, 22],
		['B', 'Item B', 'pieces', null, 5, 5],
	]);
	const all = acrossRows(TWO, 'month', { computed: true, level: '0.95' });
	expect(all.slice(1, 5).map((row) => row.slice(3))).toEqual([
		['final forecast', 10, 12, 22],
		['computed', 9.5, 11.5, 21],
		['low 95 %', 1, 3, null],
		['high 95 %', 19, 21, null],
	]);
	expect(acrossRows(TWO, 'week', { computed: false, level: null })).toHaveLength(1);
});
