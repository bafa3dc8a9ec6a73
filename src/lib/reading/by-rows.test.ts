import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { byRows, readWhole } from '../../../tests/support/by-rows';
import { makeTable } from '../../../tests/made/tables';
import { parsePeriod } from '$core/series/period';
import type { Choices } from './choices';
import { readText } from './read';
import { runs } from '../../../tests/support/runs';

const whole = (text: string, choices?: Choices) => readWhole(readText(text, choices));
const month = (m: number) => `${2019 + Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')}`;
const figures = fc.array(fc.array(fc.integer({ min: 3000, max: 99_000 }), { minLength: 24, maxLength: 24 }), {
	minLength: 2,
	maxLength: 12,
});

describe('row by row comes to the same as read whole', () => {
	test('an item, a period and a figure a row, whatever the order of the rows', () => {
		fc.assert(
			fc.property(figures, fc.boolean(), fc.integer({ min: 1, max: 40 }), (items, backwards, step) => {
				const rows = items.flatMap((values, i) =>
					values.map((value, m) => `P-${i};${month(m)};${value / 10}`),
				);
				if (backwards) rows.reverse();
				const text = ['item;month;pieces', ...rows].join('\n');
				expect(byRows(text, {}, { step })).toEqual(whole(text));
			}),
			{ numRuns: runs(60) },
		);
	});

	test('items down and periods across, blanks at the end outside the series', () => {
		fc.assert(
			fc.property(figures, (items) => {
				const text = [
					`item;${items[0]!.map((_, m) => month(m)).join(';')}`,
					...items.map(
						(values, i) => `P-${i};${values.map((value, m) => (i === 1 && m > 20 ? '' : value)).join(';')}`,
					),
				].join('\n');
				expect(byRows(text)).toEqual(whole(text));
			}),
			{ numRuns: runs(60) },
		);
	});

	test.each<[string, (m: number) => string, Choices?]>([
		['day-first dates', (m) => `28/${String((m % 12) + 1).padStart(2, '0')}/${2019 + Math.floor(m / 12)}`],
		['dates with times', (m) => `2024-03-${String((m % 24) + 1).padStart(2, '0')}T0${m % 9}:00`],
		[
			'month names',
			(m) =>
				`${['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'][m % 12]} ${2019 + Math.floor(m / 12)}`,
		],
		['serial dates', (m) => String(43_466 + 7 * m)],
		[
			'days, summed to months',
			(m) => `2024-0${1 + (m % 3)}-${String(1 + m).padStart(2, '0')}`,
			{ frequency: 'month' },
		],
	])('%s', (_name, spell, choices) => {
		const rows = [0, 1, 2].flatMap((i) =>
			Array.from({ length: 24 }, (_, m) => `P-${i},${spell(m)},${1000 + 37 * m + i}`),
		);
		const text = ['item,date,pieces', ...rows].join('\n');
		expect(byRows(text, choices)).toEqual(whole(text, choices));
	});

	test('lines of orders: summed, without gaps, without the ends that are not whole', () => {
		const lines = Array.from({ length: 600 }, (_, i) => {
			const day = new Date(Date.UTC(2024, 0, 9) + Math.floor(i * 0.7) * 86_400_000)
				.toISOString()
				.slice(0, 10);
			return `${day},P-${(i * 7) % 5},${1 + (i % 9)}${i % 97 === 0 ? ',cancelled' : ',shipped'}`;
		});
		// An item that is seldom ordered.
		lines.push('2024-02-11,P-9,4,shipped', '2024-02-11,P-9,1,shipped', '2024-08-02,P-9,2,shipped');
		const text = ['date,item,pieces,status', ...lines.sort()].join('\n');
		const read = byRows(text);
		expect(read).toEqual(whole(text));
		expect(readText(text).doubts.map(({ code }) => code)).toEqual(
			expect.arrayContaining(['order-lines', 'ends', 'cancelled']),
		);
		const march = parsePeriod('month', '2024-03');
		expect(read).toMatchObject({ 'P-9': { figures: expect.arrayContaining([[march, 0]]) } });
	});

	test('labels and units, from whatever part they come', () => {
		const text = [
			'item,family,month,pieces,unit',
			...[0, 1, 2, 3].flatMap((i) =>
				Array.from(
					{ length: 30 },
					(_, m) => `P-${i},F-${i % 2},${month(m)},${10 + m},${m > 27 ? 'box' : 'pcs'}`,
				),
			),
		].join('\n');
		const read = byRows(text);
		expect(read).toEqual(whole(text));
		expect(read).toMatchObject({ 'P-3': { labels: ['F-1'] }, 'P-3 · box': { labels: ['F-1'] } });
	});

	test('whatever a table looks like, read in parts it comes to the same, or it is not read so', () => {
		let read = 0;
		const refused: string[] = [];
		const tables = runs(600);
		for (let seed = 1; seed <= tables; seed++) {
			const { text, said } = makeTable(seed);
			const reading = readText(text, said);
			if (reading.problem !== null || reading.items.some(({ problem }) => problem !== null)) continue;
			const parts = byRows(text, said, { step: 1 + (seed % 23) });
			if ('problem' in parts) {
				if (!/takes the whole table/.test(String(parts.problem)))
					refused.push(`${seed}: ${String(parts.problem)}`);
				continue;
			}
			read++;
			expect([seed, parts]).toEqual([seed, readWhole(reading)]);
		}
		expect(refused).toEqual([]);
		expect(read).toBeGreaterThan(0.4 * tables);
	});

	test('the beginning decides: what comes after it in another spelling is refused with its row', () => {
		const rows = [
			'item;month;pieces',
			...[0, 1, 2].flatMap((i) => [0, 1, 2, 3].map((m) => `P-${i};${month(m)};${10 + m}`)),
		];
		const read = (...more: string[]) => byRows([...rows, ...more].join('\n'), {}, { beginning: 13 });
		expect(read('P-9;2030-01;4')).toMatchObject({
			'P-9': { figures: [[parsePeriod('month', '2030-01'), 4]] },
		});
		for (const [line, refused] of [
			['P-9;2030-Q1;4', /“2030-Q1” in row 14 is not written like the periods before it/],
			['P-9;2030-01;many', /Row 14, column 3, holds “many”, which is not a figure/],
			['P-9;2030-01;4;5', /Row 14 has 4 columns where others have 3/],
		] as const)
			expect(read(line)).toMatchObject({ problem: expect.stringMatching(refused) });
		expect(read('', 'Total;2030-01;4', 'as of today')).toEqual(whole(rows.join('\n')));
		expect(byRows([...rows, 'P-9;05.06.2030;4'].join('\n'), {}, { beginning: 13 })).toMatchObject({
			problem: expect.any(String),
		});
	});

	test('layouts that take the whole table', () => {
		for (const text of ['1\n2\n3', '\tJan\tFeb\nA\t1\t2\nB\t3\t4', 'Jan  4\nFeb  5\nMar  6']) {
			expect(byRows(text)).toMatchObject({
				problem: expect.stringMatching(/takes the whole table|Say which/),
			});
		}
	});
});
