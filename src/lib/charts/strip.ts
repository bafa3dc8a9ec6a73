import type { EChartsCoreOption } from 'echarts/core';
import type { Frequency } from '$core/series/frequency';
import type { Scale } from '$core/numbers/figure';
import type { Mark } from '$core/series/layers';
import type { Ordinal } from '$core/series/period';
import { figureLabels, periodLabels, WORDS_FONT } from './axis';
import { MARK_PATH } from './marks';
import { DASHES, type Palette } from './palette';
import { DENSE, evenly, type Figures, type Point, thinned } from './thin';

/** One candidate on the strip. */
export interface StripLine {
	/** 0-based place in the line-up: colour and dash. */
	place: number;
	chosen: boolean;
	/** One value a past period. */
	fitted: Figures;
	/** One value a period to come. */
	ahead: readonly (number | null)[];
}

/** What one of several levels gives: a number, and a forecast for each period to come. */
export interface StripScenario {
	name: string;
	ahead: readonly (number | null)[];
}

/** Ranges of one level over periods that follow each other. */
export interface StripFan {
	/** 0-based position of the first. */
	from: number;
	/** 0 for the widest level. */
	depth: number;
	ranges: readonly (readonly [number, number] | null)[];
}

/** A state of the chosen candidate, one value a period from the first on. */
export interface StripState {
	name: string;
	values: Figures;
	dashed: boolean;
}

/** A mark on the strip. */
export interface StripMark {
	position: number;
	mark: Mark;
	/** Where it stands; an event stands at the top, whatever this is. */
	value: number | null;
}

/** Figures laid over the strip from a 0-based position on. */
export interface StripLaid {
	from: number;
	figures: readonly (number | null)[];
}

export interface StripFigures {
	frequency: Frequency;
	first: Ordinal;
	actuals: readonly (number | null)[];
	lines: readonly StripLine[];
	/** States of the chosen candidate that are drawn along: its level, its level with trend. */
	states?: readonly StripState[];
	/** Ranges of the chosen candidate, the widest first: one [low, high] a period from a 0-based position on. */
	fans: readonly StripFan[];
	/** What is handed over in place of what the chosen candidate computed, one a period to come; null where it is the same. */
	finals?: readonly (number | null)[];
	/** A record laid over what came: what it handed over, from a 0-based position on. */
	record?: StripLaid | null;
	/** What is handed over for the items that are added up here. */
	itsItems?: StripLaid | null;
	/** Periods held back at the end. */
	held?: number;
	/** Periods that are something beside their figure, by 0-based position; where each mark stands. */
	marks?: readonly StripMark[];
	/** Levels that the chosen candidate keeps side by side. */
	scenarios?: readonly StripScenario[];
	/** How many periods to come are shown. */
	horizon: number;
	/** From the lowest figure, or from zero. */
	axisFrom: 'lowest' | 'zero';
	/** 0-based first and last period on show. */
	window: readonly [number, number];
	/** How figures are shown; what is written beside the strip names its power. */
	scale: Scale;
}

/** Margins of the plot inside the chart, in pixels; the reading line is laid over it with the same. */
export const STRIP_MARGINS = { left: 64, right: 26, top: 10, bottom: 66 } as const;

/** Labels of the periods on show, as many as there is room for, and the axis that has them. */
function periodAxis(
	{ frequency, first, window: [from, to] }: StripFigures,
	count: number,
	palette: Palette,
): object {
	const onShow = periodLabels(frequency, first + from, to - from + 1, 12);
	const isAt = (index: number) => index >= from && index <= to && onShow.at(index - from);
	return {
		type: 'category',
		data: Array.from({ length: count }, (_, i) => i),
		boundaryGap: false,
		axisLine: { lineStyle: { color: palette.edge } },
		axisTick: { interval: isAt, length: 4, lineStyle: { color: palette.edge } },
		axisLabel: {
			interval: isAt,
			// By its place in the data: what is counted beside it begins anew with the window.
			formatter: (place: string) => onShow.text(Number(place) - from),
			color: palette.ink2,
			fontSize: 12,
			hideOverlap: true,
		},
	};
}

