import { alignFigures } from '../../src/lib/reading/align';
import { RowsReader } from '../../src/lib/reading/by-rows';
import type { Choices } from '../../src/lib/reading/choices';
import type { Reading } from '../../src/lib/reading/reading';
import { openText } from '../../src/lib/reading/source';

/** What an item comes to: its figures by period, and what it is labelled with. */
export type Read = Record<string, { figures: [period: number, value: number][]; labels: readonly string[] }>;

/**
 * A text read part by part, as a large file is.
 * @param beginning lines that its layout is decided on, @param step lines of a part
 * @returns what its items come to, or why it is not read so
 */
export function byRows(
	text: string,
	choices: Choices = {},
	{ beginning = Infinity, step = 7 } = {},
): Read | { problem: string } {
	const lines = text.replace(/\r\n?/g, '\n').split('\n');
	const reader = RowsReader.of(openText(lines.slice(0, beginning).join('\n')), choices);
	if ('problem' in reader) return reader;
	const items = new Map<string, { periods: number[]; values: (number | null)[] }>();
	for (let from = 0; from <= lines.length; from += step) {
		const isLast = from + step > lines.length;
		const part = lines.slice(from, from + step).join('\n') + (isLast ? '' : '\n');
		const read = reader.take(part, isLast);
		if ('refused' in read) return { problem: read.refused };
		for (const [i, { item }] of read.entries.entries()) {
			if (read.ordinals[i] === null) continue;
			const kept = items.get(item) ?? { periods: [], values: [] };
			items.set(item, kept);
			kept.periods.push(read.ordinals[i]!);
			kept.values.push(read.values[i]!);
		}
	}
	const filled = reader.filled();
	return Object.fromEntries(
		[...items].flatMap(([code, { periods, values }]) => {
			const aligned = alignFigures(periods, values, choices.duplicates ?? 'sum');
			const figures = present(aligned.first, aligned.values).filter(
				([period]) => !filled || (period >= filled.from && period <= filled.to),
			);
			if (filled?.zeros && figures.length > 0) {
				const known = new Map(figures);
				const first = figures[0]![0];
				figures.length = 0;
				for (let period = first; period <= filled.to; period++)
					figures.push([period, known.get(period) ?? 0]);
			}
			return figures.length === 0 ? [] : [[code, { figures, labels: reader.labelsOf(code) }]];
		}),
	);
}

/** What a reading of a whole table comes to. */
export const readWhole = ({ items }: Pick<Reading, 'items'>): Read =>
	Object.fromEntries(
		items.flatMap(({ code, first, values, labels }) => {
			const figures = present(first, values);
			return figures.length === 0 ? [] : [[code, { figures, labels }]];
		}),
	);

const present = (first: number, values: readonly (number | null)[]): [number, number][] =>
	values.flatMap((value, i) => (value === null ? [] : [[first + i, value]]));
