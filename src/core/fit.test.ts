import { expect, test } from 'vitest';
import { panelSeries } from '../../tests/support/panel';
import { evaluate } from './evaluate';
import { SearchMemory } from './fit';

const { values } = panelSeries(11);
const request = (list: (number | null)[], alpha: number) => ({
	series: { values: list, frequency: 'step', seasonLength: 4 },
	candidates: [
		{ id: 'a', method: 'ses', constants: { alpha } },
		{ id: 'b', method: 'holt-winters', season: 'additive', optimise: { criterion: 'mad' } },
		{ id: 'c', method: 'holt', optimise: {}, start: { rule: 'optimised' } },
	],
});

test('with searches kept in mind every answer is the same as without, whatever is asked in between', () => {
	const memory = new SearchMemory();
	for (const list of [values, values.slice(1), values]) {
		for (const alpha of [0.1, 0.7]) {
			expect(evaluate(request(list, alpha), memory)).toEqual(evaluate(request(list, alpha)));
		}
	}
	expect(evaluate({ ...request(values, 0.1), scoreFrom: 20 }, memory)).toEqual(
		evaluate({ ...request(values, 0.1), scoreFrom: 20 }),
	);
});

test('what was found for a candidate is not searched again while the series stays', () => {
	const memory = new SearchMemory();
	let searches = 0;
	const search = () => {
		searches++;
		return { parameters: new Float64Array(0), searched: 0 } as never;
	};
	memory.about('one');
	const first = memory.recall({ id: 'a', method: 'ses', optimise: {} }, null, search);
	expect(memory.recall({ id: 'twin', method: 'ses', optimise: {} }, null, search)).toBe(first);
	memory.recall({ id: 'a', method: 'ses', optimise: { criterion: 'mad' } }, null, search);
	memory.recall({ id: 'a', method: 'ses', optimise: {} }, 5, search);
	expect(searches).toBe(3);
	memory.about('another');
	memory.recall({ id: 'a', method: 'ses', optimise: {} }, null, search);
	expect(searches).toBe(4);
});
