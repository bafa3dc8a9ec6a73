import fc from 'fast-check';
import { expect, test } from 'vitest';
import { decimalsFor, writtenDecimals } from './decimals';
import {
	compute,
	type Expression,
	figure,
	fixedFigure,
	mean,
	minus,
	over,
	plus,
	size,
	spell,
	spellOut,
	times,
	writeFigure,
} from './expression';

const plain = (value: number) => writeFigure(value, 6);

test.each<[Expression, string, number]>([
	[
		plus(times(figure(0.3), figure(412)), times(figure(0.7), figure(399.1))),
		'0.3 × 412 + 0.7 × 399.1',
		402.97,
	],
	[minus(figure(5), plus(figure(2), figure(1))), '5 − (2 + 1)', 2],
	[minus(minus(figure(5), figure(2)), figure(1)), '5 − 2 − 1', 2],
	[over(figure(12), times(figure(2), figure(3))), '12 ÷ (2 × 3)', 2],
	[times(figure(2), plus(figure(1), figure(3))), '2 × (1 + 3)', 8],
	[plus(figure(1), figure(-4)), '1 + (−4)', -3],
	[size(minus(figure(1), figure(4))), '|1 − 4|', 3],
	[mean([figure(4), figure(8)]), '(4 + 8) ÷ 2', 6],
	[mean([figure(4)]), '4 ÷ 1', 4],
])('%j is spelled %s', (expression, text, value) => {
	expect(spell(expression, plain)).toBe(text);
	expect(compute(expression)).toBeCloseTo(value, 12);
});

test('as few decimals as make the shown figures come out at the shown result', () => {
	expect(spellOut(times(figure(2), figure(3)), 6, 1)).toBe('2 × 3 = 6.0');
	// At one decimal 0.3 × 3.3 would be 0.99; the figures behind it give 1.1.
	const third = times(figure(1 / 3), figure(10 / 3));
	expect(spellOut(third, compute(third), 1)).toMatch(/^0\.33+ × 3\.3+ = 1\.1$/);
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

test('a spelled sum reads back to its value', () => {
	const figures = fc.array(fc.integer({ min: -999, max: 999 }), { minLength: 2, maxLength: 6 });
	fc.assert(
		fc.property(figures, (values) => {
			const text = spell(plus(...values.map(figure)), plain);
			const read = text.split(' + ').map((part) => Number(part.replace(/[()]/g, '').replace('−', '-')));
			expect(read).toEqual(values.map((value) => value + 0));
		}),
	);
});

test('decimals fit the size of a series, and actuals keep those they came with', () => {
	expect(
		[
			[1250, 1310],
			[412, 398],
			[34, 41],
			[4.2, 3.9],
			[0.031, 0.02],
		].map(decimalsFor),
	).toEqual([0, 1, 2, 3, 5]);
	expect([[], [null], [0, 0]].map(decimalsFor)).toEqual([1, 1, 1]);
	expect([[4, 5, null], [4.25, 5.5], [1 / 3]].map(writtenDecimals)).toEqual([0, 2, 6]);
});
