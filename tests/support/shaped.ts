import { describe, expect, test } from 'vitest';
import { formatPeriod } from '../../src/core/series/period';
import type { Choices } from '../../src/lib/reading/choices';
import { readText } from '../../src/lib/reading/read';
import { byRows, readWhole } from './by-rows';

export type Values = (number | null)[];
/** Frequency, first period, and the figures by item; one item without a name stands as a list. */
export type Expected = [string, string | number, Values | Record<string, Values>];
export type Shaped = [name: string, text: string, expected: Expected, choices?: Choices];

export const lines = (...written: string[]) => written.join('\n');

/** Each of the tables reads as it is meant, and where it can be read row by row, so it does in parts. */
export function testShaped(title: string, tables: readonly Shaped[]): void {
	describe(title, () => {
		test('as a file of any size, in parts', () => {
			const apart: string[] = [];
			let read = 0;
			for (const [name, text, , choices] of tables) {
				const whole = readWhole(readText(text, choices));
				for (const step of [1, 4, 1000]) {
					const parts = byRows(text, choices, { step });
					if ('problem' in parts) {
						if (!/takes the whole table/.test(String(parts.problem)))
							apart.push(`${name}: ${String(parts.problem)}`);
						break;
					}
					read++;
					try {
						expect(parts).toEqual(whole);
					} catch {
						apart.push(`${name}, in parts of ${step}`);
					}
				}
			}
			expect(apart).toEqual([]);
			expect(read).toBeGreaterThan(tables.every(([, text]) => /^\s*[[{]/.test(text)) ? -1 : 0);
		});

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
