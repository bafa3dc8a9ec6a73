import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { finalFigure, NO_ROUNDING, rounded } from './final';

describe('what is handed over', () => {
	test('a figure put in by hand or times a rate, in whole packs, not below the floor', () => {
		const packs = { pack: 25, way: 'nearest' as const, floor: 0 };
		expect(finalFigure(203.4, undefined, NO_ROUNDING)).toBe(203.4);
		expect(finalFigure(203.4, { kind: 'rate', rate: 1.1 }, NO_ROUNDING)).toBeCloseTo(223.74, 9);
		expect(finalFigure(203.4, { kind: 'to', figure: 240 }, packs)).toBe(250);
		expect(finalFigure(203.4, undefined, packs)).toBe(200);
		expect(finalFigure(203.4, undefined, { ...packs, way: 'up' })).toBe(225);
		expect(finalFigure(-3, undefined, packs)).toBe(0);
	});

	test('a floor between two packs is reached', () => {
		expect(rounded(3, { pack: 25, way: 'nearest', floor: 10 })).toBe(25);
		expect(rounded(3, { pack: null, way: 'nearest', floor: 10 })).toBe(10);
	});

	test('what is whole already stays, whatever the machine makes of it', () => {
		expect(rounded(0.1 + 0.2, { pack: 0.1, way: 'up', floor: null })).toBe(0.3);
		expect(rounded(2.5, { pack: 1, way: 'nearest', floor: null })).toBe(3);
		expect(rounded(-2.5, { pack: 1, way: 'nearest', floor: null })).toBe(-3);
		expect(Object.is(rounded(-0.2, { pack: 1, way: 'nearest', floor: null }), 0)).toBe(true);
	});

	test('laws: whole packs, within one of the figure, never below the floor, and once is enough', () => {
		fc.assert(
			fc.property(
				fc.double({ min: -1e6, max: 1e6, noNaN: true }),
				fc.constantFrom(0.1, 0.5, 1, 12, 25, 144),
				fc.constantFrom('nearest' as const, 'up' as const),
				fc.option(fc.integer({ min: -100, max: 1000 })),
				(figure, pack, way, floor) => {
					const once = rounded(figure, { pack, way, floor });
					expect(Math.abs(once / pack - Math.round(once / pack))).toBeLessThan(1e-6);
					if (floor !== null) expect(once).toBeGreaterThanOrEqual(floor - 1e-6 * pack);
					if (floor === null)
						expect(Math.abs(once - figure)).toBeLessThanOrEqual(way === 'up' ? pack : pack * 0.500001);
					if (way === 'up') expect(once).toBeGreaterThanOrEqual(figure - 1e-6 * pack);
					expect(rounded(once, { pack, way, floor })).toBe(once);
				},
			),
		);
	});
});
