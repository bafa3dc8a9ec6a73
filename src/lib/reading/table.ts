import { parse } from 'csv-parse/browser/esm/sync';

export const DELIMITERS = ['\t', ';', ','] as const;
export type Delimiter = (typeof DELIMITERS)[number];

/** The word for a delimiter in sentences and choices. */
export const DELIMITER_NAME: Readonly<Record<Delimiter, string>> = {
	'\t': 'tab',
	';': 'semicolon',
	',': 'comma',
};

/** Text cut into rows of cells; a row keeps the cells it has. */
export function cutRows(text: string, delimiter: Delimiter): string[][] {
	const rows = parse(text, {
		delimiter,
		relax_column_count: true,
		relax_quotes: true,
		bom: true,
		trim: true,
		skip_empty_lines: false,
	}) as string[][];
	while (rows.length > 0 && isBlank(rows[0]!)) rows.shift();
	while (rows.length > 0 && isBlank(rows.at(-1)!)) rows.pop();
	return rows;
}

export const isBlank = (row: readonly string[]): boolean => row.every((cell) => cell === '');

/** The widest row. */
export function widthOf(rows: readonly string[][]): number {
	return rows.reduce((widest, row) => Math.max(widest, row.length), 0);
}

const SAMPLE_LINES = 200;

/**
 * The delimiter under which the first lines fall into the most even columns, tab before semicolon before comma.
 * @returns the delimiter, and the others that cut most of the lines as well
 */
export function findDelimiter(text: string): { delimiter: Delimiter; others: Delimiter[] } {
	const sample = text.split(/\r\n?|\n/, SAMPLE_LINES).filter((line) => line.trim() !== '');
	const cutting = DELIMITERS.filter((delimiter) => sample.some((line) => line.includes(delimiter)));
	const evenness = (delimiter: Delimiter) => {
		const widths = sample.map((line) => line.split(delimiter).length);
		return widths.filter((width) => width === widths[0] && width > 1).length / widths.length;
	};
	const [delimiter = ',', ...others] = [...cutting].sort((a, b) => evenness(b) - evenness(a));
	const most = (other: Delimiter) => sample.filter((line) => line.includes(other)).length > sample.length / 2;
	return { delimiter, others: others.filter(most) };
}
