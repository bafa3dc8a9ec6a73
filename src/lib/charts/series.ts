import type { EChartsCoreOption } from 'echarts/core';
import type { Frequency } from '$core/series/frequency';
import type { Ordinal } from '$core/series/period';
import { figureLabels, periodLabels, WORDS_FONT } from './axis';
import type { Palette } from './palette';

const DENSE = 2000;

/** A bare series as it was read: hairline and dots, gaps left open. */
export function seriesOption(
	{ frequency, first, values }: { frequency: Frequency; first: Ordinal; values: readonly (number | null)[] },
	palette: Palette,
): EChartsCoreOption {
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
			axisLabel: figureLabels(palette),
			splitLine: { lineStyle: { color: palette.rule } },
		},
		series: [
			{
				type: 'line',
				data: [...values],
				symbol: 'circle',
				symbolSize: values.length > 130 ? 2.5 : 5,
				showSymbol: values.length <= DENSE,
				sampling: values.length > DENSE ? 'lttb' : undefined,
				lineStyle: { color: palette.ink, width: 1 },
				itemStyle: { color: palette.ink },
				silent: true,
			},
		],
	};
}
