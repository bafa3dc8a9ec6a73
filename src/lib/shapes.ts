/**
 * What travels between server and browser, beside the request and answer of `evaluate`. Requests are Valibot
 * schemas, checked on the server; what comes back is a type.
 */
import * as v from 'valibot';
import type { CandidateInput, Start } from '$core/methods/method';
import type { Measures } from '$core/accuracy/measures';
import { CandidateSchema, CandidatesSchema, type RequestIssue } from '$core/request';
import { FREQUENCIES, type Frequency } from '$core/series/frequency';
import { GAP_RULES } from '$core/series/gaps';
import { type Layers, LAYERS } from '$core/series/layers';
import { ENCODINGS } from './reading/decode';
import { DUPLICATES } from './reading/lay';
import { COLUMN_ROLES, ROW_ROLES } from './reading/layout';
import { DELIMITERS } from './reading/table';

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

/** Roles by position: a JSON object has texts for keys. */
const rolesOf = <const Roles extends readonly string[]>(roles: Roles) =>
	v.record(v.pipe(v.string(), v.regex(/^\d{1,6}$/, 'a position is a whole number')), v.picklist(roles));

/** How a table is to be read. */
const ChoicesSchema = v.strictObject({
	sheet: v.optional(v.pipe(v.string(), v.maxLength(200))),
	encoding: v.optional(v.picklist(ENCODINGS)),
	delimiter: v.optional(v.picklist(DELIMITERS)),
	decimal: v.optional(v.picklist(['.', ','])),
	percent: v.optional(v.picklist(['whole', 'share'])),
	dateOrder: v.optional(v.picklist(['day-first', 'month-first'])),
	duplicates: v.optional(v.picklist(DUPLICATES)),
	columns: v.optional(rolesOf(COLUMN_ROLES)),
	rows: v.optional(rolesOf(ROW_ROLES)),
	order: v.optional(v.picklist(['down', 'across'])),
	frequency: v.optional(v.picklist(FREQUENCIES)),
	first: v.optional(v.pipe(v.string(), v.maxLength(40))),
});

const itemLines = {
	code: line('the code', 1, 80),
	name: line('the name', 1, 200),
	unit: v.optional(line('the unit', 0, 40), ''),
};

/** A text to bring in as one new item, and how it is to be read. */
export const NewItemSchema = v.strictObject({
	text: v.pipe(
		v.string('the text is missing'),
		v.maxLength(8_000_000, 'the text has at most 8 million characters'),
	),
	fileName: v.optional(line('the file name', 1, 300)),
	...itemLines,
	choices: v.optional(ChoicesSchema, {}),
});
export type NewItem = v.InferOutput<typeof NewItemSchema>;

/** Which item of a table is wanted, and what it is to be called. */
const ItemWishSchema = v.strictObject({ from: v.string(), ...itemLines });
export type ItemWish = v.InferOutput<typeof ItemWishSchema>;

/** What is to be brought in of a table, which follows as bytes. */
export const BringInSchema = v.strictObject({
	fileName: v.optional(line('the file name', 1, 300)),
	choices: v.optional(ChoicesSchema, {}),
	items: v.pipe(
		v.array(ItemWishSchema),
		v.minLength(1, 'at least one item is chosen'),
		v.maxLength(50_000, 'at most 50,000 items come in at once'),
	),
});
export type BringIn = v.InferOutput<typeof BringInSchema>;

/** How a file too large to be read at once is brought in: every item of it, by the decisions made on its beginning. */
export const StreamSchema = v.strictObject({
	fileName: v.optional(line('the file name', 1, 300)),
	choices: v.optional(ChoicesSchema, {}),
	/** Reads all of it, says what would come in, and stores nothing. */
	tryOnly: v.optional(v.boolean(), false),
});
export type StreamWish = v.InferOutput<typeof StreamSchema>;

