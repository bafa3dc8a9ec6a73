import { expect, test } from 'vitest';
import { MARK_COLOUR, MARK_PATH, MARK_WORDS } from './marks';
import type { Palette } from './palette';
import { cyclesOption, seasonsOption } from './season';
import { stripOption } from './strip';

const palette = {
	paper: '#fff',
	panel: '#fff',
	wash: '#eee',
	rule: '#ddd',
	edge: '#ccc',
	ink: '#000',
	ink2: '#555',
	accent: '#a40',
	warn: '#860',
	bad: '#a23',
	candidates: ['#1', '#2', '#3', '#4', '#5', '#6', '#7', '#8'],
	marks: { gap: '#g', filled: '#f', 'left-out': '#l', corrected: '#c', event: '#e' },
} as Palette;
interface Drawn {
	name?: string;
	type: string;
	data: unknown[];
	symbol?: string;
	lineStyle?: { width: number; opacity?: number };
	endLabel?: { show: boolean };
	markPoint?: { data: unknown[]; symbol: string };
}
const drawn = (option: object) => (option as { series: Drawn[] }).series;

const cycles = {
	power: 0,
	seasons: ['Q1', 'Q2', 'Q3', 'Q4'],
	rows: [
		{ name: '2022', values: [null, 4, 6, 8] },
		{ name: '2023', values: [2, 6, 8, 10] },
		{ name: '2024', values: [4, 8, null, null] },
	],
};

test('cycles lie over each other, the newest the boldest, first and newest named', () => {
	const lines = drawn(cyclesOption(cycles, palette));
	expect(lines.map(({ data }) => data)).toEqual(cycles.rows.map(({ values }) => values));
	expect(lines.map(({ lineStyle }) => lineStyle!.width)).toEqual([1, 1, 2]);
	expect(lines[0]!.lineStyle!.opacity!).toBeLessThan(lines[1]!.lineStyle!.opacity!);
	expect(lines.at(-1)!.endLabel!.show).toBe(true);
});

test('each season stands by itself, with the mean of what is there', () => {
	const [means, points] = drawn(seasonsOption(cycles, palette));
	expect(points!.data).toEqual([null, 2, 4, null, 4, 6, 8, null, 6, 8, null, null, 8, 10, null, null]);
	expect(means!.data).toEqual([3, 3, 3, null, 6, 6, 6, null, 7, 7, 7, null, 9, 9, 9, null]);
	expect(
		drawn(seasonsOption({ power: 0, seasons: ['Q1'], rows: [{ name: 'a', values: [null] }] }, palette))[0]!
			.data,
	).toEqual([null, null]);
});

test('marks stand on the strip with shapes of their own; an event is pinned at the top', () => {
	const figures = {
		frequency: 'month' as const,
		first: 24_000,
		actuals: [5, null, 7, 8],
		lines: [],
		fans: [],
		horizon: 0,
		axisFrom: 'lowest' as const,
		window: [0, 3] as const,
		scale: { power: 0, decimals: 0 },
	};
	const marks = [
		{ position: 1, mark: 'gap' as const, value: 6 },
		{ position: 2, mark: 'left-out' as const, value: 7 },
		{ position: 3, mark: 'corrected' as const, value: 8 },
		{ position: 3, mark: 'event' as const, value: 8 },
		{ position: 0, mark: 'filled' as const, value: null },
	];
	const shown = drawn(stripOption({ ...figures, marks }, palette)).filter(
		({ name }) => name !== 'actual' && name !== 'overview',
	);
	expect(shown.map(({ name, data }) => [name, data])).toEqual([
		['gap', [[1, 6]]],
		['left-out', [[2, 7]]],
		['corrected', [[3, 8]]],
		['event', []],
	]);
	expect(shown.at(-1)!.markPoint!.data).toEqual([{ xAxis: 3, y: 16 }]);
	expect(drawn(stripOption(figures, palette)).map(({ name }) => name)).toEqual(['overview', 'actual']);
	const paths = Object.values(MARK_PATH).map(({ path }) => path);
	expect(new Set(paths).size).toBe(paths.length);
	expect(Object.keys(MARK_WORDS).sort()).toEqual(Object.keys(MARK_COLOUR).sort());
});
