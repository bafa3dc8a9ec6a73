import fc from 'fast-check';
import { expect, test } from 'vitest';
import { thinned } from './thin';

const figures = fc.array(fc.option(fc.integer({ min: -50, max: 50 }), { nil: null }), {
	minLength: 1,
	maxLength: 300,
});

test('few enough figures are all drawn, each at its place', () => {
	fc.assert(
		fc.property(figures, (list) => {
			expect(thinned(list, 0, list.length - 1, 2 * list.length)).toEqual(list.map((value, i) => [i, value]));
		}),
	);
	expect(thinned(Float64Array.of(1, NaN, 3), 1, 9)).toEqual([
		[1, null],
		[2, 3],
	]);
});

test('thinned, points stay in order and on their figures, no more than asked for, and keep the lowest and the highest', () => {
	fc.assert(
		fc.property(figures, fc.integer({ min: 4, max: 60 }), (list, most) => {
			const points = thinned(list, 0, list.length - 1, most);
			expect(points.length).toBeLessThanOrEqual(most + 2);
			const positions = points.map(([position]) => position);
			expect(positions).toEqual([...new Set(positions)].sort((a, b) => a - b));
			const drawn = points.filter(([, value]) => value !== null);
			for (const [position, value] of drawn) expect(list[position]).toBe(value);
			const known = list.filter((value) => value !== null);
			fc.pre(known.length > 0);
			expect(Math.min(...drawn.map(([, value]) => value!))).toBe(Math.min(...known));
			expect(Math.max(...drawn.map(([, value]) => value!))).toBe(Math.max(...known));
		}),
	);
});
