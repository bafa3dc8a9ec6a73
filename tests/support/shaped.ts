import { describe, expect, test } from 'vitest';
import { formatPeriod } from '../../src/core/series/period';
import type { Choices } from '../../src/lib/reading/choices';
import { readText } from '../../src/lib/reading/read';

export type Values = (number | null)[];
/** Frequency, first period, and the figures by item; one item without a name stands as a list. */
export type Expected = [string, string | number, Values | Record<string, Values>];
export type Shaped = [name: string, text: string, expected: Expected, choices?: Choices];

export const lines = (...written: string[]) => written.join('\n');

/** Each of the tables reads as it is meant. */
export function testShaped(title: string, tables: readonly Shaped[]): void {
	describe(title, () => {
		test.each(tables)('%s', (_name, text, [frequency, first, figures], choices) => {
			const reading = readText(text, choices);
			expect(reading.problem).toBeNull();
			const items = Object.fromEntries(reading.items.map(({ code, values }) => [code, values]));
			expect(items).toEqual(Array.isArray(figures) ? { '': figures } : figures);
			expect(reading.frequency).toBe(frequency);
			const least = Math.min(...reading.items.map((item) => item.first));
			expect(formatPeriod(reading.frequency, least)).toBe(first);
		});
	});
}
