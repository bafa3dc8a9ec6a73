/** Items grouped by labels, and group totals. */
import * as v from 'valibot';
import { BOUNDS } from '$core/bounds';
import { keySchema } from '$core/schemas';
import { WantedSchema } from './labels-schema';
import { known } from './parts';

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
