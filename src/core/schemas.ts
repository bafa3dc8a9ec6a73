import * as v from 'valibot';
import { BOUNDS, written } from './bounds';

/** Parts of which request schemas are put together, each with its bound. */

/**
 * A figure that can be computed with: finite, and no larger than the bound on either side of 0.
 * @param expected what a figure is there, as a refusal says it: “the level is a finite number”
 */
export const figureSchema = (expected: string) =>
	v.pipe(
		v.number(expected),
		v.finite(expected),
		v.check(
			(value) => Math.abs(value) <= BOUNDS.figure,
			`${expected}, and no larger than ${written(BOUNDS.figure)} on either side of 0`,
		),
	);

/** A figure between two others, both of them allowed. */
export const betweenSchema = (low: number, high: number, expected: string) =>
	v.pipe(figureSchema(expected), v.minValue(low, expected), v.maxValue(high, expected));

/**
 * A whole number from `least` to `most`.
 * @param what its name: “the horizon”
 */
export function wholeSchema(least: number, most: number, what: string) {
	const expected = `${what} is a whole number of at least ${least}`;
	return v.pipe(
		v.number(expected),
		v.integer(expected),
		v.minValue(least, expected),
		v.maxValue(most, `${what} is at most ${written(most)}`),
	);
}

/**
 * A list with a bound, counted before its entries are looked at.
 * @param expected what the list is: “weights are a list”
 * @param what its entries: “weights”
 */
export const listSchema = <Entry extends v.GenericSchema>(
	entry: Entry,
	expected: string,
	what: string,
	most: number,
) =>
	v.pipe(
		v.custom<v.InferInput<Entry>[]>(Array.isArray, expected),
		v.maxLength(most, `there are at most ${written(most)} ${what}`),
		v.array(entry, expected),
	);

/** Whether a text can be kept, shown and sent on as it is. */
export const isPlainText = (text: string): boolean =>
	text.isWellFormed() && ![...text].some((character) => character < ' ' || character === '\u007f');

/**
 * The one schema of a text that comes in, wherever it comes from: well-formed, without characters that cannot be seen, trimmed,
 * and bounded.
 * @param what its name in a refusal: “the code”
 */
export const textSchema = (what: string, least: number, most: number) =>
	v.pipe(
		v.string(`${what} is a text`),
		v.trim(),
		v.minLength(least, `${what} is missing`),
		v.maxLength(most, `${what} has at most ${written(most)} characters`),
		v.check(isPlainText, `${what} holds characters that cannot be seen`),
	);

/** A weight among others: a figure of at least 0. */
export const weightSchema = betweenSchema(0, BOUNDS.figure, 'a weight is a figure of at least 0');