/** What moves the periods on show: the overview below, and the pointer on the plot. */
function windowControls([startValue, endValue]: StripFigures['window'], palette: Palette): object[] {
	const line = (color: string) => ({
		lineStyle: { color, width: 1, opacity: 1 },
		areaStyle: { opacity: 0 },
	});
	return [
		{
			type: 'slider',
			startValue,
			endValue,
			height: 26,
			bottom: 6,
			left: STRIP_MARGINS.left,
			right: STRIP_MARGINS.right,
			showDetail: false,
			brushSelect: false,
			backgroundColor: palette.paper,
			borderColor: palette.rule,
			// Seen through: the overview's line lies under it.
			fillerColor: `${palette.edge}22`,
			dataBackground: line(palette.ink2),
			selectedDataBackground: line(palette.ink),
			handleIcon: 'path://M0,0 L4,0 L4,20 L0,20 Z',
			handleSize: '70%',
			handleStyle: { color: palette.ink, borderColor: palette.ink },
			moveHandleSize: 0,
			z: 1,
		},
		{ type: 'inside', startValue, endValue, zoomOnMouseWheel: 'ctrl', moveOnMouseMove: false },
	];
}

/** Points that the overview has room for. */
const OVERVIEW = 1000;

/**
 * What the overview below the plot is drawn from, and what the plot does not show: the slider takes the first series, and draws its
 * points evenly apart, whatever their places are. Actuals, then the chosen forecast; gaps go on as what came before them.
 */
function overviewSeries({ actuals, lines, horizon }: StripFigures): object {
	const n = actuals.length;
	const ahead = lines.find(({ chosen }) => chosen)?.ahead ?? [];
	const all: (number | null)[] = [];
	for (let i = 0; i < n + horizon; i++) {
		const known = (i < n ? actuals[i] : ahead[i - n]) ?? null;
		all.push(known ?? (i < n ? (all.at(-1) ?? null) : null));
	}
	const stretch = Math.ceil((2 * all.length) / OVERVIEW);
	return {
		name: 'overview',
		type: 'line',
		data: stretch > 2 ? evenly(all, stretch) : all,
		symbol: 'none',
		silent: true,
		lineStyle: { opacity: 0 },
	};
}

/** Actuals as a hairline with dots, over the tinted holdout and the tinted future. */
function actualSeries(
	{ actuals, horizon, held = 0, window: [from, to] }: StripFigures,
	palette: Palette,
	data: Figures | Point[],
): object {
	const n = actuals.length;
	const crowded = n > 130;
	const future = [[{ xAxis: n - 1 }, { xAxis: n - 1 + horizon }]];
	const holdout = [
		[{ xAxis: n - held - 1, itemStyle: { color: palette.edge, opacity: 0.22 } }, { xAxis: n - 1 }],
	];
	return {
		name: 'actual',
		type: 'line',
		data: [...data],
		z: 5,
		symbol: 'circle',
		symbolSize: crowded ? 2.5 : 5,
		showAllSymbol: !crowded,
		showSymbol: to - from <= DENSE,
		lineStyle: { color: palette.ink, width: 1 },
		itemStyle: { color: palette.ink },
		silent: true,
		markArea: {
			silent: true,
			itemStyle: { color: palette.wash, opacity: 0.75 },
			data: [...(horizon > 0 ? future : []), ...(held > 0 ? holdout : [])],
		},
		markLine: {
			silent: true,
			symbol: 'none',
			label: { show: false },
			lineStyle: { color: palette.accent, width: 1, type: 'solid' },
			data: horizon > 0 ? [{ xAxis: n - 1 }] : [],
		},
	};
}

