import { type Frequency, periodsInWords } from '../series/frequency';
import { inWordsOn, type Scale } from '../numbers/figure';
import { percent } from './proposal';

/** The next periods as one sum. */
export interface TogetherSaid {
	steps: number;
	mean: number;
	level: number;
	/** Null where nothing is known of the errors. */
	range: readonly [number, number] | null;
	/** Whether demand never was below zero: a low end below it is read as zero. */
	neverBelow: boolean;
	service: number;
	stock: number | null;
	/** How ends of the range, and the stock, are written. */
	ends: Scale;
}

/** The sum with its range, and what to have in stock for it: a sentence each, the second null where it cannot be told. */
export function togetherWords(
	{ steps, mean, level, range, neverBelow, service, stock, ends }: TogetherSaid,
	frequency: Frequency,
	scale: Scale,
	unit: string,
): { sum: string; stock: string | null } {
	const said = (value: number, on = ends) => inWordsOn(neverBelow ? Math.max(0, value) : value, on);
	const of = unit && ` ${unit}`;
	const next =
		steps === 1
			? `the next ${periodsInWords(frequency, 1).replace(/^1 /, '')}`
			: `the next ${periodsInWords(frequency, steps)} together`;
	return {
		sum: `Over ${next}: ${said(mean, scale)}${of}${range ? `, between ${said(range[0])} and ${said(range[1])} with a chance of ${percent(level)}` : ''}.`,
		stock:
			stock === null
				? null
				: `With ${said(stock)}${of} in stock, demand of ${next} is met with a chance of ${percent(service)}.`,
	};
}
