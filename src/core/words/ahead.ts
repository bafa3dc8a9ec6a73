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
}

/** The sum with its range, and what to have in stock for it: a sentence each, the second null where it cannot be told. */
export function togetherWords(
	{ steps, mean, level, range, neverBelow, service, stock }: TogetherSaid,
	frequency: Frequency,
	scale: Scale,
	unit: string,
): { sum: string; stock: string | null } {
	const said = (value: number) => inWordsOn(neverBelow ? Math.max(0, value) : value, scale);
	const of = unit && ` ${unit}`;
	const next =
		steps === 1
			? `the next ${periodsInWords(frequency, 1).replace(/^1 /, '')}`
			: `the next ${periodsInWords(frequency, steps)} together`;
	return {
		sum: `Over ${next}: ${said(mean)}${of}${range ? `, between ${said(range[0])} and ${said(range[1])} with a chance of ${percent(level)}` : ''}.`,
		stock:
			stock === null
				? null
				: `With ${said(stock)}${of} in stock, demand of ${next} is met with a chance of ${percent(service)}.`,
	};
}
