/**
 * How long tables take to be read: npm run bench -- tables. Usual ones by themselves and in parts, as medians of rounds that take
 * turns; tables made to take long, once each.
 */
import { readText } from '../../src/lib/reading/read';
import { RowsReader } from '../../src/lib/reading/by-rows';
import { openText } from '../../src/lib/reading/source';

const ROUNDS = 9;
const PART = 65_536;
const BEGINNING = 262_144;
const month = (m: number) => `${2019 + Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')}`;
const figure = (i: number, m: number) => ((i * 31 + m * 7919) % 997) + 3;
const times = <T>(count: number, make: (i: number) => T): T[] =>
	Array.from({ length: count }, (_, i) => make(i));
const lines = (rows: readonly (readonly unknown[])[], mark = '\t') =>
	rows.map((row) => row.join(mark)).join('\n');

const long = lines(
	[
		['item', 'month', 'pieces'],
		...times(300_000, (i) => [`P-${Math.floor(i / 60)}`, month(i % 60), figure(i, i % 60)]),
	],
	',',
);
const USUAL: Record<string, string> = {
	'300 items down, 60 months across': lines([
		['Item', ...times(60, month)],
		...times(300, (i) => [`P-${i}`, ...times(60, (m) => figure(i, m))]),
	]),
	'300 months down, 60 items across': lines([
		['Month', ...times(60, (i) => `P-${i}`)],
		...times(300, (m) => [month(m), ...times(60, (i) => figure(i, m))]),
	]),
	'300 items with a name, a family and a unit, under years and months': lines([
		['', '', '', '', ...times(60, (m) => (m % 12 === 0 ? 2019 + m / 12 : ''))],
		[
			'Item',
			'Name',
			'Family',
			'Unit',
			...times(
				60,
				(m) => ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'][m % 12],
			),
		],
		...times(300, (i) => [`P-${i}`, `Part ${i}`, `F-${i % 7}`, 'pcs', ...times(60, (m) => figure(i, m))]),
	]),
	'300,000 rows of item, month and figure': long,
};

/** Everything that a file of any size goes through, but for storing. */
function inParts(text: string): number {
	const reader = RowsReader.of(openText(text.slice(0, text.lastIndexOf('\n', BEGINNING) + 1)), {});
	if ('problem' in reader) throw new Error(reader.problem);
	let figures = 0;
	for (let at = 0; at < text.length;) {
		const end = text.lastIndexOf('\n', at + PART) + 1;
		const isLast = at + PART >= text.length;
		const part = reader.take(text.slice(at, isLast ? undefined : end), isLast);
		if ('refused' in part) throw new Error(part.refused);
		figures += part.values.length;
		at = isLast ? text.length : end;
	}
	return figures;
}

const runs: Record<string, () => unknown> = {
	...Object.fromEntries(
		Object.entries(USUAL).map(([name, text]) => [name, () => readText(text).items.length]),
	),
	'the same 300,000 rows in parts': () => inParts(long),
};
const spent = new Map(Object.keys(runs).map((name) => [name, [] as number[]]));
for (let round = 0; round < ROUNDS; round++) {
	for (const [name, run] of Object.entries(runs)) {
		const began = performance.now();
		if (!run()) throw new Error(`${name}: nothing was read`);
		spent.get(name)!.push(performance.now() - began);
	}
}
for (const [name, list] of spent) {
	list.sort((a, b) => a - b);
	console.log(
		`${name}: ${list[list.length >> 1]!.toFixed(0)} ms (${list[0]!.toFixed(0)} to ${list.at(-1)!.toFixed(0)})`,
	);
}

const HOSTILE: Record<string, () => string> = {
	'16,384 columns by 100 rows of numbers': () => lines(times(100, (r) => times(16_384, (c) => r + c))),
	'16,384 years across': () =>
		lines(times(20, (r) => times(16_384, (c) => (r === 0 ? 1900 + (c % 200) : c)))),
	'1,000 columns by 1,900 rows': () => lines(times(1900, (r) => times(1000, (c) => (r * c) % 97))),
	'300 years by 300 years': () => lines(times(300, (r) => times(300, (c) => 1900 + ((r + c) % 200)))),
	'400,000 rows of one word': () => 'word\n'.repeat(399_999),
	'400,000 rows of years': () => times(399_999, (i) => 1900 + (i % 200)).join('\n'),
	'100,000 rows of dates, each of another spelling': () =>
		times(100_000, (i) => `${['2024-03-', '3/', 'March ', '03.'][i % 4]}${1 + (i % 28)}\t${i}`).join('\n'),
	'50,000 items of one figure': () => lines(times(50_000, (i) => [`I-${i}`, '2024-01', i])),
	'100,000 blocks of two rows': () =>
		times(100_000, (i) => `2024-0${1 + (i % 9)}\t2024-10\n${i}\t${i}`).join('\n'),
	'500 columns of words by 4,000 rows': () =>
		lines(times(4000, (r) => times(500, (c) => `w${(r * c) % 13}`))),
	'totals upon totals': () => lines(times(1500, (r) => times(120, (c) => 2 ** (r % 20) + (c % 2)))),
	'a row of 1,000,000 characters': () => `${'a'.repeat(30_000)}\t`.repeat(33),
	'2,000,000 blank cells': () => '\t'.repeat(16_000).concat('\n').repeat(120),
};
console.log('\nmade to take long:');
for (const [name, make] of Object.entries(HOSTILE)) {
	const text = make();
	const began = performance.now();
	const { problem, items } = readText(text);
	const took = (performance.now() - began) / 1000;
	console.log(
		`${name}: ${took.toFixed(1)} s, ${problem ? `refused: ${problem.slice(0, 70)}` : `${items.length} items`}`,
	);
}