/** Options of the strip: actuals, candidates, the tinted future with its fan, an overview. */
export function stripOption(figures: StripFigures, palette: Palette): EChartsCoreOption {
	const { actuals, lines, fans, horizon, axisFrom, scale } = figures;
	const { marks = [], states = [], scenarios = [], finals = [], record = null, itsItems = null } = figures;
	const [from, to] = figures.window;
	const n = actuals.length;
	const count = n + horizon;
	// Of very many periods those on show are drawn.
	const drawn = (values: Figures): Figures | Point[] =>
		count > DENSE ? thinned(values, from - 1, to + 1) : values;
	return {
		animation: false,
		backgroundColor: 'transparent',
		textStyle: { fontFamily: WORDS_FONT, color: palette.ink2 },
		grid: STRIP_MARGINS,
		xAxis: periodAxis(figures, count, palette),
		yAxis: {
			type: 'value',
			scale: axisFrom === 'lowest',
			splitNumber: 5,
			axisLabel: figureLabels(palette, 12, scale.power),
			splitLine: { lineStyle: { color: palette.rule } },
		},
		dataZoom: windowControls(figures.window, palette),
		series: [
			overviewSeries(figures),
			actualSeries(figures, palette, drawn(actuals)),
			...lines.map((line) => lineSeries(line, palette, drawn(wholeLine(line, n)))),
			...states.map((state) => stateSeries(state, palette, drawn(state.values))),
			...scenarios.map((scenario) => scenarioSeries(scenario, lines, n, palette)),
			...fans.flatMap((fan) => fanSeries(fan, lines, palette)),
			...handedSeries(finals, n, palette),
			...laidSeries('record', record, palette.accent, [2, 2], true),
			...laidSeries('its items', itsItems, palette.ink, [1, 3], false),
			...markSeries(marks, palette),
		],
	};
}

/** Fitted figures and those to come, one after the other. */
const wholeLine = ({ fitted, ahead }: StripLine, n: number): Figures => [
	...fitted,
	...new Array<null>(Math.max(0, n - fitted.length)).fill(null),
	...ahead,
];

function lineSeries({ place, chosen }: StripLine, palette: Palette, data: Figures | Point[]): object {
	return {
		name: `candidate ${place}`,
		type: 'line',
		data: [...data],
		showSymbol: false,
		silent: true,
		z: chosen ? 4 : 3,
		lineStyle: {
			color: palette.candidates[place % 8],
			width: chosen ? 2.6 : 1.2,
			type: DASHES[place % 8]!.length > 0 ? [...DASHES[place % 8]!] : 'solid',
			opacity: chosen ? 1 : 0.8,
		},
	};
}

function stateSeries({ name, dashed }: StripState, palette: Palette, data: Figures | Point[]): object {
	return {
		name,
		type: 'line',
		data: [...data],
		showSymbol: false,
		silent: true,
		z: 6,
		lineStyle: { color: palette.accent, width: 1.6, type: dashed ? [4, 3] : 'solid' },
	};
}

/** Bars across at the figures that are handed over in place of computed ones. */
function handedSeries(finals: readonly (number | null)[], n: number, palette: Palette): object[] {
	const data = finals.flatMap((value, i) => (value === null ? [] : [[n + i, value]]));
	if (data.length === 0) return [];
	return [
		{
			name: 'final forecast',
			type: 'scatter',
			data,
			symbol: 'rect',
			symbolSize: [11, 3],
			itemStyle: { color: palette.accent },
			silent: true,
			animation: false,
			z: 8,
		},
	];
}

/** What a record said, or the items of a sum, over what came. */
function laidSeries(
	name: string,
	laid: StripLaid | null,
	color: string,
	type: readonly number[],
	marked: boolean,
): object[] {
	if (!laid) return [];
	return [
		{
			name,
			type: 'line',
			data: laid.figures.map((value, i) => [laid.from + i, value]),
			symbol: 'rect',
			symbolSize: [7, 3],
			showSymbol: marked && laid.figures.length <= 60,
			silent: true,
			z: 8,
			lineStyle: { color, width: 1.8, type: [...type] },
			itemStyle: { color },
		},
	];
}

