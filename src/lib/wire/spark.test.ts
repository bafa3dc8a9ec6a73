import fc from 'fast-check';
import { expect, test } from 'vitest';
import { readLine, writeLine } from './spark';

test('a line has a letter a figure, from the least to the greatest, and a gap where one is missing', () => {
	expect(readLine(writeLine([0, null, 30.5, 61]))).toEqual([0, null, 31, 61]);
	expect(writeLine([])).toBe('');
	expect(readLine(writeLine([7, 7, null]))).toEqual([0, 0, null]);
});

test('it keeps the order of figures of any size', () => {
	fc.assert(
		fc.property(fc.array(fc.double({ noNaN: true, noDefaultInfinity: true }), { minLength: 1 }), (values) => {
			const steps = readLine(writeLine(values)) as number[];
			values.forEach((value, i) =>
				values.forEach((other, j) => {
					if (value < other) expect(steps[i]!).toBeLessThanOrEqual(steps[j]!);
				}),
			);
			expect(Math.min(...steps)).toBe(0);
		}),
	);
});
