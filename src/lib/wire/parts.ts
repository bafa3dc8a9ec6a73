/** Parts of several shapes. */
import * as v from 'valibot';
import { BOUNDS } from '$core/bounds';
import { figureSchema, isCode, isPlainText, listSchema, textSchema, wholeSchema } from '$core/schemas';
import { FREQUENCIES } from '$core/series/frequency';
import { LabelsSchema } from './labels-schema';

/** What an item is called by from now on: an address leads to it. */
const newCode = v.pipe(
	textSchema('the code', 1, BOUNDS.code),
	v.check(isCode, 'the code is not “.” or “..”, which no address can end with'),
);

export const itemLines = {
	code: newCode,
	name: textSchema('the name', 1, BOUNDS.name),
	unit: v.optional(textSchema('the unit', 0, BOUNDS.unit), ''),
};

/** Figures of an answer; null where there is none. */
export const known = v.nullable(v.pipe(v.number(), v.finite()));

export const frequency = v.picklist(FREQUENCIES);

export type Labels = v.InferOutput<typeof LabelsSchema>;

/** A number that the database gives out. */
export const id = (what: string) => wholeSchema(0, Number.MAX_SAFE_INTEGER, what);

export const finite = figureSchema('a figure is a finite number');

export const byPeriod = <Schema extends v.GenericSchema>(schema: Schema) => v.record(v.string(), schema);

/** Words that stay with a change, over several lines if need be. */
export const reason = v.pipe(
	v.string('the reason is a text'),
	v.trim(),
	v.maxLength(BOUNDS.reason, `the reason has at most ${BOUNDS.reason} characters`),
	v.check(
		// Lines, and what joins letters in some scripts and signs.
		(text) => isPlainText(text.replace(/[\t\n\r\u200c\u200d]/g, ' ')),
		'the reason holds characters that cannot be seen',
	),
);

export const rangesByLevel = v.record(
	v.string(),
	v.nullable(v.pipe(v.strictTuple([v.number(), v.number()]), v.readonly())),
);

export const scaleSchema = v.strictObject({ power: v.number(), decimals: v.number() });

export const codes = listSchema(
	textSchema('a code', 1, BOUNDS.code),
	'codes are a list',
	'codes',
	BOUNDS.sweepCodes,
);

/** Where a row stands in the order that was asked for: what it is sorted by, and its code. */
export const PlaceSchema = v.pipe(
	v.array(v.union([v.null(), v.pipe(v.number(), v.finite()), v.string()]), 'a place is a list'),
	v.minLength(1, 'a place has at least one part'),
	v.maxLength(3, 'a place has at most three parts'),
);

export type Place = v.InferOutput<typeof PlaceSchema>;
