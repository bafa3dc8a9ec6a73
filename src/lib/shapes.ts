/**
 * What travels between server and browser, beside the request and answer of `evaluate`: requests, which the server checks, and
 * answers, to which tests and the bench hold it.
 */
import type { Candidate } from '$core/methods/registry';
import * as v from 'valibot';
import type { Start } from '$core/contract/candidate';
import type { Alarm } from '$core/accuracy/alarm';
import type { Measures } from '$core/accuracy/measures';
import { ChangeSchema, RoundingSchema } from '$core/grading/final';
import type { Grade } from '$core/grading/grades';
import { ALARM_CHANCES, CARRIES, type Reason, type ReasonCode, REASONS } from '$core/grading/status';
import { BOUNDS } from '$core/bounds';
import { CRITERIA } from '$core/contract/criteria';
import {
	CandidateSchema,
	CandidatesSchema,
	GroupSchema,
	LevelsSchema,
	type RequestIssue,
} from '$core/questions/request';
import {
	betweenSchema,
	figureSchema,
	isCode,
	isPlainText,
	keySchema,
	listSchema,
	recordSchema,
	textSchema,
	wholeSchema,
} from '$core/schemas';
import { FREQUENCIES } from '$core/series/frequency';
import { AskedSchema } from './asked';
import { LabelsSchema, WantedSchema } from './labels';
import { ChoicesSchema } from './reading/choices';
import { GAP_RULES } from '$core/series/gaps';
import { type LayerEntry, LayerEntrySchema } from '$core/series/layer-entries';
import { type Layers, LAYERS } from '$core/series/layers';
import type { NewestSaid } from '$core/words/status';

