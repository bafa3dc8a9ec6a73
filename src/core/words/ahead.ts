import type { RangeKind } from '../contract/candidate';
import { type Frequency, periodsInWords } from '../series/frequency';
import { inWordsOn, type Scale } from '../numbers/figure';
import { percent } from './chance';

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

/**
 * How often demand exceeded what was named as stock, as measured: of counts of rare demand on made-up items, else on published
 * series elsewhere.
 */
export const stockRates = (kind: RangeKind): string =>
	kind === 'counts'
		? 'If demand stays as it was. On made-up items of rare demand, demand exceeded the stock for 90, 95 and 98 % in 8.6, 3.8 and 1.4 % of 3 months and in 8.7, 4.3 and 1.9 % of 12; where demand comes in runs, in 13.3, 6.7 and 2.9 % and in 17.5, 10.6 and 5.5 %.'
		: 'If errors stay as they were. On published series, demand exceeded the stock for 90, 95 and 98 % in 12.6, 8.0 and 4.3 % of 2 months and in 17.4, 7.5 and 3.3 % of 12.';

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
		sum: `Forecast for ${next}: ${said(mean, scale)}${of}${range ? `; ${percent(level)} range ${said(range[0])} to ${said(range[1])}` : ''}.`,
		stock:
			stock === null
				? null
				: `A stock of ${said(stock)}${of} covers ${next} with ${percent(service)} probability, if errors stay as they were.`,
	};
}
