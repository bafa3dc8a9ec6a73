import { type Layers, NO_LAYERS, refuseLayers } from '$core/series/layers';
import { withEntries } from '$core/series/layer-entries';
import type { LayerEntry } from '$core/series/layer-entries';
import type { RecordedEntry } from '$core/series/layer-entries';
import type { ItemLayers } from '../../wire/layers';
import { loadSeries } from './actuals';
import { type Queryable } from '../database/database';
import { lockItem } from './item-records';
import { Refusal } from '../refusal';
import { type Actor, changing } from '../database/workspaces';

const HISTORY = 100;

interface LayerRow {
	id: number;
	kind: LayerEntry['kind'];
	period: number | null;
	layer: Layers['off'][number] | null;
	setting: unknown;
}

/** The layers of an item, as they stood after an entry of the log (or now). */
export async function loadLayers(
	workspaceId: number,
	itemId: number,
	upTo: number | null,
	database: Queryable,
): Promise<{ layers: Layers; newest: number }> {
	const { rows } = await database.query<LayerRow>(
		`SELECT DISTINCT ON (kind, layer, period) id, kind, period, layer, setting
		FROM layer_entry
		WHERE workspace_id = $1 AND item_id = $2 AND ($3::bigint IS NULL OR id <= $3)
		ORDER BY kind, layer, period, id DESC`,
		[workspaceId, itemId, upTo],
	);
	return { layers: layersOf(rows), newest: rows.reduce((newest, { id }) => Math.max(newest, id), 0) };
}

function layersOf(rows: readonly LayerRow[]): Layers {
	const of = (kind: LayerEntry['kind']) => rows.filter((row) => row.kind === kind && row.setting !== null);
	const byPeriod = <T>(kind: LayerEntry['kind']) =>
		Object.fromEntries(of(kind).map(({ period, setting }) => [period, setting as T]));
	return {
		corrections: byPeriod('correction'),
		gaps: byPeriod('gap'),
		leftOut: of('left-out').map(({ period }) => period!),
		events: byPeriod('event'),
		gapRule: (of('gap-rule')[0]?.setting as Layers['gapRule'] | undefined) ?? NO_LAYERS.gapRule,
		perDay: of('per-day').length > 0,
		seasonLength: (of('season-length')[0]?.setting as number | undefined) ?? null,
		off: of('off').map(({ layer }) => layer!),
	};
}

/** The newest entry of an item's layers; 0 where there is none. */
export async function newestEntry(database: Queryable, workspaceId: number, itemId: number): Promise<number> {
	const { rows } = await database.query<{ newest: number }>(
		'SELECT coalesce(max(id), 0) AS newest FROM layer_entry WHERE workspace_id = $1 AND item_id = $2',
		[workspaceId, itemId],
	);
	return rows[0]!.newest;
}

interface RecordedRow extends LayerRow {
	created_at: Date;
	by: string;
}

/** The newest entries of an item's layers, the newest first; those after an entry where that is asked for. */
export async function loadEntries(
	database: Queryable,
	workspaceId: number,
	itemId: number,
	after = 0,
): Promise<RecordedEntry[]> {
	const { rows } = await database.query<RecordedRow>(
		`SELECT id, kind, period, layer, setting, created_at, actor_name(created_by) AS by FROM layer_entry
		WHERE workspace_id = $1 AND item_id = $2 AND id > $3
		ORDER BY id DESC LIMIT ${HISTORY}`,
		[workspaceId, itemId, after],
	);
	return rows.map(({ id, kind, period, layer, setting, created_at, by }) => ({
		id,
		kind,
		...(period !== null && { period }),
		...(layer !== null && { layer }),
		setting,
		at: created_at.toISOString(),
		by,
	})) as RecordedEntry[];
}

/** The layers of an item with their newest entries, who made them and when. */
export async function loadItemLayers(
	database: Queryable,
	workspaceId: number,
	itemId: number,
): Promise<ItemLayers> {
	const now = await loadLayers(workspaceId, itemId, null, database);
	return { ...now, history: await loadEntries(database, workspaceId, itemId) };
}

/**
 * Puts entries on the record of an item's layers, made over the entries that their maker had seen.
 * @returns the layers as they are now
 * @throws Refusal 409 with the layers as they are where other entries came in between, 422 where they make a series that cannot be
 */
export async function addLayerEntries(
	actor: Actor,
	code: string,
	{ seen, entries }: { seen: number; entries: readonly LayerEntry[] },
): Promise<ItemLayers> {
	const { workspaceId } = actor;
	return changing(actor, async (client) => {
		const item = await lockItem(client, workspaceId, code);
		const { layers, newest } = await loadLayers(workspaceId, item.id, null, client);
		if (newest !== seen) {
			const now = await loadItemLayers(client, workspaceId, item.id);
			throw new Refusal(409, 'Somebody else adjusted its figures since you opened it.', [], null, {
				layers: now,
			});
		}
		const actuals = await loadSeries(workspaceId, item.id, null, client);
		const message = refuseLayers(actuals, item.frequency, withEntries(layers, entries));
		if (message) throw new Refusal(422, message, [{ path: 'entries', message }]);
		await client.query(
			`INSERT INTO layer_entry (workspace_id, item_id, kind, period, layer, setting)
			SELECT $1, $2, kind, period, layer, setting::jsonb
			FROM unnest($3::text[], $4::integer[], $5::text[], $6::text[]) WITH ORDINALITY AS entry (kind, period, layer, setting, position)
			ORDER BY position`,
			[
				workspaceId,
				item.id,
				entries.map(({ kind }) => kind),
				entries.map((entry) => ('period' in entry ? entry.period : null)),
				entries.map((entry) => ('layer' in entry ? entry.layer : null)),
				entries.map(({ setting }) => (setting === null ? null : JSON.stringify(setting))),
			],
		);
		return loadItemLayers(client, workspaceId, item.id);
	});
}
