import type { Frequency } from '$core/series/frequency';
import { describePeriod, type Ordinal, yearOf } from '$core/series/period';
import { grouped, writeFigure } from '$core/numbers/figure';
import { inMark } from '../reader.svelte';
import type { Palette } from './palette';

/** In single quotes: it comes to stand in attributes of SVG documents as it is. */
export const WORDS_FONT = "'Source Sans 3 Variable', sans-serif";

/**
 * Labels of an axis of figures, written as all figures are.
 * @param power the figures are divided by this power of ten, which something beside the axis names
 */
export function figureLabels(palette: Palette, fontSize = 12, power = 0) {
	return {
		color: palette.ink2,
		fontSize,
		fontFamily: WORDS_FONT,
		formatter: (value: number) => inMark(grouped(writeFigure(value / 10 ** power, 6))),
	};
}

/** An axis of figures whose name stands above it, in the margin of 52 pixels that its labels have. */
export const valueAxis = (palette: Palette, gridIndex: number, name: string) => ({
	type: 'value',
	gridIndex,
	name,
	nameLocation: 'end',
	nameGap: 8,
	nameTextStyle: { align: 'left', color: palette.ink2, padding: [0, 0, 0, -44] },
	splitNumber: 3,
	splitLine: { lineStyle: { color: palette.rule } },
});

/**
 * Which periods of an axis carry a label, and what it says: years where the calendar has them and they are not
 * too close, else periods evenly apart.
 */
export function periodLabels(
	frequency: Frequency,
	first: Ordinal,
	count: number,
	most: number,
): { at: (index: number) => boolean; text: (index: number) => string } {
	const starts = yearsWithin(frequency, first, count);
	if (starts.length >= 2) {
		const every = Math.ceil(starts.length / most);
		const marked = new Set(starts.filter((_, i) => i % every === 0));
		return { at: (index) => marked.has(index), text: (index) => String(yearOf(frequency, first + index)) };
	}
	const every = Math.max(1, Math.ceil(count / most));
	return {
		at: (index) => index % every === 0,
		text: (index) =>
			describePeriod(frequency, first + index).replace(
				/^(Mon|Tue|Wed|Thu|Fri|Sat|Sun) | \d{4}(?= \d\d:)/g,
				'',
			),
	};
}

/** The stretch last asked about: a chart is drawn anew with every move of a dial. */
let within = { asked: '', starts: [] as readonly number[] };

/** Places of a stretch at which a year begins; none where years say nothing about its periods. */
function yearsWithin(frequency: Frequency, first: Ordinal, count: number): readonly number[] {
	if (!['month', 'quarter', 'half-year', 'week'].includes(frequency)) return [];
	const asked = `${frequency} ${first} ${count}`;
	if (asked === within.asked) return within.starts;
	const starts: number[] = [];
	let before = yearOf(frequency, first - 1);
	for (let i = 0; i < count; i++) {
		const year = yearOf(frequency, first + i);
		if (year !== before) starts.push(i);
		before = year;
	}
	within = { asked, starts };
	return starts;
}
