/**
 * What travels between server and browser, beside the request and answer of `evaluate`: requests, which the server checks, and
 * answers, to which tests and the bench hold it.
 */
import type { Candidate } from '$core/methods/registry';
import * as v from 'valibot';
import type { Start } from '$core/contract/candidate';
import type { Alarm } from '$core/accuracy/alarm';
import type { Measures } from '$core/accuracy/measures';
import { BOUNDS } from '$core/bounds';
import { CandidateSchema, CandidatesSchema, LevelsSchema, type RequestIssue } from '$core/questions/request';
import { figureSchema, isPlainText, listSchema, textSchema, wholeSchema } from '$core/schemas';
import { FREQUENCIES } from '$core/series/frequency';
import { ChoicesSchema } from './reading/choices';
import { GAP_RULES } from '$core/series/gaps';
import { type LayerEntry, LayerEntrySchema } from '$core/series/layer-entries';
import { type Layers, LAYERS } from '$core/series/layers';

const itemLines = {
	code: textSchema('the code', 1, BOUNDS.code),
	name: textSchema('the name', 1, BOUNDS.name),
	unit: v.optional(textSchema('the unit', 0, BOUNDS.unit), ''),
};

/** A text to bring in as one new item, and how it is to be read. */
export const NewItemSchema = v.strictObject({
	text: v.pipe(
		v.string('the text is missing'),
		v.maxLength(BOUNDS.tableCharacters, 'the text has at most 8 million characters'),
	),
	fileName: v.optional(textSchema('the file name', 1, BOUNDS.fileName)),
	...itemLines,
	choices: v.optional(ChoicesSchema, {}),
});
export type NewItem = v.InferOutput<typeof NewItemSchema>;

/** Which item of a table is wanted, and what it is to be called. */
const ItemRequestSchema = v.strictObject({
	/** As the table names it; empty for the one item of a table that names none. */
	from: v.pipe(
		v.string('from is a text'),
		v.maxLength(BOUNDS.cellCharacters, 'from is longer than any cell'),
		v.check(isPlainText, 'from holds characters that cannot be seen'),
	),
	...itemLines,
});
export type ItemRequest = v.InferOutput<typeof ItemRequestSchema>;

/** What is to be brought in of a table, which follows as bytes. */
export const BringInSchema = v.strictObject({
	fileName: v.optional(textSchema('the file name', 1, BOUNDS.fileName)),
	choices: v.optional(ChoicesSchema, {}),
	items: v.pipe(
		listSchema(ItemRequestSchema, 'items are a list', 'items', BOUNDS.tableItems),
		v.minLength(1, 'at least one item is chosen'),
	),
});
export type BringIn = v.InferOutput<typeof BringInSchema>;

/** How a file too large to be read at once is brought in: every item of it, by the decisions made on its beginning. */
export const StreamSchema = v.strictObject({
	fileName: v.optional(textSchema('the file name', 1, BOUNDS.fileName)),
	choices: v.optional(ChoicesSchema, {}),
	/** Reads all of it, says what would come in, and stores nothing. */
	tryOnly: v.optional(v.boolean(), false),
});
export type StreamRequest = v.InferOutput<typeof StreamSchema>;

/** Codes to be looked up. */
export const CodesSchema = v.strictObject({
	codes: listSchema(textSchema('a code', 1, BOUNDS.code), 'codes are a list', 'codes', BOUNDS.codes),
});

/** What became of one item of a table. */
export const BroughtInSchema = v.strictObject({
	code: v.string(),
	created: v.boolean(),
	/** Periods that were not there before, periods whose figure differed, and periods that were the same. */
	added: v.number(),
	corrected: v.number(),
	same: v.number(),
});
export type BroughtIn = v.InferOutput<typeof BroughtInSchema>;

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

/** Figures of an answer; null where there is none. */
const known = v.nullable(v.pipe(v.number(), v.finite()));
const frequency = v.picklist(FREQUENCIES);

/** What is kept of an item. */
export const StoredSeriesSchema = v.strictObject({
	code: v.string(),
	name: v.string(),
	unit: v.string(),
	frequency,
	first: v.number(),
	values: v.array(known),
});
export type StoredSeries = v.InferOutput<typeof StoredSeriesSchema>;

/** A number that the database gives out. */
const id = (what: string) => wholeSchema(0, Number.MAX_SAFE_INTEGER, what);
const finite = figureSchema('a figure is a finite number');

/** Entries that belong together: one press of a key, or a stretch that was left out. */
export const LayerEntriesSchema = v.strictObject({
	/** The newest entry that their maker had seen; 0 where there was none. */
	seen: id('seen'),
	entries: v.pipe(
		listSchema(LayerEntrySchema, 'entries are a list', 'entries', BOUNDS.layerEntries),
		v.minLength(1, 'there is at least one entry'),
	),
});
export type LayerEntries = v.InferOutput<typeof LayerEntriesSchema>;

