import fc from 'fast-check';
import { expect, test } from 'vitest';
import { writeFigure } from '../numbers/figure';
import { compute, figure, mean, minus, over, plus, size, spell, spellOut, times } from './expression';
import type { Expression } from '../contract/working';

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
