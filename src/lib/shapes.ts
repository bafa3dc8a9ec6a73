/**
 * What travels between server and browser, beside the request and answer of `evaluate`. Requests are Valibot
 * schemas, checked on the server; what comes back is a type.
 */
import * as v from 'valibot';
import type { CandidateInput, Start } from '$core/methods/method';
import type { Measures } from '$core/accuracy/measures';
import { CandidateSchema, CandidatesSchema, type RequestIssue } from '$core/request';
import { FREQUENCIES, type Frequency } from '$core/series/frequency';

const line = (what: string, least: number, most: number) =>
	v.pipe(
		v.string(`${what} is a text`),
		v.trim(),
		v.minLength(least, `${what} is missing`),
		v.maxLength(most, `${what} has at most ${most} characters`),
		v.check(
			(text) => [...text].every((character) => character >= ' ' && character !== '\u007f'),
			`${what} holds characters that cannot be seen`,
		),
	);

/** A text to bring in as a new item, and how it is to be read. */
export const BringInSchema = v.strictObject({
	text: v.pipe(
		v.string('the text is missing'),
		v.maxLength(8_000_000, 'the text has at most 8 million characters'),
	),
	fileName: v.optional(line('the file name', 1, 300)),
	code: line('the code', 1, 80),
	name: line('the name', 1, 200),
	unit: v.optional(line('the unit', 0, 40), ''),
	choices: v.optional(
		v.strictObject({
			delimiter: v.optional(v.picklist(['\t', ';', ','])),
			header: v.optional(v.boolean()),
			decimal: v.optional(v.picklist(['.', ','])),
			periodColumn: v.optional(v.nullable(v.pipe(v.number(), v.integer(), v.minValue(0)))),
			figureColumn: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0))),
			frequency: v.optional(v.picklist(FREQUENCIES)),
			first: v.optional(v.string()),
		}),
		{},
	),
});
export type BringIn = v.InferOutput<typeof BringInSchema>;

/** A line-up as it is to be kept, and the version that it was made from. */
export const LineUpSchema = v.strictObject({
	version: v.pipe(v.number(), v.integer(), v.minValue(0)),
	candidates: CandidatesSchema,
	hidden: v.optional(v.array(v.string()), []),
});
export type LineUp = { version: number; candidates: readonly CandidateInput[]; hidden: readonly string[] };

/** A candidate to adopt. Its figures are computed on the server from the stored actuals. */
export const AdoptSchema = v.strictObject({
	candidate: CandidateSchema,
	horizon: v.pipe(
		v.number('the horizon is a number'),
		v.integer('the horizon is a whole number'),
		v.minValue(1, 'the horizon is at least 1'),
		v.maxValue(500, 'the horizon is at most 500'),
	),
	levels: v.optional(v.array(v.pipe(v.number(), v.gtValue(0), v.ltValue(1))), [0.8, 0.95]),
	/** First scored period, where the comparison was narrowed; it decides what a search minimises over. */
	scoreFrom: v.optional(v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1))), null),
	reason: v.optional(
		v.pipe(v.string(), v.trim(), v.maxLength(2000, 'the reason has at most 2000 characters')),
		'',
	),
	/** The newest change of actuals that the browser had seen. */
	seen: v.pipe(v.number(), v.integer()),
});
export type Adopt = v.InferOutput<typeof AdoptSchema>;

/** An item's figures in full. */
export interface ItemSeries {
	frequency: Frequency;
	seasonLength: number;
	/** Ordinal of the first period. */
	first: number;
	/** Latest revision of each period; null where missing. */
	values: (number | null)[];
}

export interface AdoptedStep {
	step: number;
	period: number;
	mean: number;
	ranges: Record<string, [number, number] | null>;
}

export interface AdoptedForecast {
	id: number;
	method: string;
	label: string;
	candidate: CandidateInput;
	constants: Record<string, number>;
	start: Start | null;
	measures: Measures;
	/** Ordinal of the last period known then. */
	origin: number;
	reason: string;
	adoptedAt: string;
	adoptedBy: string;
	programVersion: string;
	steps: AdoptedStep[];
}

export interface Item {
	code: string;
	name: string;
	unit: string;
	series: ItemSeries;
	/** The newest change of its actuals. */
	seen: number;
	lineUp: LineUp;
	adopted: AdoptedForecast | null;
	/** How many forecasts were adopted so far. */
	adoptedCount: number;
}

/** Why an item should be looked at now. */
export interface Attention {
	code: 'drifting' | 'not-adopted' | 'ends-in-gap';
	text: string;
}

/** One row of the list of items. */
export interface ItemRow {
	code: string;
	name: string;
	unit: string;
	frequency: Frequency;
	periods: number;
	/** Ordinal of the last period. */
	last: number;
	/** The latest periods, at most 48. */
	recent: (number | null)[];
	adopted: {
		label: string;
		/** What was forecast for the periods after the origin. */
		means: number[];
		nextPeriod: number;
		mad: number | null;
		mape: number | null;
		bias: number | null;
		trackingSignal: number | null;
	} | null;
	attention: Attention | null;
}

/** What every refused call answers with. */
export interface RefusalBody {
	message: string;
	issues?: readonly RequestIssue[];
}
