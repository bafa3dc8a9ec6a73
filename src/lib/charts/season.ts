import type { EChartsCoreOption } from 'echarts/core';
import { figureLabels, WORDS_FONT } from './axis';
import type { Palette } from './palette';

/** Figures of a series by cycle and season. */
export interface Cycles {
	/** P names. */
	seasons: readonly string[];
	/** One row a cycle, the oldest first: its name and P figures, null where there is none. */
	rows: readonly { name: string; values: readonly (number | null)[] }[];
	/** The power of ten that its figures are shown in. */
	power: number;
}

const shared = (palette: Palette, power: number) => ({
	animation: false,
	textStyle: { fontFamily: WORDS_FONT, color: palette.ink2 },
	yAxis: {
		type: 'value',
		scale: true,
		splitNumber: 3,
		axisLabel: figureLabels(palette, 12, power),
		splitLine: { lineStyle: { color: palette.rule } },
	},
});
const MARGINS = { left: 50, top: 10, bottom: 24 };

/** Cycles that are told apart where they lie over each other. */
const APART = 20;

/** Cycles laid over each other: the older, the paler; the newest bold, first and last named at their ends. */
export function cyclesOption({ seasons, rows, power }: Cycles, palette: Palette): EChartsCoreOption {
	// Hundreds of them are a cloud, darkest where most of them run.
	const pale = Math.min(1, (APART / rows.length) ** 0.8);
	return {
		...shared(palette, power),
		grid: { ...MARGINS, right: 44 },
		xAxis: {
			type: 'category',
			data: [...seasons],
			boundaryGap: false,
			axisLine: { lineStyle: { color: palette.edge } },
			axisTick: { show: false },
			axisLabel: { color: palette.ink2, hideOverlap: true, fontSize: 11 },
		},
		series: rows.map(({ name, values }, i) => {
			const newest = i === rows.length - 1;
			const ended = values.findLastIndex((value) => value !== null) === seasons.length - 1;
			return {
				name,
				type: 'line',
				data: [...values],
				silent: true,
				symbol: newest ? 'circle' : 'none',
				symbolSize: 5,
				showAllSymbol: newest && seasons.length <= 60,
				lineStyle: {
					color: newest ? palette.accent : palette.ink,
					width: newest ? 2 : 1,
					opacity: newest ? 1 : pale * (0.25 + (0.5 * (i + 1)) / rows.length),
				},
				itemStyle: { color: newest ? palette.accent : palette.ink },
				endLabel: {
					show: newest || (i === 0 && ended) || (i === rows.length - 2 && !rows.at(-1)!.values.at(-1)),
					formatter: name,
					color: newest ? palette.accent : palette.ink2,
					fontSize: 11,
					distance: 4,
				},
				labelLayout: { moveOverlap: 'shiftY' },
				z: newest ? 5 : 3,
			};
		}),
	};
}

/** Each season across the cycles, side by side, with its own mean as a bar across. */
export function seasonsOption({ seasons, rows, power }: Cycles, palette: Palette): EChartsCoreOption {
	const step = rows.length + 1;
	const points: (number | null)[] = [];
	const means: (number | null)[] = [];
	for (let j = 0; j < seasons.length; j++) {
		const own = rows.map(({ values }) => values[j] ?? null);
		const present = own.filter((value) => value !== null);
		const mean = present.length > 0 ? present.reduce((a, b) => a + b, 0) / present.length : null;
		points.push(...own, null);
		means.push(...own.map(() => mean), null);
	}
	const middle = Math.floor((step - 2) / 2);
	return {
		...shared(palette, power),
		grid: { ...MARGINS, right: 10 },
		xAxis: {
			type: 'category',
			data: points.map((_, i) => i),
			axisLine: { lineStyle: { color: palette.edge } },
			axisTick: { show: false },
			axisLabel: {
				interval: (index: number) => index % step === middle,
				formatter: (_: string, index: number) => seasons[Math.floor(index / step)] ?? '',
				color: palette.ink2,
				hideOverlap: true,
				fontSize: 11,
			},
		},
		series: [
			{
				name: 'mean',
				type: 'line',
				data: means,
				symbol: 'none',
				silent: true,
				lineStyle: { color: palette.accent, width: 2 },
				z: 2,
			},
			{
				name: 'figures',
				type: 'line',
				data: points,
				symbol: 'circle',
				symbolSize: points.length > 200 ? 0 : 3.5,
				showAllSymbol: true,
				silent: true,
				lineStyle: { color: palette.ink, width: 1 },
				itemStyle: { color: palette.ink },
				z: 3,
			},
		],
	};
}
