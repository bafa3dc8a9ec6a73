import { expect, test } from 'vitest';
import { ASKED_ALL } from '../../asked';
import { Ticks } from './ticks.svelte';

test('some are ticked, or all but some, whichever way it came about', () => {
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
	ticks.setAll(false);
	expect([ticks.count(9), ticks.named(ASKED_ALL)]).toEqual([0, { codes: [] }]);
});
