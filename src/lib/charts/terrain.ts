import type { EChartsCoreOption } from 'echarts/core';
import { scaleOf, scaleWords } from '$core/numbers/figure';
import { figureLabels, WORDS_FONT } from './axis';
import { DASHES, type Palette } from './palette';

/** A place on a terrain that is marked: a valley, or where the candidate stands. */
export interface Spot {
	/** One value an axis. */
	at: readonly number[];
	/** What stands beside it. */
	label: string;
}

/** The criterion over one or two constants. */
export interface TerrainFigures {
	/** Symbol and values of each axis. */
	axes: readonly { symbol: string; values: readonly number[] }[];
	/** The criterion at each point, the first axis running fastest. */
	values: readonly (number | null)[];
	/** The least value there is on it. */
	best: number;
	valleys: readonly Spot[];
	/** Where the candidate stands. */
	here: readonly number[];
	/** The stretch within 1 % of the best, for a curve. */
	flat: readonly [number, number] | null;
	criterion: string;
	/** Place of the candidate in the line-up. */
	place: number;
}

/** How far above the best each band of a map reaches, as a share; beyond the last nothing is tinted. */
export const BANDS = [0.01, 0.05, 0.1, 0.25, 0.5, 1] as const;

/** Margins of the plot inside the chart, in pixels; the handle is laid over it with the same. */
export const TERRAIN_MARGINS = { left: 46, right: 12, top: 12, bottom: 34 } as const;

const SHALLOWEST = 0.06;

const shared = (palette: Palette) => ({
	animation: false,
	backgroundColor: 'transparent',
	textStyle: { fontFamily: WORDS_FONT, color: palette.ink2 },
	grid: { ...TERRAIN_MARGINS },
});

function constantAxis(symbol: string, values: readonly number[], palette: Palette, across: boolean): object {
	return {
		type: 'value',
		name: symbol,
		nameLocation: 'middle',
		nameGap: across ? 20 : 32,
		nameRotate: across ? undefined : 0,
		nameTextStyle: { color: palette.ink, fontSize: 14 },
		min: values[0],
		max: values.at(-1),
		// From 0 to 1 in quarters; a narrower range as it comes.
		interval: values.at(-1)! - values[0]! === 1 ? 0.25 : undefined,
		splitNumber: 3,
		axisLine: { show: true, lineStyle: { color: palette.edge } },
		axisTick: { show: true, lineStyle: { color: palette.edge } },
		axisLabel: figureLabels(palette, 11),
		splitLine: { show: false },
	};
}

/** Valleys as small crosses with their value, the deepest bold; the candidate as a ring. */
function spots(figures: TerrainFigures, palette: Palette, y: (spot: readonly number[]) => number): object[] {
	const [low, high] = [figures.axes[0]!.values[0]!, figures.axes[0]!.values.at(-1)!];
	const right = (at: number) => at < low + 0.62 * (high - low);
	return [
		{
			type: 'scatter',
			name: 'valleys',
			data: figures.valleys.map(({ at, label }, i) => ({
				value: [at[0], y(at)],
				label: {
					show: true,
					formatter: label,
					position: right(at[0]!) ? 'right' : 'left',
					color: palette.ink,
					fontWeight: i === 0 ? 700 : 400,
					fontSize: 12,
					backgroundColor: palette.paper,
					padding: [1, 3],
				},
			})),
			symbol:
				'path://M0,0 L1,0 L5,4 L9,0 L10,0 L10,1 L6,5 L10,9 L10,10 L9,10 L5,6 L1,10 L0,10 L0,9 L4,5 L0,1 Z',
			symbolSize: 9,
			itemStyle: { color: palette.ink },
			silent: true,
			labelLayout: { hideOverlap: true, moveOverlap: 'shiftY' },
			z: 6,
		},
		{
			type: 'scatter',
			name: 'here',
			data: [[figures.here[0], y(figures.here)]],
			symbol: 'circle',
			symbolSize: 13,
			itemStyle: { color: 'transparent', borderColor: palette.accent, borderWidth: 3 },
			silent: true,
			z: 7,
		},
	];
}

