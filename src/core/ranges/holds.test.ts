import { expect, test } from 'vitest';
import { holds } from './holds';

test('a range holds its ends, also where they were added up in another order', () => {
	expect([holds([1, 3], 1), holds([1, 3], 3), holds([1, 3], 2)]).toEqual([true, true, true]);
	expect([holds([1, 3], 0.999), holds([1, 3], 3.001)]).toEqual([false, false]);
	// A combination of ten forecasts that are all 7.
	const seven = Array.from({ length: 10 }, () => 0.1 * 7).reduce((sum, part) => sum + part, 0);
	expect(seven).not.toBe(7);
	expect(holds([seven, seven], 7)).toBe(true);
	expect([holds([0, 0], 0), holds([0, 0], 1e-12), holds([-Infinity, 2], -1e300)]).toEqual([
		true,
		false,
		true,
	]);
});
