import { expect, test } from 'vitest';
import { steady } from './steady';

test('a list is given again until something in it is another', () => {
	const held = steady<{ id: string; result: object }>();
	const [one, other] = [{}, {}];
	const first = held([{ id: 'a', result: one }]);
	expect(held([{ id: 'a', result: one }])).toBe(first);
	const second = held([{ id: 'a', result: other }]);
	expect(second).toEqual([{ id: 'a', result: other }]);
	expect(second).not.toBe(first);
	expect(held([])).toEqual([]);
});