/** One constant: the criterion as a curve, the stretch within 1 % of the best tinted. */
export function curveOption(figures: TerrainFigures, palette: Palette): EChartsCoreOption {
	const { axes, values, best, flat, criterion, place } = figures;
	const axis = axes[0]!;
	const { power } = scaleOf([best]);
	const known = values.filter((value) => value !== null);
	// What runs away would flatten everything else.
	const most = Math.min(Math.max(...known), best > 0 ? 5 * best : Infinity);
	const curve = axis.values.map((at, i) => [
		at,
		values[i] === null ? null : Math.min(values[i]!, 1.05 * most),
	]);
	const valueAt = (at: number) => {
		const last = axis.values.length - 1;
		const position = (last * (at - axis.values[0]!)) / (axis.values[last]! - axis.values[0]!);
		const below = Math.max(0, Math.min(last - 1, Math.floor(position)));
		const [a, b] = [values[below] ?? most, values[below + 1] ?? most];
		return Math.min(most, a + (b - a) * (position - below));
	};
	return {
		...shared(palette),
		xAxis: constantAxis(axis.symbol, axis.values, palette, true),
		yAxis: {
			type: 'value',
			name: power === 0 ? criterion : `${criterion}, ${scaleWords({ power, decimals: 0 })}`,
			nameTextStyle: { color: palette.ink2, align: 'left', fontSize: 11 },
			nameGap: 0,
			scale: true,
			max: most,
			splitNumber: 3,
			axisLabel: { ...figureLabels(palette, 11, power), showMaxLabel: false },
			splitLine: { lineStyle: { color: palette.rule } },
		},
		series: [
			{
				type: 'line',
				name: power === 0 ? criterion : `${criterion}, ${scaleWords({ power, decimals: 0 })}`,
				data: curve,
				symbol: 'none',
				silent: true,
				lineStyle: { color: palette.candidates[place % 8], width: 2 },
				z: 4,
				markArea: {
					silent: true,
					itemStyle: { color: palette.candidates[place % 8], opacity: 0.16 },
					data: flat ? [[{ xAxis: flat[0] }, { xAxis: flat[1] }]] : [],
				},
			},
			...spots(figures, palette, (at) => valueAt(at[0]!)),
		],
	};
}

/** Two constants: the criterion as bands of tint, like heights on a map, with a line about what lies within 1 %. */
export function mapOption(figures: TerrainFigures, palette: Palette): EChartsCoreOption {
	const { axes, values, best, place } = figures;
	const [across, up] = [axes[0]!, axes[1]!];
	const cells = bandRuns(figures);
	const halves = [step(across.values) / 2, step(up.values) / 2] as const;
	const outline = contour(across.values, up.values, values, best * (1 + BANDS[0]));
	type Api = { value: (i: number) => number; coord: (at: [number, number]) => [number, number] };
	type Params = { coordSys: { x: number; y: number; width: number; height: number } };
	return {
		...shared(palette),
		xAxis: constantAxis(across.symbol, across.values, palette, true),
		yAxis: constantAxis(up.symbol, up.values, palette, false),
		series: [
			{
				type: 'custom',
				name: 'bands',
				silent: true,
				clip: true,
				z: 1,
				data: cells.map(({ from, to, row, band }) => [
					across.values[from]!,
					across.values[to]!,
					up.values[row]!,
					band,
				]),
				renderItem: ({ coordSys }: Params, api: Api) => {
					const [left, top] = api.coord([api.value(0) - halves[0], api.value(2) + halves[1]]);
					const [right, bottom] = api.coord([api.value(1) + halves[0], api.value(2) - halves[1]]);
					// Neighbours share an edge: both round it alike, so that no seam shows.
					const x = Math.max(coordSys.x, Math.round(left));
					const y = Math.max(coordSys.y, Math.round(top));
					return {
						type: 'rect',
						shape: {
							x,
							y,
							width: Math.min(coordSys.x + coordSys.width, Math.round(right)) - x,
							height: Math.min(coordSys.y + coordSys.height, Math.round(bottom)) - y,
						},
						style: { fill: palette.candidates[place % 8], opacity: bandOpacity(api.value(3)) },
					};
				},
			},
			{
				type: 'custom',
				name: 'within 1 %',
				silent: true,
				clip: true,
				z: 3,
				data: outline,
				renderItem: (_: Params, api: Api) => {
					const [x1, y1] = api.coord([api.value(0), api.value(1)]);
					const [x2, y2] = api.coord([api.value(2), api.value(3)]);
					return {
						type: 'line',
						shape: { x1, y1, x2, y2 },
						style: { stroke: palette.ink, lineWidth: 1.2 },
					};
				},
			},
			...spots(figures, palette, (at) => at[1]!),
		],
	};
}

