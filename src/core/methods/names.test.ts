import { expect, test } from 'vitest';
import { distinctNames } from './names';
import type { Candidate } from './registry';

test('candidates of one label are told apart by their constants, and those of the same constants by place', () => {
	const candidates: Candidate[] = [
		{ id: 'a', method: 'ses', constants: { alpha: 0.3 } },
		{ id: 'b', method: 'ses', optimise: {} },
		{ id: 'c', method: 'naive' },
		{ id: 'd', method: 'moving-average', span: 3 },
		{ id: 'e', method: 'moving-average', span: 3 },
	];
	const names = distinctNames(candidates, (id) => (id === 'b' ? { alpha: 0.4167 } : undefined));
	expect([...names.values()]).toEqual([
		'Simple exponential smoothing α 0.30',
		'Simple exponential smoothing α 0.42',
		'Naive',
		'Moving average of 3 (1)',
		'Moving average of 3 (2)',
	]);
});
