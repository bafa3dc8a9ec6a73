import { expect, test } from 'vitest';
import { ASKED_ALL } from '../../wire/asked';
import { Ticks } from './ticks.svelte';

test('some are ticked, or all but some, whichever way it came about', async () => {
	const ticks = new Ticks();
	ticks.toggle('A');
	ticks.set(['B', 'C'], true);
	ticks.toggle('B');
	expect([ticks.has('A'), ticks.has('B'), ticks.count(9)]).toEqual([true, false, 2]);
	expect(ticks.named(ASKED_ALL)).toEqual({ codes: ['A', 'C'] });
	ticks.setAll(true);
	expect([ticks.has('B'), ticks.has('Z'), ticks.count(9)]).toEqual([true, true, 9]);
	ticks.toggle('Z');
	ticks.set(['Y', 'Z'], false);
	expect([ticks.has('Z'), ticks.count(9)]).toEqual([false, 7]);
	expect(ticks.named(ASKED_ALL)).toEqual({ asked: ASKED_ALL, except: ['Z', 'Y'] });
	const rows = { all: () => Promise.resolve(['W', 'X', 'Y', 'Z'].map((code) => ({ code }))) };
	expect(await ticks.codesOf(rows)).toEqual(['W', 'X']);
	ticks.setAll(false);
	expect([ticks.count(9), ticks.named(ASKED_ALL)]).toEqual([0, { codes: [] }]);
});

test('a range is ticked as the row is that it begins with, whatever of it is there', async () => {
	const codes = Array.from({ length: 9 }, (_, i) => ({ code: `R${i}` }));
	const rows = {
		row: (index: number) => (index < 3 || index === 7 ? codes[index] : undefined),
		between: (from: number, to: number) => Promise.resolve(codes.slice(from, to + 1)),
	};
	const ticks = new Ticks();
	await ticks.take(rows, 2, false);
	await ticks.take(rows, 7, true);
	expect(codes.filter(({ code }) => ticks.has(code)).map(({ code }) => code)).toEqual([
		'R2',
		'R3',
		'R4',
		'R5',
		'R6',
		'R7',
	]);
	// Back again: what the range begins with is taken off, and the range with it.
	await ticks.take(rows, 7, false);
	await ticks.take(rows, 2, true);
	expect(ticks.count(9)).toBe(0);
	await ticks.take(rows, 5, false);
	expect(ticks.count(9)).toBe(0);
});
