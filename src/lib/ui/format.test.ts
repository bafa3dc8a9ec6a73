import { expect, test } from 'vitest';
import { figure, signed, squareDecimals } from './format';

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

test('squares have fewer decimals, never below none', () => {
	expect([0, 1, 3].map(squareDecimals)).toEqual([0, 0, 2]);
});