/** An entry of the layers as it stands on record. */
export type RecordedEntry = LayerEntry & { id: number; at: string; by: string };
const RecordedEntrySchema = v.intersect([
	v.looseObject({ id: v.number(), at: v.string(), by: v.string() }),
	v.looseObject({ kind: v.string() }),
]) as unknown as v.GenericSchema<RecordedEntry>;

const byPeriod = <Schema extends v.GenericSchema>(schema: Schema) => v.record(v.string(), schema);
const LayersSchema = v.strictObject({
	corrections: byPeriod(v.strictObject({ to: v.number(), over: known })),
	gaps: byPeriod(v.picklist(GAP_RULES)),
	leftOut: v.array(v.number()),
	events: byPeriod(v.string()),
	gapRule: v.picklist(GAP_RULES),
	perDay: v.boolean(),
	seasonLength: v.nullable(v.number()),
	off: v.array(v.picklist(LAYERS)),
}) as unknown as v.GenericSchema<Layers>;

/** An item's layers, with the newest entry of each. */
export const ItemLayersSchema = v.strictObject({
	layers: LayersSchema,
	/** The newest entries first, at most a hundred. */
	history: v.array(RecordedEntrySchema),
	/** Id of the newest entry; 0 where there is none. */
	newest: v.number(),
});
export type ItemLayers = v.InferOutput<typeof ItemLayersSchema>;

/** A line-up as it is to be kept, and the version that it was made from. */
export const LineUpSchema = v.strictObject({
	version: wholeSchema(0, 2_000_000_000, 'the version'),
	candidates: CandidatesSchema,
	hidden: v.optional(
		listSchema(
			textSchema('an id', 1, BOUNDS.id),
			'hidden are a list',
			'hidden candidates',
			BOUNDS.candidates,
		),
		[],
	),
});
export type LineUp = v.InferOutput<typeof LineUpSchema>;

/** Words that stay with a change, over several lines if need be. */
const reason = v.pipe(
	v.string('the reason is a text'),
	v.trim(),
	v.maxLength(BOUNDS.reason, `the reason has at most ${BOUNDS.reason} characters`),
	v.check(
		(text) => isPlainText(text.replace(/[\t\n\r]/g, ' ')),
		'the reason holds characters that cannot be seen',
	),
);

/** What an item is to be called, and whether it is on the list. */
export const ItemChangeSchema = v.pipe(
	v.strictObject({
		code: v.optional(itemLines.code),
		name: v.optional(itemLines.name),
		unit: v.optional(textSchema('the unit', 0, BOUNDS.unit)),
		retired: v.optional(v.boolean('retired is true or false')),
		reason: v.optional(reason, ''),
		/** As its changer had seen it. */
		seen: v.strictObject({
			code: textSchema('the code', 1, BOUNDS.code),
			name: textSchema('the name', 1, BOUNDS.name),
			unit: textSchema('the unit', 0, BOUNDS.unit),
			retired: v.boolean('retired is true or false'),
		}),
	}),
	v.check(
		({ code, name, unit, retired }) => [code, name, unit, retired].some((value) => value !== undefined),
		'a change says a code, a name, a unit, or whether it is retired',
	),
);
export type ItemChange = v.InferOutput<typeof ItemChangeSchema>;

/** A candidate to adopt. Its figures are computed on the server from the stored actuals. */
export const AdoptSchema = v.strictObject({
	candidate: CandidateSchema,
	/** The candidates that it is made from, where it is a combination. */
	others: v.optional(
		listSchema(CandidateSchema, 'others are a list', 'candidates', BOUNDS.candidates - 1),
		[],
	),
	horizon: wholeSchema(1, BOUNDS.horizon, 'the horizon'),
	levels: v.optional(LevelsSchema, [0.8, 0.95]),
	/** First scored period, where the comparison was narrowed; it decides what a search minimises over. */
	scoreFrom: v.optional(v.nullable(wholeSchema(1, BOUNDS.periods, 'scoreFrom')), null),
	reason: v.optional(reason, ''),
	/** The newest change of actuals, and the newest entry of the layers, that the browser had seen. */
	seen: id('seen'),
	seenLayers: v.optional(id('seenLayers'), 0),
	/** The steps as they were shown, the first first: what is adopted is what was seen. */
	shown: listSchema(
		v.strictObject({
			mean: v.nullable(finite),
			/** Range ends by level; null where there is none. */
			ranges: v.optional(
				v.pipe(
					v.record(v.string(), v.nullable(v.strictTuple([finite, finite]))),
					v.check(
						(of) => Object.keys(of).length <= BOUNDS.levels,
						`there are at most ${BOUNDS.levels} levels`,
					),
				),
				{},
			),
		}),
		'shown are the steps as they were shown, a list',
		'steps',
		BOUNDS.horizon,
	),
});
export type Adopt = v.InferOutput<typeof AdoptSchema>;

