import { expect, test } from 'vitest';
import { panelSeries } from '../../../tests/made/panel';
import { evaluate, EvaluateMemory } from './evaluate';
import { Memory } from './memory';

const { values } = panelSeries(11);
const request = (list: (number | null)[], alpha: number) => ({
	series: { values: list, frequency: 'step', seasonLength: 4 },
	candidates: [
		{ id: 'a', method: 'ses', constants: { alpha } },
		{ id: 'b', method: 'holt-winters', season: 'additive', optimise: { criterion: 'mad' } },
		{ id: 'c', method: 'holt', optimise: {}, start: { rule: 'optimised' } },
	],
});

test('with a memory every answer is the same as without, whatever is asked in between', () => {
	const memory = new EvaluateMemory();
	for (const list of [values, values.slice(1), values]) {
		for (const alpha of [0.1, 0.7]) {
			expect(evaluate(request(list, alpha), memory)).toEqual(evaluate(request(list, alpha)));
		}
	}
	for (const change of [
		{ scoreFrom: 20 },
		{ horizon: 3 },
		{ holdout: 5 },
		{ detail: 'summary' },
		{ levels: [0.5] },
		{},
	]) {
		const changed = { ...request(values, 0.1), ...change };
		expect(evaluate(changed, memory)).toEqual(evaluate(changed));
	}
	// Fewer candidates share more periods: what is compared changes for those that stay.
	const fewer = { ...request(values, 0.1), candidates: request(values, 0.1).candidates.slice(0, 2) };
	expect(evaluate(fewer, memory)).toEqual(evaluate(fewer));
	expect(evaluate(request(values, 0.1), memory)).toEqual(evaluate(request(values, 0.1)));
});

test('a memory makes each thing once, and forgets with its subject or when told', () => {
	const memory = new Memory<number>();
	let made = 0;
	const ask = (key: string) => memory.recall(key, () => ++made);
	memory.about('one');
	expect([ask('a'), ask('b'), ask('a')]).toEqual([1, 2, 1]);
	memory.about('one');
	expect(ask('b')).toBe(2);
	memory.keepOnly(new Set(['b']));
	expect([ask('b'), ask('a')]).toEqual([2, 3]);
	memory.about('another');
	expect(ask('b')).toBe(4);
});
