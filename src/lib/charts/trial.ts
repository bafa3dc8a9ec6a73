import type { EChartsCoreOption } from 'echarts/core';
import { percent } from '$core/words/chance';
import { figureLabels, valueAxis, WORDS_FONT } from './axis';
import { DASHES, type Palette } from './palette';

export interface TrialFigures {
	/** Mean absolute error by step, of each candidate that has a row. */
	curves: readonly { place: number; chosen: boolean; mads: readonly (number | null)[] }[];
	/** The same of repeating the last actual; drawn where no candidate does that. */
	naive: readonly (number | null)[];
	repeated: boolean;
	/** Shares inside each range of the chosen candidate by step, beside what was promised. */
	shares: readonly { level: number; shares: readonly (number | null)[] }[];
	/** A period as it is named, and the unit of errors. */
	period: string;
	measured: string;
	power: number;
}

/** Errors by step ahead of all candidates, and below them the share of actuals inside the ranges of the chosen one. */
export function trialOption(
	{ curves, naive, repeated, shares, period, measured, power }: TrialFigures,
	palette: Palette,
): EChartsCoreOption {
	const steps = naive.length;
	const chosen = curves.find((curve) => curve.chosen);
	const colour = palette.candidates[(chosen?.place ?? 0) % 8];
	const xAxis = (gridIndex: number) => ({
		type: 'category',
		gridIndex,
		data: Array.from({ length: steps }, (_, i) => i + 1),
		name: gridIndex === 1 ? `${period}s ahead` : '',
		nameLocation: 'middle',
		nameGap: 20,
		nameTextStyle: { color: palette.ink2 },
		axisLine: { onZero: false, lineStyle: { color: palette.edge } },
		axisTick: { show: false },
		axisLabel: { show: gridIndex === 1, color: palette.ink2, hideOverlap: true },
	});
	const line = (data: readonly (number | null)[], more: object) => ({
		type: 'line',
		data: [...data],
		symbolSize: 4,
		showSymbol: steps <= 30,
		silent: true,
		...more,
	});
	return {
		animation: false,
		backgroundColor: 'transparent',
		textStyle: { fontFamily: WORDS_FONT },
		grid: [
			{ left: 52, right: 44, top: 24, height: '38%' },
			{ left: 52, right: 44, bottom: 40, height: '26%' },
		],
		xAxis: [xAxis(0), xAxis(1)],
		yAxis: [
			{
				...valueAxis(palette, 0, `mean absolute error${measured && `, ${measured}`}`),
				axisLabel: figureLabels(palette, 11, power),
			},
			{
				...valueAxis(palette, 1, '% inside the ranges of the chosen one'),
				axisLabel: figureLabels(palette, 11),
				min: ({ min }: { min: number }) => Math.min(60, Math.floor(min / 10) * 10),
				max: 100,
				interval: 20,
			},
		],
		series: [
			line(repeated ? [] : naive, {
				name: 'last actual',
				symbol: 'none',
				lineStyle: { color: palette.ink, width: 1, type: [2, 3] },
				endLabel: {
					show: !repeated,
					formatter: 'last\nactual',
					color: palette.ink2,
					fontSize: 11,
					lineHeight: 12,
					distance: 3,
				},
			}),
			...curves.map(({ place, chosen, mads }) =>
				line(mads, {
					name: `candidate ${place}`,
					symbol: 'circle',
					z: chosen ? 4 : 3,
					itemStyle: { color: palette.candidates[place % 8] },
					lineStyle: {
						color: palette.candidates[place % 8],
						width: chosen ? 2.6 : 1.2,
						type: DASHES[place % 8]!.length > 0 ? [...DASHES[place % 8]!] : 'solid',
					},
				}),
			),
			...shares.map(({ level, shares }, i) =>
				line(shares, {
					name: `inside ${level}`,
					xAxisIndex: 1,
					yAxisIndex: 1,
					symbol: i === 0 ? 'circle' : 'diamond',
					itemStyle: { color: colour },
					lineStyle: { color: colour, width: 1.4, type: i === 0 ? 'solid' : [4, 3] },
					markLine: {
						silent: true,
						symbol: 'none',
						label: {
							formatter: percent(level),
							color: palette.ink2,
							fontSize: 11,
							distance: 3,
						},
						lineStyle: { color: palette.ink2, width: 1, type: i === 0 ? 'solid' : [4, 3] },
						data: [{ yAxis: 100 * level }],
					},
				}),
			),
		],
	};
}
