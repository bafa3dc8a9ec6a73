import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
	compactScale,
	figure,
	finerScale,
	fixedFigure,
	inWords,
	scaled,
	scaledSigned,
	scaleOf,
	scaleWords,
	signed,
	usualScale,
	writeFigure,
	writtenDecimals,
} from './figure';

test.each<[number | null | undefined, number, string]>([
	[1234567.891, 1, '1\u202f234\u202f567.9'],
	[999.95, 1, '1\u202f000.0'],
	[-12.345, 2, '−12.35'],
	[-0.001, 1, '0.0'],
	[0, 0, '0'],
	[null, 2, '–'],
	[undefined, 2, '–'],
])('%s at %s decimals is %s', (value, decimals, text) => expect(figure(value, decimals)).toBe(text));

test('a sign stands before what is above and below zero, and not before zero', () => {
	expect([3.21, -3.21, 0, 0.001, null].map((value) => signed(value, 1))).toEqual([
		'+3.2',
		'−3.2',
		'0.0',
		'0.0',
		'–',
	]);
});

test.each([
	[0.1234, '0.123'],
	[12.345, '12.3'],
	[1234.5, '1\u202f235'],
	[654_321, '654\u202f321'],
	[1_234_567, '1.23 million'],
	[-98_765_432_100, '−98.8 billion'],
	[4.2e12, '4.20 trillion'],
	[7e15, '7.00 ×\u202f10¹⁵'],
	[-4.2, '−4.20'],
	[0.003141, '0.00314'],
	[0.0000123, '12.3 ×\u202f10⁻⁶'],
	[0, '0'],
])('by itself, %f is said as %s', (value, said) => expect(inWords(value)).toBe(said));

describe('a column', () => {
	test.each<[number[], string[], string]>([
		[[52.3, 41.2], ['52.3', '41.2'], ''],
		[[0.0063, 0.0105], ['0.00630', '0.01050'], ''],
		[[0, 12, 812], ['0.0', '12.0', '812.0'], ''],
		[[1.2e9, 9.4e8], ['1\u202f200', '940'], 'millions'],
		[[3.1e9, 9.4e4], ['3.1000', '0.0001'], 'billions'],
		[[3.1e-6, 2.25e-5], ['3.10', '22.50'], '×\u202f10⁻⁶'],
		[[4e17], ['400'], '×\u202f10¹⁵'],
		[[0.0001, 5000], ['≈\u202f0', '5\u202f000.0'], ''],
		[[1e-9, 0.5], ['≈\u202f0', '0.50000'], ''],
	])('of %j', (values, shown, head) => {
		const scale = scaleOf(values);
		expect(values.map((value) => scaled(value, scale))).toEqual(shown);
		expect(scaleWords(scale)).toBe(head);
	});

	test('of any size keeps its figures apart and within nine signs', () => {
		const sizes = fc.double({ min: 1e-12, max: 1e15, noNaN: true });
		fc.assert(
			fc.property(sizes, fc.double({ min: 1, max: 100, noNaN: true }), (low, ratio) => {
				const values = [low, low * ratio];
				const scale = scaleOf(values);
				for (const value of values) {
					const text = scaled(-value, scale);
					expect(text.length, `${value} as ${text}`).toBeLessThanOrEqual(9);
					const read = Number(text.replaceAll('\u202f', '').replace('−', '-')) * 10 ** scale.power;
					// At least two digits stand of the least of figures that differ a hundredfold.
					expect(Math.abs(read / -value - 1)).toBeLessThan(0.06);
				}
			}),
		);
	});

	test('that stands close to others has few signs', () => {
		expect(
			[
				[123.4, -45.6],
				[0.000847, 0.00002],
				[12_345, 67],
				[0, 0],
			].map((values) => {
				const scale = compactScale(values);
				return [...values.map((value) => scaled(value, scale)), scaleWords(scale)];
			}),
		).toEqual([
			['123', '−46', ''],
			['847', '20', '×\u202f10⁻⁶'],
			['12.3', '0.1', 'thousands'],
			['0', '0', ''],
		]);
	});

	test('of nothing but zeros and gaps stands as it is', () => {
		expect(scaleOf([0, null, NaN, undefined], 1)).toEqual({ power: 0, decimals: 1 });
		expect(scaled(0, { power: 0, decimals: 1 })).toBe('0.0');
		expect(scaledSigned(2.5e6, { power: 6, decimals: 1 })).toBe('+2.5');
	});
});

test('figures as large as those of a series show four digits of a usual one', () => {
	expect(
		[[1250, 1310], [412, 398], [34, 41], [4.2, 3.9], [0.031, 0.02], [2.5e6, 3e6], [3e-6], [1, 1, 4e8]].map(
			(values) => usualScale(values),
		),
	).toEqual([
		{ power: 0, decimals: 0 },
		{ power: 0, decimals: 1 },
		{ power: 0, decimals: 2 },
		{ power: 0, decimals: 3 },
		{ power: 0, decimals: 5 },
		{ power: 6, decimals: 3 },
		{ power: -6, decimals: 3 },
		{ power: 6, decimals: 9 },
	]);
	expect([[], [null], [0, 0]].map((values) => usualScale(values).decimals)).toEqual([1, 1, 1]);
	expect(finerScale({ power: 0, decimals: 1 }, 0.0123)).toEqual({ power: 0, decimals: 4 });
	expect(finerScale({ power: 0, decimals: 1 }, 812)).toEqual({ power: 0, decimals: 1 });
});

test('actuals keep the decimals they came with', () => {
	expect(
		[[4, 5, null], [4.25, 5.5], [1 / 3], [1.5e-6], [79311.2, 1e21]].map((values) => writtenDecimals(values)),
	).toEqual([0, 2, 12, 7, 1]);
});

test('halves go away from zero, whichever side of them binary lands on', () => {
	expect([1.005, 4.205, 2.675, -1.005, 0.5].map((value) => fixedFigure(value, 2))).toEqual([
		'1.01',
		'4.21',
		'2.68',
		'−1.01',
		'0.50',
	]);
	expect(fixedFigure(-0.0001, 2)).toBe('0.00');
	expect([12.5, 12, -3.1, 100].map((value) => writeFigure(value, 3))).toEqual(['12.5', '12', '−3.1', '100']);
});
