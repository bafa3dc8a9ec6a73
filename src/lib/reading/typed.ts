import { type DecimalMark, isMissing, readFigure } from './figures';

/** What was typed, read: a value, null for nothing, or why it cannot be taken. */
export type Typed<T> = { value: T | null } | { refused: string };

/** How a figure that is typed may look under a decimal mark, for refusals. */
const EXAMPLE: Readonly<Record<DecimalMark, string>> = { '.': '1204.5', ',': '1204,5' };
const MARK_NAME: Readonly<Record<DecimalMark, string>> = { '.': 'point', ',': 'comma' };

/** Reads a figure as it is typed, by the same reader that reads tables. */
export function readTyped(text: string, mark: DecimalMark): Typed<number> {
	if (text.trim() === '' || isMissing(text)) return { value: null };
	const read = readFigure(text, mark);
	if ('value' in read) return read;
	const other = mark === '.' ? ',' : '.';
	const byOther = readFigure(text, other);
	if ('value' in byOther && byOther.value !== null)
		return {
			refused: `“${text.trim()}” is not a figure with a decimal ${MARK_NAME[mark]}. Type ${text.trim().replaceAll(mark, '').replace(other, mark)}, or change the decimal mark at the top of the page.`,
		};
	return { refused: `The field ${read.refused}. Type one such as ${EXAMPLE[mark]}.` };
}

/** Reads several figures with blanks or semicolons between them. */
export function readTypedList(text: string, mark: DecimalMark): Typed<number[]> {
	const parts = text.split(/[\s;·]+/).filter(Boolean);
	if (parts.length === 0) return { value: null };
	const values: number[] = [];
	for (const part of parts) {
		const read = readTyped(part, mark);
		if ('refused' in read) return read;
		if (read.value === null) return { refused: `“${part}” stands where a figure should.` };
		values.push(read.value);
	}
	return { value: values };
}
