/**
 * The small line of a row of the list, one letter a figure: the list has thousands of rows, and a line as high as a letter shows no
 * more than so many steps.
 */
const LETTERS = '0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz';
const MISSING = '-';

/** Figures as letters between the least and the greatest of them; null where one is missing. */
export function writeLine(values: readonly (number | null)[]): string {
	const known = values.filter((value) => value !== null);
	const low = known.reduce((least, value) => Math.min(least, value), Infinity);
	const high = known.reduce((most, value) => Math.max(most, value), -Infinity);
	const top = LETTERS.length - 1;
	// Halves first: the span of figures at both ends of what can be counted with is beyond it.
	const step = (high / 2 - low / 2) / top;
	return values
		.map((value) => {
			if (value === null) return MISSING;
			return LETTERS[step > 0 ? Math.min(top, Math.round((value / 2 - low / 2) / step)) : 0]!;
		})
		.join('');
}

/** The steps that letters stand for, null where one is missing. */
export const readLine = (line: string): (number | null)[] =>
	[...line].map((letter) => (letter === MISSING ? null : LETTERS.indexOf(letter)));
