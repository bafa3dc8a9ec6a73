/** The list of items: rows, windows, what is said over all of them. */
import * as v from 'valibot';
import { REASONS } from '$core/grading/reasons';
import { BOUNDS } from '$core/bounds';
import { keyed } from '$core/numbers/keyed';
import { keySchema, textSchema, wholeSchema } from '$core/schemas';
import { AskedSchema } from './asked-schema';
import { LabelsSchema } from './labels-schema';
import { OWN_KEYS } from './list-columns';
import { GAP_RULES } from '$core/series/gaps';
import { codes, frequency, known, reason, scaleSchema, PlaceSchema } from './parts';
import { ItemStatusSchema, NewestSchema, WatchingSchema } from './status';
import { PlanSchema } from './items';

/** One row of the list of items. */
export const ItemRowSchema = v.strictObject({
	code: v.string(),
	name: v.string(),
	unit: v.string(),
	frequency,
	labels: LabelsSchema,
	/** What its figures come to; null while that is being calculated. */
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
	/** Figures of columns that somebody chose; null where there are none. */
	figures: v.strictObject(keyed(OWN_KEYS, () => known)),
	/** Null while that is being calculated, and of retired items. */
	status: v.nullable(ItemStatusSchema),
	retired: v.boolean(),
	/** Whether its figures are the sum of those of other items. */
	sum: v.boolean(),
});

export type ItemRow = v.InferOutput<typeof ItemRowSchema>;

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

/** A way to look at the list, kept by name. */
export const KeptViewSchema = v.strictObject({
	name: textSchema('the name', 1, BOUNDS.label),
	/** Null takes the view away. */
	asked: v.nullable(AskedSchema),
});

export type KeptView = v.InferOutput<typeof KeptViewSchema>;

/** What is said over all items, whatever the list shows of them. */
export const OverviewSchema = v.strictObject({
	/** On the list; of them to check, hidden, and group totals. */
	items: v.number(),
	look: v.number(),
	hidden: v.number(),
	sums: v.number(),
	retired: v.number(),
	/** How many items show a reason, whatever else they show. */
	reasons: v.strictObject(keyed(REASONS, () => v.exactOptional(v.number()))),
	/** Methods that are adopted, with their names; `none` for items without a forecast. */
	methods: v.array(v.strictObject({ id: v.string(), name: v.string(), items: v.number() })),
	/** Each label of each kind, blank for items without one of it. */
	labels: v.array(v.strictObject({ of: v.string(), label: v.string(), items: v.number() })),
	frequencies: v.array(v.strictObject({ frequency, items: v.number() })),
	/** Frequencies with the most items first. */
	newest: v.array(NewestSchema),
	watching: WatchingSchema,
	views: v.array(v.strictObject({ name: v.string(), asked: AskedSchema })),
	/** Items whose status is being calculated. */
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

/** Items that something is done to: what the list is asked for, but some; or codes. */
export const namedItems = [
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
