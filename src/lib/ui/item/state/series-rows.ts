import { formatPeriod } from '$core/series/period';
import type { Layered, Layers } from '$core/series/layers';
import type { Cell } from '../../export/cells';

/** The item's figures as rows: a heading, then period, figure as adjusted, figure as it came in, what it is, event. */
export function seriesRows(series: Layered, layers: Layers, code: string): Cell[][] {
	const head = ['Period', code, 'as it came in', 'what it is', 'event'];
	const rows = series.values.map((value, i): Cell[] => [
		String(formatPeriod(series.frequency, series.first + i)),
		value,
		series.raw[i]!,
		(series.marks.get(i) ?? []).filter((mark) => mark !== 'event').join(', '),
		layers.events[series.first + i] ?? '',
	]);
	return [head, ...rows];
}
