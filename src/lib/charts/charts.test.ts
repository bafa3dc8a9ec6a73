import type { EChartsCoreOption } from 'echarts/core';
import { describe, expect, test } from 'vitest';
import type { Frequency } from '$core/series/frequency';
import { parsePeriod } from '$core/series/period';
import { periodLabels } from './axis';
import { drawing } from './engine';
import type { Palette } from './palette';
import { seriesOption } from './series';
import { signalOption } from './signal';
import { trialOption } from './trial';
import { numberedScenarios, type StripFigures, stripOption } from './strip';

const palette: Palette = {
	paper: '#fff',
	panel: '#fff',
	wash: '#eee',
	rule: '#ddd',
	edge: '#888',
	ink: '#222',
	ink2: '#555',
	accent: '#930',
	warn: '#860',
	bad: '#a00',
	marks: { gap: '#1', filled: '#2', 'left-out': '#3', corrected: '#4', event: '#5' },
	candidates: ['#111', '#222', '#333', '#444', '#555', '#666', '#777', '#888'],
};

interface DrawnSeries {
	name?: string;
	data: (number | null | [number, number | null])[];
	lineStyle: { width: number; color: string; type?: unknown };
	areaStyle?: { color: string };
	markArea: { data: unknown[] };
	showSymbol: boolean;
}
/** What is seen on the plot. */
const seriesOf = (option: object) =>
	(option as { series: DrawnSeries[] }).series.filter(({ name }) => name !== 'overview');

/** What is drawn at each of so many periods, whether it is listed for all of them or point by point. */
function byPeriod({ data }: DrawnSeries, count = 6): (number | null)[] {
	const list = new Array<number | null>(count).fill(null);
	data.forEach((entry, i) => {
		if (Array.isArray(entry)) list[entry[0]] = entry[1];
		else list[i] = entry;
	});
	return list;
}

const figures: StripFigures = {
	frequency: 'month',
	first: parsePeriod('month', '2025-11'),
	actuals: [10, null, 12, 14],
	lines: [
		{ place: 0, chosen: false, fitted: [null, 10, 10, 12], ahead: [14, 14] },
		{ place: 9, chosen: true, fitted: [null, null, 11, 12], ahead: [13, 13] },
	],
	fans: [
		{
			from: 4,
			depth: 0,
			ranges: [
				[8, 18],
				[6, 20],
			],
		},
		{ from: 4, depth: 1, ranges: [[11, 15], null] },
	],
	horizon: 2,
	axisFrom: 'lowest',
	window: [1, 5],
	scale: { power: 0, decimals: 1 },
};

describe('levels side by side on the strip', () => {
	const scenarios = numberedScenarios(
		[
			[10, 14],
			[11, 20],
			[10, 14.1],
			[null, null],
		],
		[10, null, 12, 30],
	);

	test('have their numbers at the end; those that all but meet share one', () => {
		expect(scenarios.map(({ name }) => name)).toEqual(['1 3', '2', '', '']);
	});

	test('are fine lines of the chosen candidate’s colour from now on', () => {
		const drawn = seriesOf(stripOption({ ...figures, scenarios }, palette)).filter(({ name }) =>
			name?.startsWith('level'),
		) as (DrawnSeries & { endLabel: { show: boolean } })[];
		expect(byPeriod(drawn[1]!)).toEqual([null, null, null, null, 11, 20]);
		expect(new Set(drawn.map(({ lineStyle }) => lineStyle.color))).toEqual(new Set(['#222']));
		expect(drawn.map(({ endLabel }) => endLabel.show)).toEqual([true, true, false, false]);
	});
});