/** How strongly a band is tinted: the lower, the stronger. */
export const bandOpacity = (band: number): number => SHALLOWEST + 0.62 * (1 - band / BANDS.length) ** 1.6;

const step = (values: readonly number[]) => (values.at(-1)! - values[0]!) / (values.length - 1);

/** Neighbouring points of one row in one band, as one stretch; points beyond the last band are left out. */
export function bandRuns({ axes, values, best }: Pick<TerrainFigures, 'axes' | 'values' | 'best'>): {
	from: number;
	to: number;
	row: number;
	band: number;
}[] {
	const width = axes[0]!.values.length;
	const runs: { from: number; to: number; row: number; band: number }[] = [];
	const scale = best > 0 ? best : 1;
	values.forEach((value, i) => {
		const above = value === null ? Infinity : (value - best) / scale;
		const band = BANDS.findIndex((limit) => above <= limit);
		if (band < 0) return;
		const [column, row] = [i % width, Math.floor(i / width)];
		const last = runs.at(-1);
		if (last?.row === row && last.band === band && last.to === column - 1) last.to = column;
		else runs.push({ from: column, to: column, row, band });
	});
	return runs;
}

/**
 * The line at which a surface has a height, as straight pieces [x1, y1, x2, y2] (marching squares, straight lines
 * between grid points).
 */
export function contour(
	across: readonly number[],
	up: readonly number[],
	values: readonly (number | null)[],
	height: number,
): [number, number, number, number][] {
	const width = across.length;
	const pieces: [number, number, number, number][] = [];
	for (let row = 0; row + 1 < up.length; row++) {
		for (let column = 0; column + 1 < width; column++) {
			const corners = [
				[column, row],
				[column + 1, row],
				[column + 1, row + 1],
				[column, row + 1],
			] as const;
			const crossings: [number, number][] = [];
			corners.forEach(([x, y], i) => {
				const [nextX, nextY] = corners[(i + 1) % 4]!;
				const a = values[y * width + x] ?? Infinity;
				const b = values[nextY * width + nextX] ?? Infinity;
				if (a <= height === b <= height) return;
				const share = Number.isFinite(a) && Number.isFinite(b) ? (height - a) / (b - a) : 0.5;
				crossings.push([
					across[x]! + share * (across[nextX]! - across[x]!),
					up[y]! + share * (up[nextY]! - up[y]!),
				]);
			});
			for (let i = 0; i + 1 < crossings.length; i += 2) pieces.push([...crossings[i]!, ...crossings[i + 1]!]);
		}
	}
	return pieces;
}

/** The best constants through time. */
export interface SteadinessFigures {
	/** Names of the origins. */
	periods: readonly string[];
	lines: readonly { symbol: string; values: readonly (number | null)[] }[];
}

/** Each constant as a line through the origins, named at its end. */
export function steadinessOption({ periods, lines }: SteadinessFigures, palette: Palette): EChartsCoreOption {
	return {
		...shared(palette),
		grid: { left: 34, right: 24, top: 10, bottom: 22 },
		xAxis: {
			type: 'category',
			data: [...periods],
			boundaryGap: false,
			axisLine: { lineStyle: { color: palette.edge } },
			axisTick: { show: false },
			axisLabel: { color: palette.ink2, fontSize: 11, hideOverlap: true },
		},
		yAxis: {
			type: 'value',
			min: 0,
			max: 1,
			splitNumber: 2,
			axisLabel: figureLabels(palette, 11),
			splitLine: { lineStyle: { color: palette.rule } },
		},
		series: lines.map(({ symbol, values }, i) => ({
			type: 'line',
			name: symbol,
			data: [...values],
			step: 'middle',
			symbol: 'none',
			silent: true,
			lineStyle: {
				color: i === 0 ? palette.accent : palette.ink,
				width: i === 0 ? 2 : 1.4,
				type: DASHES[i]!.length > 0 ? [...DASHES[i]!] : 'solid',
			},
			endLabel: { show: true, formatter: symbol, color: palette.ink, fontSize: 13, distance: 4 },
			labelLayout: { moveOverlap: 'shiftY' },
		})),
	};
}