/** A candidate as it was saved: its settings are checked where it is asked about. */
const SavedCandidateSchema = v.looseObject({
	id: v.string(),
	method: v.string(),
}) as unknown as v.GenericSchema<Candidate>;

/** An item's figures in full. */
const ItemSeriesSchema = v.strictObject({
	frequency,
	seasonLength: v.number(),
	/** Ordinal of the first period. */
	first: v.number(),
	/** Latest revision of each period; null where missing. */
	values: v.array(known),
});

const AdoptedStepSchema = v.strictObject({
	step: v.number(),
	period: v.number(),
	mean: v.number(),
	ranges: v.record(v.string(), v.nullable(v.strictTuple([v.number(), v.number()]))),
});
export type AdoptedStep = v.InferOutput<typeof AdoptedStepSchema>;

/** How it stood over its own periods when it was adopted; records older than the alarm are without one. */
export type AdoptedMeasures = Measures & { alarm?: Alarm };

export const AdoptedForecastSchema = v.strictObject({
	id: v.number(),
	method: v.string(),
	label: v.string(),
	candidate: SavedCandidateSchema,
	constants: v.record(v.string(), v.number()),
	start: v.nullable(v.looseObject({}) as unknown as v.GenericSchema<Start>),
	measures: v.looseObject({}) as unknown as v.GenericSchema<AdoptedMeasures>,
	/** Ordinal of the last period known then. */
	origin: v.number(),
	reason: v.string(),
	adoptedAt: v.string(),
	adoptedBy: v.string(),
	programVersion: v.string(),
	steps: v.array(AdoptedStepSchema),
	/** What was done to the actuals before: “1 left out”. */
	layersUsed: v.array(v.string()),
});
export type AdoptedForecast = v.InferOutput<typeof AdoptedForecastSchema>;

export const ItemSchema = v.strictObject({
	code: v.string(),
	name: v.string(),
	unit: v.string(),
	series: ItemSeriesSchema,
	/** The newest change of its actuals. */
	seen: v.number(),
	layers: ItemLayersSchema,
	lineUp: v.strictObject({
		version: v.number(),
		candidates: v.array(SavedCandidateSchema),
		hidden: v.array(v.string()),
	}) as unknown as v.GenericSchema<LineUp>,
	adopted: v.nullable(AdoptedForecastSchema),
	/** How many forecasts were adopted so far. */
	adoptedCount: v.number(),
	/** When it was taken off the list; null where it is on it. */
	retiredAt: v.nullable(v.string()),
	/** What it was called, and when it was retired or brought back, the newest first. */
	changes: v.array(
		v.strictObject({
			kind: v.picklist(['renamed', 'retired', 'returned']),
			/** As it was called before. */
			code: v.string(),
			name: v.string(),
			unit: v.string(),
			reason: v.string(),
			at: v.string(),
			by: v.string(),
		}),
	),
});
export type Item = v.InferOutput<typeof ItemSchema>;

/** Why an item should be looked at now. */
const AttentionSchema = v.strictObject({
	code: v.picklist(['drifting', 'not-adopted', 'ends-in-gap']),
	text: v.string(),
});
export type Attention = v.InferOutput<typeof AttentionSchema>;

/** One row of the list of items. */
export const ItemRowSchema = v.strictObject({
	code: v.string(),
	name: v.string(),
	unit: v.string(),
	frequency,
	periods: v.number(),
	/** Ordinal of the last period. */
	last: v.number(),
	/** The latest periods, at most 48. */
	recent: v.array(known),
	adopted: v.nullable(
		v.strictObject({
			label: v.string(),
			/** What was forecast for the periods after the origin. */
			means: v.array(v.number()),
			nextPeriod: v.number(),
			mad: known,
			mape: known,
			bias: known,
			trackingSignal: known,
			/** On which side of it demand ran when it was adopted, where the alarm stood outside. */
			runs: v.nullable(v.picklist(['above', 'below'])),
		}),
	),
	attention: v.nullable(AttentionSchema),
	retired: v.boolean(),
});
export type ItemRow = v.InferOutput<typeof ItemRowSchema>;

/** What every refused call answers with. */
export const RefusalSchema = v.strictObject({
	message: v.string(),
	issues: v.exactOptional(
		v.array(v.strictObject({ path: v.string(), message: v.string() })) as unknown as v.GenericSchema<
			readonly RequestIssue[]
		>,
	),
	/** The layers as they are, where entries came in between. */
	layers: v.exactOptional(ItemLayersSchema),
	/** What an item that was renamed is called now. */
	code: v.exactOptional(v.string()),
	/** What came in since it was looked at, in words. */
	between: v.exactOptional(v.array(v.string()) as unknown as v.GenericSchema<readonly string[]>),
});
export type RefusalBody = v.InferOutput<typeof RefusalSchema>;