/** What an item is called by from now on: an address leads to it. */
const newCode = v.pipe(
	textSchema('the code', 1, BOUNDS.code),
	v.check(isCode, 'the code is not “.” or “..”, which no address can end with'),
);
const itemLines = {
	code: newCode,
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
	/** Fingerprint of the reading that was looked at; one that comes out otherwise is refused. */
	shown: v.optional(v.pipe(v.string(), v.regex(/^[0-9a-f]{16}$/, 'a fingerprint has 16 hexadecimal digits'))),
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

export type Labels = v.InferOutput<typeof LabelsSchema>;

/** What is kept of an item. */
export const StoredSeriesSchema = v.strictObject({
	code: v.string(),
	name: v.string(),
	unit: v.string(),
	frequency,
	labels: LabelsSchema,
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
		// Lines, and what joins letters in some scripts and signs.
		(text) => isPlainText(text.replace(/[\t\n\r\u200c\u200d]/g, ' ')),
		'the reason holds characters that cannot be seen',
	),
);

/** How an item is planned with. */
export const PlanSchema = v.strictObject({
	/** Whether constants are searched anew, or kept, when its forecast is carried on. */
	carry: v.picklist(CARRIES, `carry is one of ${CARRIES.join(', ')}`),
	/** Periods ahead that must be forecast at any time; null for one. */
	leadTime: v.nullable(wholeSchema(1, BOUNDS.horizon, 'the lead time')),
	/** What a unit is worth; null where that does not matter. */
	price: v.nullable(v.pipe(figureSchema('the price is a figure'), v.gtValue(0, 'the price is above 0'))),
});
export type Plan = v.InferOutput<typeof PlanSchema>;

/** What an item is to be called, how it is planned with, and whether it is on the list. */
export const ItemChangeSchema = v.pipe(
	v.strictObject({
		code: v.optional(itemLines.code),
		name: v.optional(itemLines.name),
		unit: v.optional(textSchema('the unit', 0, BOUNDS.unit)),
		retired: v.optional(v.boolean('retired is true or false')),
		plan: v.optional(PlanSchema),
		labels: v.optional(LabelsSchema),
		reason: v.optional(reason, ''),
		/** As its changer had seen it. */
		seen: v.strictObject({
			code: textSchema('the code', 1, BOUNDS.code),
			name: textSchema('the name', 1, BOUNDS.name),
			unit: textSchema('the unit', 0, BOUNDS.unit),
			retired: v.boolean('retired is true or false'),
			plan: v.optional(PlanSchema),
			labels: v.optional(LabelsSchema),
		}),
	}),
	v.check(
		({ code, name, unit, retired, plan, labels }) =>
			[code, name, unit, retired, plan, labels].some((value) => value !== undefined),
		'a change says a code, a name, a unit, labels, whether it is retired, or how it is planned with',
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
	/** Chance with which what is stocked for the next periods is to last. */
	service: v.optional(
		betweenSchema(0.5, 0.999, 'the service level is a share between 0.5 and 0.999, such as 0.95'),
		0.95,
	),
	/** Figures put in place of computed ones by hand, at most one a step, each with its reason. */
	changes: v.optional(
		v.pipe(
			listSchema(
				v.strictObject({
					...ChangeSchema.entries,
					reason: v.pipe(reason, v.minLength(1, 'a change by hand needs a reason')),
				}),
				'changes are a list',
				'changes',
				BOUNDS.horizon,
			),
			v.check(
				(changes) => new Set(changes.map(({ step }) => step)).size === changes.length,
				'a step is changed once',
			),
		),
		[],
	),
	rounding: v.optional(v.nullable(RoundingSchema), null),
	/** First scored period, where the comparison was narrowed; it decides what a search minimises over. */
	scoreFrom: v.optional(v.nullable(wholeSchema(1, BOUNDS.periods, 'scoreFrom')), null),
	reason: v.optional(reason, ''),
	/** The newest change of actuals, and the newest entry of the layers, that the browser had seen. */
	seen: id('seen'),
	seenLayers: v.optional(id('seenLayers'), 0),
	/** The newest record that the browser had seen; null for none. */
	seenRecord: v.nullable(id('seenRecord')),
	/** The steps as they were shown, the first first: what is adopted is what was seen. */
	shown: listSchema(
		v.strictObject({
			mean: v.nullable(finite),
			/** What is handed over, where that was changed or rounded. */
			final: v.optional(v.nullable(finite)),
			/** Range ends by level; null where there is none. */
			ranges: v.optional(
				recordSchema(
					v.string(),
					v.nullable(v.strictTuple([finite, finite])),
					'ranges are an object',
					'levels',
					BOUNDS.levels,
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

/** The newest record again, on newer actuals, with the same settings. */
export const UpdateAdoptedSchema = v.strictObject({
	reason: v.optional(reason, ''),
	/** The newest change of actuals, and the newest entry of the layers, that were seen. */
	seen: id('seen'),
	seenLayers: v.optional(id('seenLayers'), 0),
});
export type UpdateAdopted = v.InferOutput<typeof UpdateAdoptedSchema>;

/** An item is hidden until its next actual, or shown again. */
export const HideSchema = v.strictObject({
	hidden: v.boolean('hidden is true or false'),
	words: v.optional(reason, ''),
	/** The newest change of actuals that was seen. */
	seen: id('seen'),
});
export type Hide = v.InferOutput<typeof HideSchema>;

/** How items are watched. */
export const WatchingSchema = v.strictObject({
	/** Chance with which a sound forecast is accused of drift within 24 periods. */
	alarmChance: betweenSchema(
		...ALARM_CHANCES,
		`the chance of a false alarm is a share between ${ALARM_CHANCES.join(' and ')}`,
	),
});
export type Watching = v.InferOutput<typeof WatchingSchema>;

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

const rangesByLevel = v.record(v.string(), v.nullable(v.strictTuple([v.number(), v.number()])));
const AdoptedStepSchema = v.strictObject({
	step: v.number(),
	period: v.number(),
	mean: v.number(),
	ranges: rangesByLevel,
	/** What was handed over, and how it came about where it is another figure. */
	final: v.number(),
	changedTo: known,
	changeRate: known,
	changeReason: v.nullable(v.string()),
	/** Root mean square error that was expected; what repeating the last actual, and the last cycle, said. */
	spread: known,
	naive: known,
	seasonalNaive: known,
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
	rounding: v.nullable(RoundingSchema),
	/** The record that it was carried on from. */
	carriedFrom: v.nullable(v.number()),
	/** Sums over the next 1, 2, … periods; empty in records from before they were kept. */
	together: v.array(v.strictObject({ mean: known, ranges: rangesByLevel, stock: v.exactOptional(known) })),
	/** Chance with which what is stocked lasts. */
	service: known,
	/** The newest change of actuals that it saw, and entry of the layers. */
	saw: v.number(),
	sawLayers: v.number(),
	/** What was done to the actuals before: “1 left out”. */
	layersUsed: v.array(v.string()),
});
export type AdoptedForecast = v.InferOutput<typeof AdoptedForecastSchema>;

const ReasonSchema = v.looseObject({ code: v.picklist(REASONS) }) as unknown as v.GenericSchema<Reason>;

/** How an item's forecast stands. */
export const ItemStatusSchema = v.strictObject({
	/** Why to look at it, the weightiest first. */
	reasons: v.array(ReasonSchema),
	/** By whom it was hidden until its next actual; null where it is not. */
	hidden: v.nullable(v.strictObject({ words: v.string(), by: v.string(), at: v.string() })),
	/** How its newest period was foretold; null where no forecast was in force for it. */
	newest: v.nullable(
		v.strictObject({
			period: v.number(),
			actual: v.number(),
			final: v.number(),
			/** Actual less the figure that was handed over. */
			error: v.number(),
			/** The narrowest level whose range held it; null where none did. */
			inside: known,
			/** Whether there was a range at all. */
			ranged: v.boolean(),
			scored: v.boolean(),
		}),
	),
	/** What the figures that were handed over come to since the newest run began; null without a grade. */
	score: v.nullable(
		v.strictObject({
			count: v.number(),
			mad: known,
			mape: known,
			bias: known,
			trackingSignal: known,
			/** Against repeating the last actual. */
			relativeMae: known,
			/** On which side of it demand runs, where it drifts. */
			runs: v.nullable(v.picklist(['above', 'below'])),
		}),
	),
});
export type ItemStatus = v.InferOutput<typeof ItemStatusSchema>;

/** What an item's adopted forecasts came to, period by period. */
export const ItemGradesSchema = v.strictObject({
	grades: v.array(v.looseObject({ period: v.number() }) as unknown as v.GenericSchema<Grade>),
	/** Of each run by its first record: mean size of its trial's errors over what was expected of them; null without a trial. */
	sizes: v.record(v.string(), known),
	/** Limit of the alarm on drift. */
	limit: v.number(),
});
export type ItemGrades = v.InferOutput<typeof ItemGradesSchema>;

export const ItemSchema = v.strictObject({
	code: v.string(),
	name: v.string(),
	unit: v.string(),
	series: ItemSeriesSchema,
	/** The newest change of its actuals. */
	seen: v.number(),
	layers: ItemLayersSchema,
	/** What the other items of a group come to, whose season it may take as long as it knows fewer than three cycles of its own; null otherwise. */
	group: v.nullable(GroupSchema),
	lineUp: v.strictObject({
		version: v.number(),
		candidates: v.array(SavedCandidateSchema),
		hidden: v.array(v.string()),
	}) as unknown as v.GenericSchema<LineUp>,
	adopted: v.nullable(AdoptedForecastSchema),
	plan: PlanSchema,
	labels: LabelsSchema,
	/** Of which items its figures are the sum: those in this unit with these labels, a blank one for none of that kind; null for an item of its own. */
	sumOf: v.nullable(v.strictObject({ unit: v.string(), labels: WantedSchema })),
	/** How it stands; null while that is being worked out. */
	status: v.nullable(ItemStatusSchema),
	/** How many forecasts were adopted so far. */
	adoptedCount: v.number(),
	/** When it was taken off the list; null where it is on it. */
	retiredAt: v.nullable(v.string()),
	/** What it was called, planned and labelled with, and when it was retired or brought back, the newest first. */
	changes: v.array(
		v.strictObject({
			kind: v.picklist(['renamed', 'retired', 'returned', 'planned', 'labelled']),
			/** How it was planned with before. */
			plan: v.nullable(PlanSchema),
			/** What it was labelled with before. */
			labels: v.nullable(v.array(v.strictTuple([v.string(), v.string()]))),
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

const scaleSchema = v.strictObject({ power: v.number(), decimals: v.number() });

/** One row of the list of items. */
export const ItemRowSchema = v.strictObject({
	code: v.string(),
	name: v.string(),
	unit: v.string(),
	frequency,
	labels: LabelsSchema,
	/** What its figures come to; null while that is being worked out. */
	shown: v.nullable(
		v.strictObject({
			periods: v.number(),
			/** Ordinal of the last period. */
			last: v.number(),
			/** The latest periods, at most 48, and what was handed over for those after them, at most 12: a letter a figure, on one scale. */
			recent: v.string(),
			ahead: v.string(),
			/** Scale of its usual figures. */
			scale: scaleSchema,
			/** Whether its demand is rare, so that MAD and MAPE mislead. */
			rare: v.exactOptional(v.literal(true)),
			adopted: v.nullable(
				v.strictObject({
					label: v.string(),
					/** What was handed over for the period after the last one; null where it ran out. */
					next: known,
					nextPeriod: v.number(),
				}),
			),
		}),
	),
	/** Null while that is being worked out, and of retired items. */
	status: v.nullable(ItemStatusSchema),
	retired: v.boolean(),
	/** Whether its figures are the sum of those of other items. */
	sum: v.boolean(),
});
export type ItemRow = v.InferOutput<typeof ItemRowSchema>;

/** Where a row stands in the order that was asked for: what it is sorted by, and its code. */
export const PlaceSchema = v.pipe(
	v.array(v.union([v.null(), v.pipe(v.number(), v.finite()), v.string()]), 'a place is a list'),
	v.minLength(1, 'a place has at least one part'),
	v.maxLength(3, 'a place has at most three parts'),
);
export type Place = v.InferOutput<typeof PlaceSchema>;

/** A window of the list. */
export const ItemWindowSchema = v.strictObject({
	items: v.array(ItemRowSchema),
	/** Where the next window begins; null where this is the last one. */
	next: v.nullable(PlaceSchema),
});
export type ItemWindow = v.InferOutput<typeof ItemWindowSchema>;

/** How many items fit what is asked for, and where each window of so many rows begins. */
export const PlacesSchema = v.strictObject({
	count: v.number(),
	window: v.number(),
	begins: v.array(PlaceSchema),
});
export type Places = v.InferOutput<typeof PlacesSchema>;

/** How the newest period of a frequency stands over all items that are on the list. */
export const NewestSchema = v.strictObject({
	frequency,
	period: v.number(),
	items: v.number(),
	have: v.number(),
	/** Of those that have it and had a forecast with a range for it: how many there are, and how many lay inside the widest one. */
	graded: v.number(),
	inside: v.number(),
	/** By reason, how many items show it. */
	reasons: v.record(v.string(), v.number()),
}) as v.GenericSchema<unknown, NewestSaid>;

/** A way to look at the list, kept by name. */
export const KeptViewSchema = v.strictObject({
	name: textSchema('the name', 1, BOUNDS.label),
	/** Null takes the view away. */
	asked: v.nullable(AskedSchema),
});
export type KeptView = v.InferOutput<typeof KeptViewSchema>;

/** What items that share labels come to. */
const groupSums = {
	items: v.number(),
	look: v.number(),
	/** Sum of what is handed over for the next period; null where units or frequencies differ, or there is none. */
	next: known,
	/** Of how many items that is the sum: those that have a forecast for it. */
	foretold: v.number(),
	/** Unit of all of them; null where they differ. */
	unit: v.nullable(v.string()),
	/** Of what was handed over since each run was adopted, in per cent of what came; null where units differ. */
	wape: known,
	/** How many of them have rare demand, of which WAPE says nothing. */
	rare: v.number(),
	/** Of the newest period: how many had a range, and how many lay inside the widest one. */
	graded: v.number(),
	inside: v.number(),
};
export const GroupsSchema = v.strictObject({
	/** Blank for items without such a label. */
	groups: v.array(v.strictObject({ labels: v.array(v.string()), ...groupSums })),
	all: v.strictObject(groupSums),
});
export type Groups = v.InferOutput<typeof GroupsSchema>;

/** Items that become one: those with these labels, a blank one for those without such a label. */
export const NewSumSchema = v.strictObject({ labels: WantedSchema });
export type NewSum = v.InferOutput<typeof NewSumSchema>;
export const MadeSumSchema = v.strictObject({ code: v.string() });

const somePartsSchema = v.strictObject({
	items: v.number(),
	/** Codes of the first of them. */
	codes: v.array(v.string()),
});
/** What a sum is made of. */
export const ItemPartsSchema = v.strictObject({
	/** How many of them go on. */
	items: v.number(),
	/** Those that were retired, or had nothing for so many periods: they count as far as they go. */
	ended: v.strictObject({ ...somePartsSchema.entries, after: v.number() }),
	/** Those that have nothing newer where others have, so that the sum ends there. */
	last: somePartsSchema,
	/** Periods that are missing, since a part has no figure for them, and the latest of them. */
	missing: v.strictObject({ periods: v.number(), latest: known }),
	/** What is handed over for those that go on, added up, and of how many of them. */
	ahead: v.array(v.strictObject({ period: v.number(), figure: v.number(), items: v.number() })),
});
export type ItemParts = v.InferOutput<typeof ItemPartsSchema>;

/** The forecast of a sum beside its items' forecasts added up, from the same earlier origins. */
export const CloserSchema = v.strictObject({
	origins: v.number(),
	/** How much less the one for the sum misses by, as a share; below 0 where the items' sum is closer, null where nothing can be told. */
	gain: known,
	/** Whether that is more than chance. */
	clear: v.boolean(),
});
export type Closer = v.InferOutput<typeof CloserSchema>;

/** By what items are grouped: one kind of label, or two. */
export const ByLabelsSchema = v.pipe(
	v.array(keySchema('what a label is of', BOUNDS.label)),
	v.minLength(1, 'items are grouped by at least one kind of label'),
	v.maxLength(2, 'items are grouped by at most two kinds of labels'),
);

/** What is said over all items, whatever the list shows of them. */
export const OverviewSchema = v.strictObject({
	/** On the list; of them to check, hidden, and group totals. */
	items: v.number(),
	look: v.number(),
	hidden: v.number(),
	sums: v.number(),
	retired: v.number(),
	/** How many items show a reason, whatever else they show. */
	reasons: v.record(v.string(), v.number()) as unknown as v.GenericSchema<
		Partial<Record<ReasonCode, number>>
	>,
	/** Methods that are adopted, with their names; `none` for items without a forecast. */
	methods: v.array(v.strictObject({ id: v.string(), name: v.string(), items: v.number() })),
	/** Each label of each kind, blank for items without one of it. */
	labels: v.array(v.strictObject({ of: v.string(), label: v.string(), items: v.number() })),
	frequencies: v.array(v.strictObject({ frequency, items: v.number() })),
	/** Frequencies with the most items first. */
	newest: v.array(NewestSchema),
	watching: WatchingSchema,
	views: v.array(v.strictObject({ name: v.string(), asked: AskedSchema })),
	/** Items whose status is being worked out. */
	working: v.number(),
});
export type Overview = v.InferOutput<typeof OverviewSchema>;

/** What is typed to find an item. */
export const WordsSchema = v.strictObject({ words: textSchema('the words', 0, BOUNDS.name) });

/** Items that were found by words, the likeliest first. */
export const FoundSchema = v.strictObject({
	items: v.array(
		v.strictObject({ code: v.string(), name: v.string(), labels: LabelsSchema, retired: v.boolean() }),
	),
	/** How many there are in all. */
	total: v.number(),
});
export type Found = v.InferOutput<typeof FoundSchema>;

/** The adopted figures of an item, as they are handed over: of periods that are not in yet. */
export const ForecastSchema = v.strictObject({
	code: v.string(),
	name: v.string(),
	unit: v.string(),
	frequency,
	adopted: v.strictObject({ id: v.number(), label: v.string(), at: v.string(), by: v.string() }),
	/** Ordinal of the first period. */
	first: v.number(),
	steps: v.array(
		v.strictObject({
			/** As data: "2026-11". */
			period: v.union([v.string(), v.number()]),
			computed: v.number(),
			final: v.number(),
			ranges: rangesByLevel,
			/** Why it was changed by hand. */
			reason: v.nullable(v.string()),
		}),
	),
	total: v.strictObject({ computed: v.number(), final: v.number() }),
});
export type Forecast = v.InferOutput<typeof ForecastSchema>;

/** What can be done to many items at once: a proposal for each, carrying on, a line-up tried on each, a sum's forecast shared; and adopting what came of that. */
export const SWEEP_KINDS = ['propose', 'update', 'try', 'share', 'adopt'] as const;
export type SweepKind = (typeof SWEEP_KINDS)[number];
/** Which rows are adopted without naming them: those that are clearly closer, or all that can be. */
export const SWEEP_RULES = ['clear', 'all'] as const;

const codes = listSchema(
	textSchema('a code', 1, BOUNDS.code),
	'codes are a list',
	'codes',
	BOUNDS.sweepCodes,
);

/** Items that something is done to: what the list is asked for, but some; or codes. */
const namedItems = [
	v.strictObject({ asked: AskedSchema, except: v.optional(codes, []) }),
	v.strictObject({ codes }),
] as const;
export type NamedItems = v.InferOutput<(typeof namedItems)[number]>;

/** Something that is done to several items in one breath: all of them, or none. */
export const SeveralSchema = v.strictObject({
	items: v.union(namedItems, 'items are { asked, except } or { codes }'),
	change: v.union(
		[
			/** Hidden until their next actual, or shown again. */
			v.strictObject({ hidden: v.boolean() }),
			/** Null leaves it to the calendar. */
			v.strictObject({
				seasonLength: v.nullable(wholeSchema(1, BOUNDS.seasonLength, 'the season length')),
			}),
			v.strictObject({ gapRule: v.picklist(GAP_RULES, `a gap rule is one of ${GAP_RULES.join(', ')}`) }),
			v.strictObject({ leadTime: PlanSchema.entries.leadTime }),
			v.strictObject({ carry: PlanSchema.entries.carry }),
			/** A blank label takes the one that is there away. */
			v.strictObject({
				label: v.strictObject({
					of: keySchema('what a label is of', BOUNDS.label),
					is: textSchema('a label', 0, BOUNDS.labelValue),
				}),
			}),
			v.strictObject({ retired: v.literal(true) }),
		],
		'change is one of { hidden }, { seasonLength }, { gapRule }, { leadTime }, { carry }, { label }, { retired }',
	),
	reason: v.optional(reason, ''),
});
export type Several = v.InferOutput<typeof SeveralSchema>;

/** What a sweep is told beside its items. */
const sweepSettings = {
	/** Of `try`: the line-up, and what the closest is told by. */
	lineUp: v.optional(CandidatesSchema, []),
	criterion: v.optional(v.picklist(CRITERIA, `the criterion is one of ${CRITERIA.join(', ')}`), 'mad'),
};
/** By what a sum's forecast is shared: what its items are handed over for the same period, or their demand of the last cycle. */
export const SHARES = ['forecasts', 'cycle'] as const;
const share = v.picklist(SHARES, `share is one of ${SHARES.join(', ')}`);

/** A sweep to be begun. */
export const NewSweepSchema = v.pipe(
	v.strictObject({
		kind: v.picklist(SWEEP_KINDS, `kind is one of ${SWEEP_KINDS.join(', ')}`),
		items: v.union(
			[
				...namedItems,
				v.strictObject({ rule: v.picklist(SWEEP_RULES) }),
				v.strictObject({ partsOf: textSchema('the code', 1, BOUNDS.code) }),
			],
			'items are { asked, except }, { codes }, to adopt { rule }, or to share { partsOf }',
		),
		settings: v.optional(
			v.strictObject({
				...sweepSettings,
				/** Of `share`: by what. */
				share: v.optional(v.nullable(share), null),
			}),
			{},
		),
		/** To adopt: the sweep whose rows are adopted. */
		of: v.optional(v.nullable(id('of')), null),
		reason: v.optional(reason, ''),
	}),
	v.check(
		({ kind, settings }) => (kind === 'try') === settings.lineUp.length > 0,
		'a line-up of at least one candidate is given to be tried, and for nothing else',
	),
	v.check(
		({ kind, items, settings }) =>
			(kind === 'share') === 'partsOf' in items && (kind === 'share') === (settings.share !== null),
		'`share` and the sum that is shared, `partsOf`, are given to share, and for nothing else',
	),
	v.check(
		({ kind, of }) => (kind === 'adopt') === (of !== null),
		'`of` names the sweep whose rows are adopted',
	),
);
export type NewSweep = v.InferOutput<typeof NewSweepSchema>;

/** A sweep, and how far it is. */
export const SweepSchema = v.strictObject({
	id: v.number(),
	kind: v.picklist(SWEEP_KINDS),
	/** What the list was asked for; null where items were named. */
	asked: v.nullable(AskedSchema),
	settings: v.strictObject({
		...sweepSettings,
		/** Of `share`: which record of which sum, and for each period its figure and what the shares are parts of. */
		share: v.optional(
			v.nullable(
				v.strictObject({
					by: share,
					of: v.string(),
					record: v.number(),
					/** For how many periods it has figures; those that its items have no forecast for are not shared. */
					ahead: v.number(),
					periods: v.array(v.strictObject({ period: v.number(), figure: v.number(), whole: v.number() })),
				}),
			),
			null,
		),
	}),
	of: known,
	reason: v.string(),
	items: v.number(),
	done: v.number(),
	at: v.string(),
	by: v.string(),
	stopped: v.nullable(v.strictObject({ at: v.string(), by: v.string() })),
	endedAt: v.nullable(v.string()),
	/** Parts that failed three times, and why. */
	setApart: v.array(v.strictObject({ items: v.number(), why: v.string() })),
});
export type Sweep = v.InferOutput<typeof SweepSchema>;

/** What came of one item. */
export const SweepRowSchema = v.strictObject({
	code: v.string(),
	name: v.string(),
	unit: v.string(),
	frequency,
	labels: LabelsSchema,
	scale: scaleSchema,
	/** Why nothing came of it. */
	refused: v.nullable(v.string()),
	label: v.nullable(v.string()),
	/** What was adopted when it was worked out: what it is held against. */
	before: v.nullable(v.string()),
	gain: known,
	clear: v.nullable(v.boolean()),
	/** Whether its demand is rare, so that both were compared by squared errors, and MAD, MAPE and WAPE mislead. */
	rare: v.boolean(),
	/** Over the earlier periods that both were tried from, in per cent of what came. */
	wape: known,
	wapeBefore: known,
	next: known,
	nextBefore: known,
	measures: v.nullable(
		v.array(
			v.strictObject({
				label: v.string(),
				mad: known,
				mse: known,
				mape: known,
				trackingSignal: known,
				best: v.boolean(),
			}),
		),
	),
	/** Of the closest one of a line-up. */
	mad: known,
	mape: known,
	/** Whether it can be adopted as it stands here. */
	ready: v.boolean(),
	/** The record that was made of it. */
	record: known,
});
export type SweepRow = v.InferOutput<typeof SweepRowSchema>;

export const SWEEP_SORTS = [
	'code',
	'before',
	'label',
	'mad',
	'mape',
	'gain',
	'missed',
	'next',
	'change',
] as const;
export const SweepAskedSchema = v.strictObject({
	show: v.optional(v.picklist(['all', 'clear', 'worse', 'refused', 'ready', 'adopted']), 'all'),
	words: v.optional(textSchema('the words', 0, BOUNDS.name), ''),
	method: v.optional(v.nullable(textSchema('the method', 1, BOUNDS.label)), null),
	sort: v.optional(v.picklist(SWEEP_SORTS, `sort is one of ${SWEEP_SORTS.join(', ')}`), 'gain'),
	down: v.optional(v.boolean(), true),
});
export type SweepAsked = v.InferOutput<typeof SweepAskedSchema>;

/** A window of what came of a sweep. */
export const SweepWindowSchema = v.strictObject({
	items: v.array(SweepRowSchema),
	next: v.nullable(PlaceSchema),
});
export type SweepWindow = v.InferOutput<typeof SweepWindowSchema>;

/** What a sweep comes to over all its items. */
export const SweepSumsSchema = v.strictObject({
	rows: v.number(),
	refused: v.number(),
	ready: v.number(),
	adopted: v.number(),
	/** Items that could be held against what is adopted; of them clearly closer, and closer at all. */
	beside: v.number(),
	clear: v.number(),
	closer: v.number(),
	/** Of those that are clearly closer, how many are not adopted yet. */
	clearLeft: v.number(),
	/** First figures added up: those that it says, and what is handed over for the same periods now. */
	next: known,
	nextBefore: known,
	/** How many have rare demand: they have no part in WAPE. */
	rare: v.number(),
	/** Over all others, in per cent of what came: what is adopted, and what is proposed. */
	wapeBefore: known,
	wape: known,
	/** The same where only those that are clearly closer were adopted. */
	wapeClear: known,
	/** How many gain how much: shares from −50 to 50 % in steps of five, what lies beyond at either end. */
	gains: v.array(v.strictObject({ from: v.number(), items: v.number(), clear: v.number() })),
	/** By what is proposed or closest. */
	methods: v.array(v.strictObject({ label: v.string(), items: v.number(), clear: v.number() })),
	/** Why nothing came of items, the most usual reasons first. */
	reasons: v.array(v.strictObject({ why: v.string(), items: v.number() })),
});
export type SweepSums = v.InferOutput<typeof SweepSumsSchema>;

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

/** What works sweeps off: whether any process does, and when one was last heard of, null for never. */
export const WorkerStateSchema = v.strictObject({ alive: v.boolean(), seen: v.nullable(v.string()) });
export type WorkerState = v.InferOutput<typeof WorkerStateSchema>;

/** Whether everything is there that the application needs; a part that is not says why. */
export const ReadySchema = v.strictObject({
	ready: v.boolean(),
	database: v.nullable(v.string()),
	migrations: v.nullable(v.string()),
	disk: v.nullable(v.string()),
	worker: v.nullable(v.string()),
	/** How far the large demo is; null where none is being made. */
	demo: v.nullable(v.strictObject({ done: v.number(), of: v.number(), failed: v.nullable(v.string()) })),
});
export type Ready = v.InferOutput<typeof ReadySchema>;

/** How far the large demo is laid out: parts of all the work, and why it failed where it did. */
export type DemoProgress = NonNullable<Ready['demo']>;
