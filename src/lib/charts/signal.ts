import type { EChartsCoreOption } from 'echarts/core';
import { signalAt, type Tracking } from '$core/accuracy/tracking';
import type { Frequency } from '$core/series/frequency';
import type { Ordinal } from '$core/series/period';
import { figureLabels, periodLabels, valueAxis, WORDS_FONT } from './axis';
import type { Palette } from './palette';
import { DENSE, type Point, thinned } from './thin';

export interface SignalFigures {
	frequency: Frequency;
	first: Ordinal;
	periods: number;
	tracking: Tracking;
	limit: number;
	/** 1-based period from which the alarm has stood outside; null while it does not. */
	biasedFrom: number | null;
	/** Unit and power of ten of errors, as they are named. */
	measured: string;
	power: number;
}

/** Tracking signal between its limits, and below it the errors with their running sum. */
export function signalOption(figures: SignalFigures, palette: Palette): EChartsCoreOption {
	const { frequency, first, periods, tracking, limit, biasedFrom } = figures;
	const labels = periodLabels(frequency, first, periods, 6);
	const column = (pick: (entry: number) => number | null) => {
		const all = new Array<number | null>(periods).fill(null);
		tracking.positions.forEach((position, entry) => (all[position] = pick(entry)));
		return periods > DENSE ? thinned(all, 0, periods - 1) : all;
	};
	const xAxis = (gridIndex: number) => ({
		type: 'category',
		gridIndex,
		data: Array.from({ length: periods }, (_, i) => i),
		axisLine: { onZero: false, lineStyle: { color: palette.edge } },
		axisTick: { show: gridIndex === 1, interval: labels.at, lineStyle: { color: palette.edge } },
		axisLabel: {
			show: gridIndex === 1,
			interval: labels.at,
			formatter: (_: string, index: number) => labels.text(index),
			color: palette.ink2,
			hideOverlap: true,
		},
	});
	const yAxis = (gridIndex: number, name: string, power = 0) => ({
		...valueAxis(palette, gridIndex, name),
		axisLabel: figureLabels(palette, 11, power),
	});
	return {
		animation: false,
		backgroundColor: 'transparent',
		textStyle: { fontFamily: WORDS_FONT },
		grid: [
			{ left: 52, right: 12, top: 24, height: '31%' },
			{ left: 52, right: 12, bottom: 24, height: '29%' },
		],
		xAxis: [xAxis(0), xAxis(1)],
		yAxis: [
			{
				...yAxis(0, 'tracking signal, in MAD'),
				axisLabel: { ...figureLabels(palette, 11), showMinLabel: false, showMaxLabel: false },
				// Both limits are in sight, however calm the signal is.
				min: ({ min }: { min: number }) => Math.floor(Math.min(min, -1.25 * limit) / 5) * 5,
				max: ({ max }: { max: number }) => Math.ceil(Math.max(max, 1.25 * limit) / 5) * 5,
			},
			yAxis(
				1,
				`error (bars) and running sum (line)${figures.measured ? `, ${figures.measured}` : ''}`,
				figures.power,
			),
		],
		series: [
			{
				type: 'line',
				data: column((entry) => signalAt(tracking, entry)),
				symbol: 'diamond',
				symbolSize: periods > 130 ? 3 : 6,
				showSymbol: periods <= DENSE,
				lineStyle: { color: palette.ink, width: 1 },
				itemStyle: {
					color: ({ value, dataIndex }: { value: number | Point | null; dataIndex: number }) =>
						biasedFrom !== null && (Array.isArray(value) ? value[0] : dataIndex) + 1 >= biasedFrom
							? palette.bad
							: palette.ink,
				},
				markArea: {
					silent: true,
					itemStyle: { color: palette.wash, opacity: 0.9 },
					data: [[{ yAxis: -limit }, { yAxis: limit }]],
				},
				markLine: {
					silent: true,
					symbol: 'none',
					label: { show: false },
					lineStyle: { color: palette.edge, type: 'solid', width: 1 },
					data: [{ yAxis: limit }, { yAxis: -limit }, { yAxis: 0 }],
				},
			},
			{
				type: 'bar',
				xAxisIndex: 1,
				yAxisIndex: 1,
				data: column((entry) => tracking.errors[entry]!),
				itemStyle: { color: palette.edge },
				barMaxWidth: 8,
			},
			{
				type: 'line',
				xAxisIndex: 1,
				yAxisIndex: 1,
				data: column((entry) => tracking.cfe[entry]!),
				showSymbol: false,
				lineStyle: { color: palette.accent, width: 1.6 },
			},
		],
	};
}
