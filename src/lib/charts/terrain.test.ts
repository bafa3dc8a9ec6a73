import { expect, test } from 'vitest';
import { bandOpacity, BANDS, bandRuns, contour, curveOption, mapOption, steadinessOption } from './terrain';
import type { Palette } from './palette';

const palette = {
	candidates: Array.from({ length: 8 }, (_, i) => `#00000${i}`),
	ink: '#111111',
	accent: '#222222',
} as unknown as Palette;
const axis = (count: number) => Array.from({ length: count }, (_, i) => i / (count - 1));
/** A bowl with its floor of 10 at (0.25, 0.5). */
const bowl = (x: number, y: number) => 10 + 100 * ((x - 0.25) ** 2 + (y - 0.5) ** 2);
const across = axis(41);
const values = across.flatMap((y) => across.map((x) => bowl(x, y)));

test('the line about what lies within a height runs where the surface has it', () => {
	const height = 12.0037;
	const pieces = contour(across, across, values, height);
	expect(pieces.length).toBeGreaterThan(20);
	for (const [x1, y1, x2, y2] of pieces) {
		for (const [x, y] of [
			[x1, y1],
			[x2, y2],
		] as const)
			expect(Math.abs(bowl(x, y) - height)).toBeLessThan(0.1);
	}
	// Each end meets the end of another piece: the line is closed.
	const ends = pieces.flatMap(([x1, y1, x2, y2]) => [
		`${x1.toFixed(9)} ${y1.toFixed(9)}`,
		`${x2.toFixed(9)} ${y2.toFixed(9)}`,
	]);
	for (const end of new Set(ends)) expect(ends.filter((other) => other === end)).toHaveLength(2);
});

test('bands count how far above the least each point lies; what is beyond the last has none', () => {
	const figures = {
		axes: [
			{ symbol: 'α', values: [0, 0.5, 1] },
			{ symbol: 'β', values: [0, 1] },
		],
		values: [10, 10.05, 10.4, 14, null, 21],
		best: 10,
	};
	expect(bandRuns(figures)).toEqual([
		{ from: 0, to: 1, row: 0, band: 0 },
		{ from: 2, to: 2, row: 0, band: 1 },
		{ from: 0, to: 0, row: 1, band: 4 },
	]);
	const opacities = BANDS.map((_, band) => bandOpacity(band));
	expect(opacities).toEqual([...opacities].sort((a, b) => b - a));
});

interface Drawn {
	xAxis: { name: string; min: number; max: number };
	yAxis: { max?: number; name: string };
	series: { name: string; data: unknown[]; markArea?: { data: unknown[] } }[];
}
const shared = {
	best: 10,
	criterion: 'MSE',
	place: 2,
	valleys: [
		{ at: [0.25, 0.5], label: '10.0' },
		{ at: [0.9, 0.1], label: '10.1' },
	],
	here: [0.4, 0.6],
};

test('a curve marks valleys on it, where the candidate stands, and the stretch within 1 %', () => {
	const option = curveOption(
		{
			...shared,
			axes: [{ symbol: 'α', values: across }],
			values: across.map((x) => (x > 0.9 ? null : bowl(x, 0.5) ** 3)),
			best: 1000,
			flat: [0.2, 0.31],
		},
		palette,
	) as unknown as Drawn;
	const [curve, valleys, here] = option.series;
	expect(option.xAxis).toMatchObject({ name: 'α', min: 0, max: 1 });
	// What runs away is cut, so that the valley can be seen.
	expect(option.yAxis.max).toBeLessThanOrEqual(5000);
	expect(curve!.markArea!.data).toEqual([[{ xAxis: 0.2 }, { xAxis: 0.31 }]]);
	expect(valleys!.data).toHaveLength(2);
	expect((here!.data[0] as number[])[0]).toBe(0.4);
	expect((here!.data[0] as number[])[1]).toBeCloseTo(bowl(0.4, 0.5) ** 3, 6);
});

test('a map has bands, the line within 1 %, valleys and the candidate', () => {
	const option = mapOption(
		{
			...shared,
			axes: [
				{ symbol: 'α', values: across },
				{ symbol: 'β', values: across },
			],
			values,
			flat: null,
		},
		palette,
	) as unknown as Drawn;
	expect(option.series.map(({ name }) => name)).toEqual(['bands', 'within 1 %', 'valleys', 'here']);
	expect(option.series[1]!.data).toEqual(contour(across, across, values, 10.1));
	expect(option.series[3]!.data).toEqual([[0.4, 0.6]]);
});

test('steadiness has a line a constant, named at its end, each with its own dashes', () => {
	const { series } = steadinessOption(
		{
			periods: ['a', 'b'],
			lines: [
				{ symbol: 'α', values: [0.2, 0.3] },
				{ symbol: 'β', values: [0, null] },
			],
		},
		palette,
	) as unknown as { series: { name: string; data: unknown; lineStyle: { type: unknown } }[] };
	expect(series.map(({ name, data }) => [name, data])).toEqual([
		['α', [0.2, 0.3]],
		['β', [0, null]],
	]);
	expect(series[0]!.lineStyle.type).not.toEqual(series[1]!.lineStyle.type);
});
