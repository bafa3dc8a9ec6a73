import { expect, test } from 'vitest';
import { History } from './history';

test('undo and redo walk the steps; a new step drops what was undone', () => {
	const history = new History('a');
	history.push('b');
	history.push('c');
	expect([history.undo(), history.now, history.undo(), history.now, history.undo()]).toEqual([
		true,
		'b',
		true,
		'a',
		false,
	]);
	expect([history.redo(), history.now]).toEqual([true, 'b']);
	history.push('d');
	expect([history.canRedo, history.undo(), history.now]).toEqual([false, true, 'b']);
});

test('one stroke of a dial is one step, the next stroke another', () => {
	const history = new History(0);
	for (const value of [1, 2, 3]) history.push(value, 'alpha');
	history.lift();
	for (const value of [4, 5]) history.push(value, 'alpha');
	expect([history.undo(), history.now, history.undo(), history.now]).toEqual([true, 3, true, 0]);
});

test('the oldest steps are let go', () => {
	const history = new History(0, 3);
	for (let i = 1; i <= 10; i++) history.push(i);
	while (history.undo());
	expect(history.now).toBe(7);
});
