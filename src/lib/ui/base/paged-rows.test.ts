import { expect, test } from 'vitest';
import type { Place } from '../../wire/parts';
import { PagedRows } from './paged-rows.svelte';

/** A list of numbers as rows, and what was asked of it. */
function numbers(count: number, window = 10) {
	const asked: number[] = [];
	let held: (() => void)[] | null = null;
	const rows = Array.from({ length: count }, (_, i) => ({ code: `C${i}` }));
	const cut = (from: number, most: number) => ({
		items: rows.slice(from, from + most),
		next: from + most < rows.length ? ([from + most] as Place) : null,
	});
	return {
		asked,
		rows,
		first: cut(0, window),
		/** Answers wait until they are let go. */
		hold: () => (held = []),
		letGo: () => {
			const waiting = held ?? [];
			held = null;
			waiting.forEach((go) => go());
		},
		source: {
			async window(from: Place | null, most: number) {
				const at = Number(from?.[0] ?? 0);
				asked.push(at);
				if (held) await new Promise<void>((go) => held!.push(go));
				return cut(at, most);
			},
			places: () =>
				Promise.resolve({
					count: rows.length,
					window,
					begins: Array.from({ length: Math.ceil(rows.length / window) }, (_, i) => [i * window]),
				}),
		},
	};
}
const soon = () => new Promise((done) => setTimeout(done));

test('what is in sight is asked for once, and nothing else', async () => {
	const { source, first, asked } = numbers(95);
	const windows = new PagedRows(source, first);
	await windows.locate();
	expect([windows.count, windows.row(3)?.code, windows.row(42)]).toEqual([95, 'C3', undefined]);
	windows.show(38, 52);
	await soon();
	windows.show(38, 52);
	await soon();
	expect([38, 45, 52].map((index) => windows.row(index)?.code)).toEqual(['C38', 'C45', 'C52']);
	expect(asked.sort((a, b) => a - b)).toEqual([30, 40, 50]);
});

test('what was passed by before its turn came is not asked for any more', async () => {
	const { source, first, asked, hold, letGo } = numbers(1000);
	const windows = new PagedRows(source, first);
	await windows.locate();
	hold();
	windows.show(100, 109);
	windows.show(300, 309);
	windows.show(500, 509);
	windows.show(700, 709);
	letGo();
	await soon();
	await soon();
	expect(asked).toEqual([100, 300, 700]);
	expect(windows.row(705)?.code).toBe('C705');
});

test('a range is brought whole, whatever of it was there', async () => {
	const { source, first } = numbers(95);
	const windows = new PagedRows(source, first);
	await windows.locate();
	const rows = await windows.between(7, 93);
	expect(rows.map(({ code }) => code)).toEqual(Array.from({ length: 87 }, (_, i) => `C${i + 7}`));
	expect(await windows.all()).toHaveLength(95);
});

test('after a change what is in sight comes anew, and what is gone is gone', async () => {
	const { source, first, rows } = numbers(25);
	const windows = new PagedRows(source, first);
	await windows.locate();
	windows.show(0, 9);
	rows.splice(0, 20);
	await windows.renew();
	await soon();
	expect([windows.count, windows.row(0)?.code, windows.row(12)]).toEqual([5, 'C20', undefined]);
});

test('the rows around one are those without a gap, and where the next ones begin', async () => {
	const { source, first } = numbers(95);
	const windows = new PagedRows(source, first);
	await windows.locate();
	windows.show(50, 65);
	await soon();
	const { codes, offset, next } = windows.around(55);
	expect([codes[0], codes.at(-1), offset, next]).toEqual(['C50', 'C69', 50, [70]]);
});

test('a failure is said, and asked again with the next look', async () => {
	const { source, first } = numbers(40);
	let broken = true;
	const windows = new PagedRows(
		{
			...source,
			window: (from, most) => (broken ? Promise.reject(new Error('gone')) : source.window(from, most)),
		},
		first,
	);
	await windows.locate();
	windows.show(20, 25);
	await soon();
	expect(String(windows.failure)).toBe('Error: gone');
	broken = false;
	windows.show(20, 25);
	await soon();
	expect([windows.failure, windows.row(22)?.code]).toEqual([null, 'C22']);
});
