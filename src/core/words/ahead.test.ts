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
		'Over the next 3 months together: 1 200 pieces, between 0 and 2 440 with a chance of 80 %.',
	);
	expect(plain(words({}).stock!)).toBe(
		'With 2 790 pieces in stock, demand of the next 3 months together is met with a chance of 95 %, if errors stay as they were.',
	);
	expect(plain(words({ neverBelow: false }).sum)).toContain('between −40 and 2 440');
	expect(plain(words({ steps: 1, range: null, stock: null }, '').sum)).toBe('Over the next month: 1 200.');
	expect(words({ stock: null }).stock).toBeNull();
	// Of counts the mean has its decimals, and what is counted has none.
	const counts = { mean: 2.03, range: [0, 6] as const, stock: 7, ends: WHOLE };
	const rare = togetherWords({ ...said, ...counts }, 'month', scaleOf([0.677]), '');
	expect(rare.sum).toContain(': 2.030, between 0 and 6 with');
	expect(rare.stock).toContain('With 7 in stock');
});

test('a trial is said over all that it was asked', () => {
	const said = {
		name: 'Simple smoothing',
		origins: 36,
		steps: 12,
		closeness: 0.62,
		inside: [
			{ level: 0.8, inside: 41, of: 50 },
			{ level: 0.95, inside: 0, of: 0 },
		],
	};
	expect(trialWords(said, 'month')).toBe(
		'From 36 earlier months, 1 to 12 ahead: Simple smoothing came 38 % closer than repeating the last actual. Of what came then, 82 % inside the 80 % range.',
	);
	expect(trialWords({ ...said, origins: 1, steps: 1, closeness: 1.2, inside: [] }, 'week')).toBe(
		'From 1 earlier week, 1 ahead: Simple smoothing came 20 % further off than repeating the last actual.',
	);
	expect(trialWords({ ...said, closeness: null }, 'day')).toContain('beside a last actual that never missed');
});
