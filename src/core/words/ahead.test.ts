import { expect, test } from 'vitest';
import { scaleOf, WHOLE } from '../numbers/figure';
import { togetherWords } from './ahead';
import { trialWords } from './trial';

const plain = (text: string) => text.replaceAll('\u202f', ' ');

test('a sum is said with its range and with what to have in stock, never below zero where demand never was', () => {
	const said = {
		steps: 3,
		mean: 1200,
		level: 0.8,
		range: [-40, 2440] as const,
		neverBelow: true,
		ends: scaleOf([1200]),
		service: 0.95,
		stock: 2790,
	};
	const words = (more: object, unit = 'pieces') =>
		togetherWords({ ...said, ...more }, 'month', scaleOf([1200]), unit);
	expect(plain(words({}).sum)).toBe(
		'Forecast for the next 3 months together: 1 200 pieces; 80 % range 0 to 2 440.',
	);
	expect(plain(words({}).stock!)).toBe(
		'A stock of 2 790 pieces covers the next 3 months together with 95 % probability, if errors stay as they were.',
	);
	expect(plain(words({ neverBelow: false }).sum)).toContain('80 % range −40 to 2 440');
	expect(plain(words({ steps: 1, range: null, stock: null }, '').sum)).toBe(
		'Forecast for the next month: 1 200.',
	);
	expect(words({ stock: null }).stock).toBeNull();
	// Of counts the mean has its decimals, and what is counted has none.
	const counts = { mean: 2.03, range: [0, 6] as const, stock: 7, ends: WHOLE };
	const rare = togetherWords({ ...said, ...counts }, 'month', scaleOf([0.677]), '');
	expect(rare.sum).toContain(': 2.030; 80 % range 0 to 6');
	expect(rare.stock).toContain('A stock of 7 covers');
});

test('a trial is said over all that it was asked', () => {
	const said = {
		name: 'Simple smoothing',
		origins: 36,
		steps: 12,
		relativeError: 0.62,
		inside: [
			{ level: 0.8, inside: 41, of: 50 },
			{ level: 0.95, inside: 0, of: 0 },
		],
	};
	expect(trialWords(said, 'month')).toBe(
		'In a trial on 36 past months, 1 to 12 ahead, the average error of Simple smoothing was 38 % below naive’s. 82 % of the actuals were inside the 80 % range.',
	);
	expect(trialWords({ ...said, origins: 1, steps: 1, relativeError: 1.2, inside: [] }, 'week')).toBe(
		'In a trial on 1 past week, 1 ahead, the average error of Simple smoothing was 20 % above naive’s.',
	);
	expect(trialWords({ ...said, relativeError: null }, 'day')).toContain('naive had no error');
});
