/** Items: their figures, line-ups, plans. */
import * as v from 'valibot';
import { CARRIES } from '$core/grading/reasons';
import { BOUNDS } from '$core/bounds';
import { CandidatesSchema, GroupSchema } from '$core/questions/request';
import { figureSchema, listSchema, textSchema, wholeSchema } from '$core/schemas';
import { LabelsSchema, WantedSchema } from './labels-schema';
import { frequency, itemLines, known, reason } from './parts';
import { ItemLayersSchema } from './layers';
import { AdoptedForecastSchema } from './records';
import { ItemStatusSchema } from './status';

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

/** An item's figures in full. */
const ItemSeriesSchema = v.strictObject({
	frequency,
	seasonLength: v.number(),
	/** Ordinal of the first period. */
	first: v.number(),
	/** Latest revision of each period; null where missing. */
	values: v.array(known),
});

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
	lineUp: LineUpSchema,
	adopted: v.nullable(AdoptedForecastSchema),
	plan: PlanSchema,
	labels: LabelsSchema,
	/** Of which items its figures are the sum: those in this unit with these labels, a blank one for none of that kind; null for an item of its own. */
	sumOf: v.nullable(v.strictObject({ unit: v.string(), labels: WantedSchema })),
	/** How it stands; null while that is being calculated. */
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
