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
		untilMostIssues(v.array(entry, expected)),
	);

/** Issues that are listed: whoever reads them corrects these first, and what is wrong in every entry is soon refused. */
export const MOST_ISSUES = 20;

/** A list whose entries are looked at until so many issues were found. */
function untilMostIssues<Entry extends v.GenericSchema, Schema extends v.ArraySchema<Entry, string>>(
	schema: Schema,
): Schema {
	const run: Schema['~run'] = (dataset, config) => {
		const input: unknown = dataset.value;
		if (!Array.isArray(input)) return schema['~run'](dataset, config);
		const value: v.InferOutput<Entry>[] = [];
		const issues: v.InferIssue<Entry>[] = [];
		let typed = true;
		for (const [key, entry] of input.entries()) {
			const one = schema.item['~run']({ value: entry }, config);
			for (const issue of one.issues ?? [])
				issues.push({
					...issue,
					path: [{ type: 'array', origin: 'value', input, key, value: entry }, ...(issue.path ?? [])],
				} as v.InferIssue<Entry>);
			typed &&= one.typed;
			value.push(one.value as v.InferOutput<Entry>);
			if (issues.length >= MOST_ISSUES) break;
		}
		const outcome = issues.length === 0 ? { typed, value } : { typed, value, issues };
		return outcome as ReturnType<Schema['~run']>;
	};
	return { ...schema, '~run': run };
}

/** Names that an object has, or is made by, whatever is put into it: a record with such a key is read as something else. */
const RESERVED: readonly string[] = ['__proto__', 'constructor', 'prototype'];

/** Whether a record may have a key. */
export const isFreeKey = (key: string): boolean => !RESERVED.includes(key);

const isObject = (value: unknown): boolean =>
	typeof value === 'object' && value !== null && !Array.isArray(value);

/**
 * A record whose keys come from outside: counted before its entries are looked at, and refused with keys that no record may have.
 * @param expected what it is: “roles are an object”
 * @param what its entries: “roles”
 */
export const recordSchema = <Entry extends v.GenericSchema>(
	key: v.GenericSchema<string, string>,
	entry: Entry,
	expected: string,
	what: string,
	most: number,
) =>
	v.pipe(
		v.custom<Record<string, v.InferInput<Entry>>>(isObject, expected),
		v.check((value) => Object.keys(value).length <= most, `there are at most ${written(most)} ${what}`),
		v.check(
			(value) => Object.keys(value).every(isFreeKey),
			`${what} are not named ${RESERVED.join(', ')}; choose another name`,
		),
		v.record(key, entry),
	);

/**
 * What would be a record whose keys come from outside, as pairs of key and entry, so that nobody looks a key up in an object.
 * @param what its entries: “labels”
 */
export const pairsSchema = <Entry extends v.GenericSchema>(
	key: v.GenericSchema<string, string>,
	entry: Entry,
	what: string,
	most: number,
) =>
	v.pipe(
		listSchema(
			v.pipe(
				v.custom<[string, v.InferInput<Entry>]>(Array.isArray, `${what} are pairs of two texts`),
				v.strictTuple([key, entry], `${what} are pairs of two texts`),
			),
			`${what} are a list of pairs`,
			what,
			most,
		),
		v.check(
			(pairs) => new Set(pairs.map(([own]) => own)).size === pairs.length,
			`no two ${what} are of the same kind`,
		),
	);

/** Controls, signs of format that have no width or turn the text around, and ends of lines and paragraphs. */
const UNSEEN = /[\p{Cc}\p{Cf}\p{Zl}\p{Zp}]/u;
const ALL_UNSEEN = new RegExp(UNSEEN.source, 'gu');
/** What most texts of a table are made of, row by row: nothing of it has to be changed. */
const PRINTED = /^[ -~]*$/;

/** Whether a text can be kept, shown and sent on as it is. */
export const isPlainText = (text: string): boolean => text.isWellFormed() && !UNSEEN.test(text);

/** A text from a table without what cannot be seen, its letters composed: two that look alike are alike. */
export const plainText = (text: string): string =>
	PRINTED.test(text) ? text : text.normalize('NFC').replace(ALL_UNSEEN, '');

/**
 * The one schema of a text that comes in, wherever it comes from: well-formed, without characters that cannot be seen, its letters
 * composed, trimmed, and bounded.
 * @param what its name in a refusal: “the code”
 */
export const textSchema = (what: string, least: number, most: number) =>
	v.pipe(
		v.string(`${what} is a text`),
		v.normalize('NFC'),
		v.trim(),
		v.minLength(least, `${what} is missing`),
		v.maxLength(most, `${what} has at most ${written(most)} characters`),
		v.check(isPlainText, `${what} holds characters that cannot be seen`),
	);

/**
 * A text that names an entry of a record.
 * @param what its name in a refusal: “what a label is of”
 */
export const keySchema = (what: string, most: number) =>
	v.pipe(
		textSchema(what, 1, most),
		v.check(isFreeKey, `${what} is not ${RESERVED.join(', ')}; choose another name`),
	);

/** Whether an item can be called so: an address that ends with one of these is that of something else. */
export const isCode = (text: string): boolean => text !== '.' && text !== '..';

/** A weight among others: a figure of at least 0. */
export const weightSchema = betweenSchema(0, BOUNDS.figure, 'a weight is a figure of at least 0');
