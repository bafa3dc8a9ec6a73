import { expect, test } from 'vitest';
import { neverBelow, shownRange } from './shown';

test('of demand that never was below zero no end of a range is shown there', () => {
	expect(neverBelow([4, null, 0])).toBe(true);
	expect(neverBelow([4, null, -0.1])).toBe(false);
	expect(shownRange([-74.2, 20], true)).toEqual([0, 20]);
	expect(shownRange([-74.2, -1], true)).toEqual([0, 0]);
	expect(shownRange([-74.2, 20], false)).toEqual([-74.2, 20]);
	expect(shownRange(undefined, true)).toBeNull();
});
