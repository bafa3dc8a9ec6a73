/** Entries over the actuals. */
import * as v from 'valibot';
import { BOUNDS } from '$core/bounds';
import { listSchema } from '$core/schemas';
import { GAP_RULES } from '$core/series/gaps';
import { LayerEntrySchema, RecordedEntrySchema } from '$core/series/layer-entries';
import { LAYERS, type Layers } from '$core/series/layers';
import { byPeriod, id, known } from './parts';

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

const LayersSchema = v.strictObject({
	corrections: byPeriod(v.strictObject({ to: v.number(), over: known })),
	gaps: byPeriod(v.picklist(GAP_RULES)),
	leftOut: v.pipe(v.array(v.number()), v.readonly()),
	events: byPeriod(v.string()),
	gapRule: v.picklist(GAP_RULES),
	perDay: v.boolean(),
	seasonLength: v.nullable(v.number()),
	off: v.pipe(v.array(v.picklist(LAYERS)), v.readonly()),
}) satisfies v.GenericSchema<unknown, Layers>;

/** An item's layers, with the newest entry of each. */
export const ItemLayersSchema = v.strictObject({
	layers: LayersSchema,
	/** The newest entries first, at most a hundred. */
	history: v.array(RecordedEntrySchema),
	/** Id of the newest entry; 0 where there is none. */
	newest: v.number(),
});

export type ItemLayers = v.InferOutput<typeof ItemLayersSchema>;
