import { describe, expect, test } from 'vitest';
import { workOut } from '../../../tests/support/calculator';
import { prepareSeries } from '../series/series';
import { spelledSentence } from '../questions/working-table';
import type { SeasonKind } from '../seasons/indices';
import type { IndexInput } from '../seasons/settings';
import { seasonTable, type TablePlace } from './season-table';

const RULES = [
	'ratio-to-overall',
	'ratio-to-cycle-mean',
	'ratio-to-moving-average',
	'ratio-to-trend',
] as const;
const VALUES = [205, 171, 125, 160, 221, 178, 131, 173, null, 195, 140, 181, 249, 204, 151];
const group = {
	name: 'Tyres',
	values: [...VALUES.map((value) => (value ?? 150) * 3), 600],
	start: '2021-Q3',
};
const series = prepareSeries({ values: VALUES, frequency: 'quarter', start: '2021-Q3', group }, 'skip');

const cases: { name: string; kind: SeasonKind; input: IndexInput }[] = (
	['multiplicative', 'additive'] as const
).flatMap((kind) =>
	RULES.flatMap((rule) =>
		[
			{ rule },
			{ rule, average: 'median' as const },
			{ rule, cycles: 2 },
			{ rule, normalise: false },
			{ rule, held: [kind === 'additive' ? -31.5 : 0.83, null, null, null] },
			{ rule, lent: 'both' as const },
		].map((input) => ({ name: `${kind} ${JSON.stringify(input)}`, kind, input })),
	),
);

test.each(cases)('every figure under $name works out', ({ kind, input }) => {
	const table = seasonTable(series, kind, input);
	let sentences = 0;
	const check = (place: TablePlace, value: number | null) => {
		const spelled = table.explain(place);
		if (value === null) return expect(spelled).toBeNull();
		const text = spelledSentence('It', spelled!, value, 4);
		const { worth, shown } = workOut(text);
		expect(worth, text).toBeCloseTo(value, 3);
		expect(shown).toBe(value.toFixed(4).replace('-', '−'));
		sentences++;
	};
	for (const { cells } of table.rows) {
		for (const cell of cells) {
			if (!cell) continue;
			check({ of: 'base', t: cell.t }, cell.base);
			check({ of: 'ratio', t: cell.t }, cell.ratio);
		}
	}
	for (let season = 0; season < 4; season++) {
		for (const of of ['average', 'before', 'after'] as const) check({ of, season }, table[of][season]!);
	}
	expect(sentences).toBeGreaterThan(12);
	const whole = kind === 'additive' ? 0 : 4;
	if (table.sums.after === null) expect(table.before).toContain(null);
	else if (input.normalise !== false) expect(table.sums.after).toBeCloseTo(whole, 9);
	else expect(table.sums.after).toBe(table.sums.before);
});

describe('the table', () => {
	test('lays periods into their cycles and seasons', () => {
		const { rows } = seasonTable(series, 'additive', { rule: 'ratio-to-overall' });
		expect(rows.map(({ cells }) => cells.map((cell) => cell && cell.value))).toEqual([
			[null, null, 205, 171],
			[125, 160, 221, 178],
			[131, 173, null, 195],
			[140, 181, 249, 204],
			[151, null, null, null],
		]);
		expect(rows[0]!.cells[0]).toBeNull();
		expect(rows[2]!.cells[2]).toMatchObject({ t: 9, ratio: null });
	});

	test('of indices that were found on a line: ratios to that line', () => {
		const found = { line: { intercept: 150, slope: 2 }, indices: [0.8, 0.9, 1.3, 1] };
		const table = seasonTable(series, 'multiplicative', { rule: 'given' }, found);
		expect(table.rows[1]!.cells[0]).toMatchObject({ t: 3, base: 156, ratio: 125 / 156 });
		expect(table.after).toEqual(found.indices);
		expect(table.sums.after).toBeCloseTo(4, 12);
		expect(table.explain({ of: 'after', season: 2 })!.remark).toBe('found together with the line');
	});

	test('what cannot be told is empty, not wrong', () => {
		const short = prepareSeries({ values: [3, 4, 5], frequency: 'quarter', start: '2021-Q1' }, 'skip');
		const { after, sums, average } = seasonTable(short, 'additive', { rule: 'ratio-to-overall' });
		expect(after).toEqual([null, null, null, null]);
		expect(average).toEqual([-1, 0, 1, null]);
		expect(sums).toEqual({ before: null, after: null });
	});
});
