import * as v from 'valibot';
import { BOUNDS } from '../bounds';
import { isSame } from '../numbers/same';
import { figureSchema, textSchema, wholeSchema } from '../schemas';
import { GAP_RULES } from './gaps';
import { type Layer, LAYERS, type Layers, NO_LAYERS } from './layers';

const ordinal = v.pipe(v.number(), v.integer(), v.minValue(-2_000_000_000), v.maxValue(2_000_000_000));
const finite = figureSchema('a figure is a finite number');
const setting = <Schema extends v.GenericSchema>(schema: Schema) => v.nullable(schema);

/** Entries of each kind. @param beside what else each of them has */
const entriesWith = <Beside extends v.ObjectEntries>(beside: Beside) =>
	v.variant('kind', [
		v.strictObject({
			kind: v.literal('correction'),
			period: ordinal,
			setting: setting(v.strictObject({ to: finite, over: v.nullable(finite) })),
			...beside,
		}),
		v.strictObject({
			kind: v.literal('gap'),
			period: ordinal,
			setting: setting(v.picklist(GAP_RULES)),
			...beside,
		}),
		v.strictObject({
			kind: v.literal('left-out'),
			period: ordinal,
			setting: setting(v.literal(true)),
			...beside,
		}),
		v.strictObject({
			kind: v.literal('event'),
			period: ordinal,
			setting: setting(textSchema('an event', 1, BOUNDS.event)),
			...beside,
		}),
		v.strictObject({ kind: v.literal('gap-rule'), setting: setting(v.picklist(GAP_RULES)), ...beside }),
		v.strictObject({ kind: v.literal('per-day'), setting: setting(v.literal(true)), ...beside }),
		v.strictObject({
			kind: v.literal('season-length'),
			setting: setting(wholeSchema(1, BOUNDS.seasonLength, 'the season length')),
			...beside,
		}),
		v.strictObject({
			kind: v.literal('off'),
			layer: v.picklist(LAYERS),
			setting: setting(v.literal(true)),
			...beside,
		}),
	]);

/** One entry of an item's layers; a setting of null takes away the one before. */
export const LayerEntrySchema = entriesWith({});
/** The same as it stands on record. */
export const RecordedEntrySchema = entriesWith({ id: v.number(), at: v.string(), by: v.string() });
export type LayerEntry = v.InferOutput<typeof LayerEntrySchema>;
export type RecordedEntry = v.InferOutput<typeof RecordedEntrySchema>;

/** The entries that turn one state of the layers into another; a setting of null takes one away. */
export function layerChanges(from: Layers, to: Layers): LayerEntry[] {
	const entries: LayerEntry[] = [];
	const periods = <T>(
		a: Readonly<Record<number, T>>,
		b: Readonly<Record<number, T>>,
		make: (period: number, setting: T | null) => LayerEntry,
	) => {
		for (const key of new Set([...Object.keys(a), ...Object.keys(b)])) {
			const period = Number(key);
			const next = b[period] ?? null;
			if (!isSame(a[period] ?? null, next)) entries.push(make(period, next));
		}
	};
	periods(from.corrections, to.corrections, (period, setting) => ({ kind: 'correction', period, setting }));
	periods(from.gaps, to.gaps, (period, setting) => ({ kind: 'gap', period, setting }));
	periods(from.events, to.events, (period, setting) => ({ kind: 'event', period, setting }));
	const flags = (list: readonly number[]) =>
		Object.fromEntries(list.map((period) => [period, true as const]));
	periods(flags(from.leftOut), flags(to.leftOut), (period, setting) => ({
		kind: 'left-out',
		period,
		setting,
	}));
	if (from.gapRule !== to.gapRule) entries.push({ kind: 'gap-rule', setting: to.gapRule });
	if (from.perDay !== to.perDay) entries.push({ kind: 'per-day', setting: to.perDay || null });
	if (from.seasonLength !== to.seasonLength)
		entries.push({ kind: 'season-length', setting: to.seasonLength });
	for (const layer of LAYERS) {
		if (from.off.includes(layer) !== to.off.includes(layer)) {
			entries.push({ kind: 'off', layer, setting: to.off.includes(layer) || null });
		}
	}
	return entries;
}

/** Layers with further entries: of a kind and a period, the last one holds. */
export function withEntries(layers: Layers, entries: readonly LayerEntry[]): Layers {
	const corrections = new Map(Object.entries(layers.corrections));
	const gaps = new Map(Object.entries(layers.gaps));
	const events = new Map(Object.entries(layers.events));
	const leftOut = new Set(layers.leftOut);
	const off = new Set<Layer>(layers.off);
	const settle = <T>(map: Map<string, T>, period: number, setting: T | null) =>
		setting === null ? map.delete(String(period)) : map.set(String(period), setting);
	const next = { ...layers };
	for (const entry of entries) {
		if (entry.kind === 'correction') settle(corrections, entry.period, entry.setting);
		else if (entry.kind === 'gap') settle(gaps, entry.period, entry.setting);
		else if (entry.kind === 'event') settle(events, entry.period, entry.setting);
		else if (entry.kind === 'left-out')
			if (entry.setting) leftOut.add(entry.period);
			else leftOut.delete(entry.period);
		else if (entry.kind === 'off')
			if (entry.setting) off.add(entry.layer);
			else off.delete(entry.layer);
		else if (entry.kind === 'gap-rule') next.gapRule = entry.setting ?? NO_LAYERS.gapRule;
		else if (entry.kind === 'per-day') next.perDay = entry.setting !== null;
		else next.seasonLength = entry.setting;
	}
	return {
		...next,
		corrections: Object.fromEntries(corrections),
		gaps: Object.fromEntries(gaps),
		events: Object.fromEntries(events),
		leftOut: [...leftOut],
		off: LAYERS.filter((layer) => off.has(layer)),
	};
}

/** A record without some of its keys. */
export function without<T>(record: Readonly<Record<number, T>>, keys: readonly number[]): Record<number, T> {
	return Object.fromEntries(Object.entries(record).filter(([key]) => !keys.includes(Number(key))));
}