/** Labels closer than this share of all figures' range would lie on each other. */
const LABEL_ROOM = 1 / 18;

/** Levels with their numbers for the strip; those that all but meet at the end share one label. */
export function numberedScenarios(
	list: readonly (readonly (number | null)[])[],
	actuals: readonly (number | null)[],
): StripScenario[] {
	const ends = list.map((ahead) => ahead.at(-1) ?? NaN);
	const all = [...actuals, ...ends].filter((value) => value !== null && !Number.isNaN(value)) as number[];
	const near = (Math.max(...all) - Math.min(...all)) * LABEL_ROOM;
	const group = ends.map((end) => ends.findIndex((other) => Math.abs(other - end) < near));
	return list.map((ahead, i) => ({
		name: group[i] === i ? group.flatMap((of, other) => (of === i ? [other + 1] : [])).join(' ') : '',
		ahead,
	}));
}

/** What one of several levels gives for the periods to come: a fine line with its number at the end. */
function scenarioSeries(
	{ name, ahead }: StripScenario,
	lines: readonly StripLine[],
	n: number,
	palette: Palette,
): object {
	const chosen = lines.find((line) => line.chosen);
	const colour = palette.candidates[(chosen?.place ?? 0) % 8];
	return {
		name: `level ${name}`,
		type: 'line',
		data: ahead.map((value, i) => [n + i, value]),
		showSymbol: false,
		silent: true,
		z: 4,
		lineStyle: { color: colour, width: 1, type: 'solid', opacity: 0.75 },
		endLabel: { show: name !== '', formatter: name, color: colour, fontSize: 11, distance: 3 },
		labelLayout: { moveOverlap: 'shiftY' },
	};
}

const MARKS_AT_POINTS: readonly Mark[] = ['gap', 'filled', 'left-out', 'corrected'];
/** Pixels from the top at which events are pinned. */
const PINNED_AT = 16;

/** Marks as shapes of their own over the line. */
function markSeries(marks: readonly StripMark[], palette: Palette): object[] {
	const shape = (mark: Mark) => ({
		symbol: `path://${MARK_PATH[mark].path}`,
		symbolSize: mark === 'gap' ? [6, 13] : 9,
		itemStyle: {
			color: MARK_PATH[mark].filled ? palette.marks[mark] : 'transparent',
			borderColor: palette.marks[mark],
			borderWidth: 1.6,
		},
		silent: true,
		animation: false,
		z: 7,
	});
	const points = MARKS_AT_POINTS.flatMap((mark) => {
		const data = marks
			.filter((each) => each.mark === mark && each.value !== null)
			.map(({ position, value }) => [position, value]);
		return data.length > 0 ? [{ name: mark, type: 'scatter', data, ...shape(mark) }] : [];
	});
	const events = marks.filter(({ mark }) => mark === 'event');
	if (events.length === 0) return points;
	const pins = {
		name: 'event',
		type: 'line',
		data: [],
		silent: true,
		markPoint: { data: events.map(({ position }) => ({ xAxis: position, y: PINNED_AT })), ...shape('event') },
	};
	return [...points, pins];
}

/** A band as two stacked areas: an unseen one up to its lower edge, and its height on top. */
function fanSeries(
	{ from, depth, ranges }: StripFan,
	lines: readonly StripLine[],
	palette: Palette,
): object[] {
	const chosen = lines.find((line) => line.chosen);
	const colour = palette.candidates[(chosen?.place ?? 0) % 8];
	const shared = {
		type: 'line',
		stack: `fan ${from} ${depth}`,
		stackStrategy: 'all',
		showSymbol: false,
		silent: true,
		lineStyle: { opacity: 0 },
		z: 2,
	};
	return [
		{ ...shared, data: ranges.map((range, i) => [from + i, range?.[0] ?? null]) },
		{
			...shared,
			data: ranges.map((range, i) => [from + i, range ? range[1] - range[0] : null]),
			areaStyle: { color: colour, opacity: 0.16 },
		},
	];
}
