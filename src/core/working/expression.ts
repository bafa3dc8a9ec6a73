import type { Expression, Operator } from '../contract/working';
import { fixedFigure, grouped, writeFigure } from '../numbers/figure';

const RANK: Readonly<Record<Operator, number>> = { '+': 1, '−': 1, '×': 2, '÷': 2 };

export const figure = (value: number): Expression => ({ kind: 'figure', value });
export const size = (of: Expression): Expression => ({ kind: 'size', of });
export const plus = (...parts: Expression[]): Expression => apply('+', parts);
export const minus = (...parts: Expression[]): Expression => apply('−', parts);
export const times = (...parts: Expression[]): Expression => apply('×', parts);
export const over = (...parts: Expression[]): Expression => apply('÷', parts);
export const mean = (parts: readonly Expression[]): Expression => over(plus(...parts), figure(parts.length));

function apply(operator: Operator, parts: readonly Expression[]): Expression {
	return parts.length === 1 ? parts[0]! : { kind: 'apply', operator, parts };
}

/** The value of an expression, its figures first passed through `see` (which may round them as shown). */
export function compute(expression: Expression, see: (value: number) => number = (value) => value): number {
	if (expression.kind === 'figure') return see(expression.value);
	if (expression.kind === 'size') return Math.abs(compute(expression.of, see));
	return expression.parts
		.map((part) => compute(part, see))
		.reduce((left, right) => {
			switch (expression.operator) {
				case '+':
					return left + right;
				case '−':
					return left - right;
				case '×':
					return left * right;
				case '÷':
					return left / right;
			}
		});
}

/** The expression in a reader's notation: "0.3 × 412 + 0.7 × 399.1", negative figures in brackets, |…| for size. */
export function spell(expression: Expression, write: (value: number) => string): string {
	if (expression.kind === 'figure') {
		const text = write(expression.value);
		return text.startsWith('−') ? `(${text})` : text;
	}
	if (expression.kind === 'size') {
		const inside = expression.of;
		return `|${inside.kind === 'figure' ? write(inside.value) : spell(inside, write)}|`;
	}
	const rank = RANK[expression.operator];
	return expression.parts
		.map((part, position) => {
			const text = spell(part, write);
			if (part.kind !== 'apply') return text;
			const inner = RANK[part.operator];
			// The right side of − and ÷ needs brackets at equal rank too: a − (b + c) is not a − b + c.
			const bracket =
				inner < rank ||
				(inner === rank && position > 0 && (expression.operator === '−' || expression.operator === '÷'));
			return bracket ? `(${text})` : text;
		})
		.join(` ${expression.operator} `);
}

/** Places beyond those on show that a sentence may need. */
const MOST_MORE = 13;

/**
 * "0.3 × 412 + 0.7 × 399.1 = 403.0": the expression with as few decimals as make the shown figures come out
 * at the shown result, so that a reader with a pocket calculator arrives at what the table says.
 * @param result the value on display
 * @param decimals the places that the table shows
 */
export function spellOut(expression: Expression, result: number, decimals: number): string {
	const shown = fixedFigure(result, decimals);
	let places = decimals;
	while (
		places < decimals + MOST_MORE &&
		fixedFigure(
			compute(expression, (value) => Number(writeFigure(value, places).replace('−', '-'))),
			decimals,
		) !== shown
	) {
		places++;
	}
	return `${spell(expression, (value) => grouped(writeFigure(value, places)))} = ${grouped(shown)}`;
}
