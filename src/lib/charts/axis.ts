import type { Frequency } from '$core/series/frequency';
import { describePeriod, firstDay, type Ordinal, periodOfDay, yearOf } from '$core/series/period';
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
 * Which periods of an axis carry a label, and what it says: those that a year begins with, or of shorter periods a month, a week or a
 * day, whichever stand closest without crowding; where the calendar has none, periods evenly apart.
 */
export function periodLabels(
	frequency: Frequency,
	first: Ordinal,
	count: number,
	most: number,
): { at: (index: number) => boolean; text: (index: number) => string } {
	const spans = spansOf(frequency)
		.map((span) => {
			const before = span.of(first - 1);
			return { ...span, before, starts: span.of(first + count - 1) - before };
		})
		.filter(({ starts }) => starts >= 2);
	const fits = spans.findIndex(({ starts }) => starts <= most);
	// Two or three of one kind tell less than every other one of the next shorter kind.
	const span = spans.at(fits > 0 && spans[fits]!.starts < FEW ? fits - 1 : fits);
	if (span && (count > most || frequency in YEARS_ONLY)) {
		const every = Math.ceil(span.starts / most);
		const marked = new Set<number>();
		for (let i = 1; i <= span.starts; i += every) marked.add(firstOf(span.of, span.before + i, first, count));
		return { at: (index) => marked.has(index), text: (index) => span.text(first + index) };
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

const FEW = 4;

/** A span of the calendar that several periods lie in. */
interface Span {
	/** Its number, which grows with time. */
	of: (ordinal: Ordinal) => number;
	/** How it is named at its first period. */
	text: (ordinal: Ordinal) => string;
}

/** Spans that mark periods, the shortest first; none where years say nothing about them. */
function spansOf(frequency: Frequency): Span[] {
	const year: Span = {
		of: (ordinal) => yearOf(frequency, ordinal)!,
		text: (ordinal) => String(yearOf(frequency, ordinal)),
	};
	if (frequency in YEARS_ONLY) return [year];
	if (!['hour', 'day', 'weekday'].includes(frequency)) return [];
	const dayOf = (ordinal: Ordinal) => firstDay(frequency, ordinal)!;
	const date = (ordinal: Ordinal) => describePeriod('day', dayOf(ordinal)).replace(/^\w+ /, '');
	const month = (ordinal: Ordinal) => periodOfDay('month', dayOf(ordinal));
	return [
		...(frequency === 'hour' ? [{ of: dayOf, text: date }] : []),
		{ of: (ordinal) => periodOfDay('week', dayOf(ordinal)), text: date },
		{ of: month, text: (ordinal) => describePeriod('month', month(ordinal)) },
		year,
	];
}
const YEARS_ONLY: Partial<Record<Frequency, true>> = {
	month: true,
	quarter: true,
	'half-year': true,
	week: true,
};

/** Place of the first period whose span has a number; periods are halved until it is found. */
function firstOf(of: Span['of'], number: number, first: Ordinal, count: number): number {
	let [low, high] = [0, count - 1];
	while (low < high) {
		const middle = (low + high) >> 1;
		if (of(first + middle) < number) low = middle + 1;
		else high = middle;
	}
	return low;
}
