import type { EChartsCoreOption } from 'echarts/core';
import type { Frequency } from '$core/series/frequency';
import type { Ordinal } from '$core/series/period';
import { figureLabels, periodLabels, WORDS_FONT } from './axis';
import type { Palette } from './palette';

const DENSE = 2000;

interface Figures {
	first: Ordinal;
	values: readonly (number | null)[];
}

/**
 * A bare series as it was read: hairline and dots, gaps left open. Beside it, where there is one, what is kept
 * already: hollow squares on a dashed line.
 */
export function seriesOption(
	{
		frequency,
		first: from,
		values: read,
		stored,
		power,
	}: Figures & { frequency: Frequency; stored?: Figures | null; power: number },
	palette: Palette,
): EChartsCoreOption {
	const first = stored ? Math.min(from, stored.first) : from;
	const last = Math.max(from + read.length, stored ? stored.first + stored.values.length : -Infinity);
	const spread = (figures: Figures) =>
		Array.from({ length: last - first }, (_, i) => figures.values[first + i - figures.first] ?? null);
	const values = spread({ first: from, values: read });
	const labels = periodLabels(frequency, first, values.length, 6);
	return {
		animation: false,
		textStyle: { fontFamily: WORDS_FONT },
		grid: { left: 58, right: 14, top: 12, bottom: 26 },
		xAxis: {
			type: 'category',
			data: values.map((_, i) => i),
			boundaryGap: false,
			axisLine: { lineStyle: { color: palette.edge } },
			axisTick: { interval: labels.at },
			axisLabel: {
				interval: labels.at,
				formatter: (_: string, index: number) => labels.text(index),
				color: palette.ink2,
				hideOverlap: true,
			},
		},
		yAxis: {
			type: 'value',
			scale: true,
			splitNumber: 4,
			axisLabel: figureLabels(palette, 12, power),
			splitLine: { lineStyle: { color: palette.rule } },
		},
		series: [
			...(stored
				? [
						{
							type: 'line',
							data: spread(stored),
							symbol: 'emptyRect',
							symbolSize: values.length > 130 ? 3 : 7,
							showSymbol: values.length <= DENSE,
							showAllSymbol: true,
							lineStyle: { color: palette.candidates[3], width: 1, type: [4, 3] },
							itemStyle: { color: palette.candidates[3] },
							silent: true,
						},
					]
				: []),
			{
				type: 'line',
				data: values,
				symbol: 'circle',
				symbolSize: values.length > 130 ? 2.5 : 5,
				showAllSymbol: values.length <= 130,
				showSymbol: values.length <= DENSE,
				sampling: values.length > DENSE ? 'lttb' : undefined,
				lineStyle: { color: palette.ink, width: 1 },
				itemStyle: { color: palette.ink },
				silent: true,
			},
		],
	};
}
