import { plainText } from '$core/schemas';

/**
 * Texts that other programs read. One that begins like a formula would be run there: it gets an apostrophe in front, which such
 * programs take for “this is text”, and which is taken off again where such a text comes in.
 */

/** Begins like a formula, in signs of full width too, behind whatever is not seen. */
const RUNS = /^[\s\p{Cf}]*[=+\-@＝＋－＠﹢﹣﹫﹦−]/u;
const GUARDED = new RegExp(`^'(?=${RUNS.source.slice(1)})`, 'u');

/** A text as it is written for other programs. */
export const guarded = (text: string): string => (RUNS.test(text) ? `'${text}` : text);

/** A text of a table as it is meant: two that look alike are alike. */
export const meant = (text: string): string =>
	plainText(text.startsWith("'") ? text.replace(GUARDED, '') : text);