/** Codes to be looked up. */
export const CodesSchema = v.strictObject({ codes: v.pipe(v.array(v.string()), v.maxLength(50_000)) });

/** What became of one item of a table. */
export interface BroughtIn {
	code: string;
	created: boolean;
	/** Periods that were not there before, periods whose figure differed, and periods that were the same. */
	added: number;
	corrected: number;
	same: number;
}

/** How far a file is, line by line of the answer; the last line has `done` or `refused`. */
export type StreamProgress =
	| { stage: 'reading' | 'storing'; share: number; rows: number; items: number }
	| {
			done: {
				items: number;
				created: number;
				added: number;
				corrected: number;
				same: number;
				rows: number;
				stored: boolean;
			};
	  }
	| { refused: RefusalBody };

/** What is kept of an item. */
export interface StoredSeries {
	code: string;
	name: string;
	unit: string;
	frequency: Frequency;
	first: number;
	values: (number | null)[];
}

const ordinal = v.pipe(v.number(), v.integer(), v.minValue(-2_000_000_000), v.maxValue(2_000_000_000));
const setting = <Schema extends v.GenericSchema>(schema: Schema) => v.nullable(schema);
const finite = v.pipe(
	v.number('a figure is a number'),
	v.finite('a figure is a finite number'),
	v.minValue(-1e15),
	v.maxValue(1e15),
);

/** One entry of an item's layers; a setting of null takes away the one before. */
export const MendSchema = v.variant('kind', [
	v.strictObject({
		kind: v.literal('correction'),
		period: ordinal,
		setting: setting(v.strictObject({ to: finite, over: v.nullable(finite) })),
	}),
	v.strictObject({ kind: v.literal('gap'), period: ordinal, setting: setting(v.picklist(GAP_RULES)) }),
	v.strictObject({ kind: v.literal('left-out'), period: ordinal, setting: setting(v.literal(true)) }),
	v.strictObject({ kind: v.literal('event'), period: ordinal, setting: setting(line('an event', 1, 200)) }),
	v.strictObject({ kind: v.literal('gap-rule'), setting: setting(v.picklist(GAP_RULES)) }),
	v.strictObject({ kind: v.literal('per-day'), setting: setting(v.literal(true)) }),
	v.strictObject({
		kind: v.literal('season-length'),
		setting: setting(
			v.pipe(
				v.number(),
				v.integer(),
				v.minValue(1, 'a season has at least 1 period'),
				v.maxValue(2000, 'a season has at most 2,000 periods'),
			),
		),
	}),
	v.strictObject({ kind: v.literal('off'), layer: v.picklist(LAYERS), setting: setting(v.literal(true)) }),
]);
export type Mend = v.InferOutput<typeof MendSchema>;

/** Entries that belong together: one press of a key, or a stretch that was left out. */
export const MendsSchema = v.strictObject({
	entries: v.pipe(v.array(MendSchema), v.minLength(1), v.maxLength(20_000)),
});

/** An entry of the layers as it stands on record. */
export type RecordedMend = Mend & { id: number; at: string; by: string };

/** An item's layers, with the newest entry of each. */
export interface ItemLayers {
	layers: Layers;
	/** The newest entries first, at most a hundred. */
	history: RecordedMend[];
	/** Id of the newest entry; 0 where there is none. */
	newest: number;
}

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
	/** The candidates that it is made from, where it is a combination. */
	others: v.optional(v.array(CandidateSchema), []),
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
	/** The newest change of actuals, and the newest entry of the layers, that the browser had seen. */
	seen: v.pipe(v.number(), v.integer()),
	seenLayers: v.optional(v.pipe(v.number(), v.integer()), 0),
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
	/** What was done to the actuals before: “1 left out”. */
	layersUsed: string[];
}

export interface Item {
	code: string;
	name: string;
	unit: string;
	series: ItemSeries;
	/** The newest change of its actuals. */
	seen: number;
	layers: ItemLayers;
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