describe('the strip', () => {
	const option = stripOption(figures, palette);
	const [actual, plain, chosen, low, height, innerLow, innerHeight] = seriesOf(option);

	test('puts actuals, fitted values and forecasts in their own periods', () => {
		expect(actual!.data).toEqual([10, null, 12, 14]);
		expect(plain!.data).toEqual([null, 10, 10, 12, 14, 14]);
		expect(chosen!.data).toEqual([null, null, 11, 12, 13, 13]);
		const { data, axisLabel } = (
			option as { xAxis: { data: number[]; axisLabel: { formatter(place: string): string } } }
		).xAxis;
		expect(data).toHaveLength(6);
		expect(axisLabel.formatter('3')).toMatch(/Feb/);
	});

	test('draws the chosen candidate bold, each place in its own colour and dashes', () => {
		expect(chosen!.lineStyle.width).toBeGreaterThan(2 * plain!.lineStyle.width);
		expect([plain!.lineStyle.color, chosen!.lineStyle.color]).toEqual(['#111', '#222']);
		expect(plain!.lineStyle.type).not.toEqual(chosen!.lineStyle.type);
	});

	test('lays the ranges of the chosen one as a fan over what is ahead', () => {
		expect(byPeriod(low!)).toEqual([null, null, null, null, 8, 6]);
		expect(byPeriod(height!)).toEqual([null, null, null, null, 10, 14]);
		expect(byPeriod(innerLow!)).toEqual([null, null, null, null, 11, null]);
		expect(innerHeight!.areaStyle!.color).toBe(chosen!.lineStyle.color);
	});

	test('fits the axis to the figures or begins at zero, and shows the window asked for', () => {
		const scale = (axisFrom: 'lowest' | 'zero') =>
			(stripOption({ ...figures, axisFrom }, palette) as { yAxis: { scale: boolean } }).yAxis.scale;
		expect([scale('lowest'), scale('zero')]).toEqual([true, false]);
		const { dataZoom } = option as { dataZoom: { startValue: number; endValue: number }[] };
		for (const { startValue, endValue } of dataZoom) expect([startValue, endValue]).toEqual([1, 5]);
	});

	/** As a drawing that is taken away, or printed. */
	const drawingOf = (option: EChartsCoreOption) => drawing({ ...option, animation: false }, 900, 300);

	test('is a document that other programs and our own paper take, with the faces of its words named', () => {
		const svg = drawingOf(option);
		expect(svg).not.toContain('<style');
		expect(svg).toContain('Source Sans 3');
		// What is left once all tags are taken out that are written as they must be.
		expect(svg.replace(/<\/?\w+(\s+[\w:-]+="[^"<]*")*\s*\/?>/g, '')).not.toMatch(/[<>]/);
	});

	test('names the periods that it shows, wherever its window begins', () => {
		const actuals = Array.from({ length: 72 }, (_, i) => 10 + (i % 7));
		const drawn = (window: [number, number]): string[] => {
			const first = parsePeriod('month', '2020-01');
			const past = { ...figures, first, actuals, lines: [], fans: [], horizon: 0, window };
			const texts = drawingOf(stripOption(past, palette)).matchAll(/<text[^>]*>(20\d\d)<\/text>/g);
			return [...texts].map(([, text]) => text!);
		};
		expect(drawn([0, 71])).toEqual(['2020', '2021', '2022', '2023', '2024', '2025']);
		expect(drawn([24, 59])).toEqual(['2022', '2023', '2024']);
	});

	test('tints the future only where there is one, and thins what is too dense to draw', () => {
		expect(actual!.markArea.data).toHaveLength(1);
		const past = { ...figures, horizon: 0, lines: [], fans: [] };
		expect(seriesOf(stripOption(past, palette))[0]!.markArea.data).toEqual([]);
		const actuals = Array.from({ length: 9000 }, (_, i) => (i * 7919) % 83);
		const lines = [{ place: 0, chosen: true, fitted: Float64Array.from(actuals), ahead: [] }];
		const window: [number, number] = [5000, 5099];
		const [drawn, line] = seriesOf(stripOption({ ...past, actuals, lines, window }, palette));
		// All that is on show, and of the rest what the overview needs.
		expect(byPeriod(drawn!, 9000).slice(5000, 5100)).toEqual(actuals.slice(5000, 5100));
		expect(byPeriod(line!, 9000).slice(5000, 5100)).toEqual(actuals.slice(5000, 5100));
		expect(line!.data).toHaveLength(102);
		expect(drawn!.data).toHaveLength(102);
		// The overview has all of them, evenly apart: its slider counts points, not places.
		const overview = (option: object) => (option as { series: DrawnSeries[] }).series[0]!;
		const points = overview(stripOption({ ...past, actuals, lines, window }, palette)).data as [
			number,
			number,
		][];
		expect(points.length).toBeLessThanOrEqual(1000);
		for (const [i, [place]] of points.entries())
			expect(Math.abs(place / 8999 - i / (points.length - 1))).toBeLessThan(0.003);
		const short = { ...past, actuals: [4, null, 6], horizon: 2, lines: [{ ...lines[0]!, ahead: [7, 8] }] };
		expect(overview(stripOption(short, palette)).data).toEqual([4, 4, 6, 7, 8]);
		const all = seriesOf(stripOption({ ...past, actuals, lines, window: [0, 8999] }, palette));
		expect(all[1]!.data.length).toBeLessThan(2100);
		expect(all[0]!.showSymbol).toBe(false);
	});
});

describe('period labels', () => {
	const marks = (frequency: Frequency, start: string, count: number, most = 8) => {
		const labels = periodLabels(frequency, parsePeriod(frequency, start), count, most);
		return Array.from({ length: count }, (_, i) => i)
			.filter(labels.at)
			.map((i) => [i, labels.text(i)]);
	};

	test('are years at their first period, where the calendar has them', () => {
		expect(marks('month', '2023-11', 30)).toEqual([
			[2, '2024'],
			[14, '2025'],
			[26, '2026'],
		]);
		expect(marks('quarter', '2024-Q1', 8)).toEqual([
			[0, '2024'],
			[4, '2025'],
		]);
		expect(marks('week', '2020-W50', 70)).toEqual([
			[4, '2021'],
			[56, '2022'],
		]);
	});

	test('are thinned where years come too close', () => {
		expect(marks('month', '2000-01', 240, 5).map(([, text]) => text)).toEqual([
			'2000',
			'2004',
			'2008',
			'2012',
			'2016',
		]);
	});

	test('are Mondays, months or years of days, whichever stand closest without crowding; of hours days as well', () => {
		expect(marks('day', '2026-05-05', 20, 4)).toEqual([
			[6, '11 May 2026'],
			[13, '18 May 2026'],
		]);
		expect(marks('day', '2026-05-04', 181, 12)).toEqual([
			[28, 'Jun 2026'],
			[58, 'Jul 2026'],
			[89, 'Aug 2026'],
			[120, 'Sep 2026'],
			[150, 'Oct 2026'],
		]);
		// Sixteen months are too many, and one year is too few.
		expect(marks('day', '2025-02-01', 450, 12).map(([, text]) => text)).toEqual(
			['Feb', 'Apr', 'Jun', 'Aug', 'Oct', 'Dec']
				.map((month) => `${month} 2025`)
				.concat('Feb 2026', 'Apr 2026'),
		);
		expect(marks('weekday', '2015-12-30', 800, 6)).toEqual([
			[2, '2016'],
			[263, '2017'],
			[523, '2018'],
			[784, '2019'],
		]);
		expect(marks('hour', '2026-10-18T22', 50, 6)).toEqual([
			[2, '19 Oct 2026'],
			[26, '20 Oct 2026'],
		]);
		expect(marks('hour', '2026-10-19T00', 312, 12).map(([, text]) => text)).toEqual(
			[19, 21, 23, 25, 27, 29, 31].map((day) => `${day} Oct 2026`),
		);
		expect(marks('day', '2026-05-05', 3, 6).map(([, text]) => text)).toEqual([
			'5 May 2026',
			'6 May 2026',
			'7 May 2026',
		]);
	});

	test('are periods evenly apart elsewhere', () => {
		expect(marks('step', '1', 6, 3).map(([, text]) => text)).toEqual(['period 1', 'period 3', 'period 5']);
		expect(marks('hour', '2026-10-19T00', 18, 3)).toEqual([
			[0, '19 Oct 00:00'],
			[6, '19 Oct 06:00'],
			[12, '19 Oct 12:00'],
		]);
	});
});

test('the signal chart puts each scored period in its place and keeps both limits in sight', () => {
	const tracking = {
		positions: Int32Array.of(1, 3),
		errors: Float64Array.of(3, -1),
		cfe: Float64Array.of(3, 2),
		mad: Float64Array.of(3, 2),
	};
	const option = signalOption(
		{
			frequency: 'step',
			first: 1,
			periods: 4,
			tracking,
			limit: 4,
			biasedFrom: null,
			measured: 'pieces',
			power: 0,
		},
		palette,
	) as {
		yAxis: { min(extent: { min: number }): number; max(extent: { max: number }): number; name: string }[];
	};
	const [signal, errors, sums] = seriesOf(option);
	expect(signal!.data).toEqual([null, 1, null, 1]);
	expect(errors!.data).toEqual([null, 3, null, -1]);
	expect(sums!.data).toEqual([null, 3, null, 2]);
	expect([option.yAxis[0]!.min({ min: 1 }), option.yAxis[0]!.max({ max: 17 })]).toEqual([-5, 20]);
	expect(option.yAxis[1]!.name).toContain('pieces');
});

test('a bare series leaves its gaps open', () => {
	const option = seriesOption({ frequency: 'year', first: 2020, values: [1, null, 3], power: 0 }, palette);
	expect(seriesOf(option)[0]!.data).toEqual([1, null, 3]);
});

test('a trial: a curve for each candidate, the last actual where none repeats it, shares beside what was promised', () => {
	const figures = {
		curves: [
			{ place: 0, chosen: true, mads: [10, 12, null] },
			{ place: 1, chosen: false, mads: [14, 15, 16] },
		],
		naive: [20, 24, 26],
		repeated: false,
		shares: [{ level: 0.8, shares: [82, 79, null] }],
		period: 'month',
		measured: 'pieces',
		power: 0,
	};
	const seriesOf = (more: object) =>
		trialOption({ ...figures, ...more }, palette).series as {
			name: string;
			data: (number | null)[];
			lineStyle: { width: number };
			markLine?: { data: { yAxis: number }[] };
		}[];
	const named = (list: ReturnType<typeof seriesOf>, name: string) => list.find((each) => each.name === name)!;
	const drawn = seriesOf({});
	expect(named(drawn, 'last actual').data).toEqual([20, 24, 26]);
	expect(named(seriesOf({ repeated: true }), 'last actual').data).toEqual([]);
	expect(named(drawn, 'candidate 0').data).toEqual([10, 12, null]);
	expect(named(drawn, 'candidate 0').lineStyle.width).toBeGreaterThan(
		named(drawn, 'candidate 1').lineStyle.width,
	);
	expect(named(drawn, 'inside 0.8').markLine!.data).toEqual([{ yAxis: 80 }]);
});
