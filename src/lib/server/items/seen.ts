import { NO_LAYERS } from '$core/series/layers';
import { byItem, spread } from './actuals';
import type { Queryable } from '../database/database';
import type { ItemRecord } from './item-records';
import { loadLayers } from './layer-entries';
import type { Seen } from '../threads/tasks';

/** Figures of items, of many at once. */
export interface SeenItem {
	item: Pick<
		ItemRecord,
		'id' | 'code' | 'unit' | 'frequency' | 'season_length' | 'carry' | 'lead_time' | 'labels'
	>;
	seen: Seen;
	/** The newest change of its actuals, and the newest entry of its layers. */
	change: number;
	entry: number;
}

interface Figure {
	item_id: number;
	period: number;
	value: number | null;
	change: number;
}

/** Items by id, as they are at one moment; in the order of the ids. */
export async function loadSeen(
	client: Queryable,
	workspaceId: number,
	ids: readonly number[],
): Promise<SeenItem[]> {
	const { rows: items } = await client.query<SeenItem['item']>(
		`SELECT id, code, unit, frequency, season_length, carry, lead_time, labels FROM item WHERE workspace_id = $1 AND id = ANY ($2)`,
		[workspaceId, ids],
	);
	const { rows: figures } = await client.query<Figure>(
		`SELECT DISTINCT ON (item_id, period) item_id, period, value, max(data_change_id) OVER (PARTITION BY item_id) AS change
		FROM actual WHERE workspace_id = $1 AND item_id = ANY ($2)
		ORDER BY item_id, period, revision DESC`,
		[workspaceId, ids],
	);
	const { rows: adjusted } = await client.query<{ item_id: number; entry: number }>(
		`SELECT item_id, max(id) AS entry FROM layer_entry WHERE workspace_id = $1 AND item_id = ANY ($2) GROUP BY item_id`,
		[workspaceId, ids],
	);
	const known = new Map(items.map((item) => [item.id, item]));
	const came = byItem(figures);
	const entries = new Map(adjusted.map(({ item_id, entry }) => [item_id, entry]));
	const seen: SeenItem[] = [];
	for (const id of ids) {
		const item = known.get(id);
		if (!item) continue;
		const rows = came.get(id) ?? [];
		const entry = entries.get(id) ?? 0;
		seen.push({
			item,
			seen: {
				actuals: spread(rows),
				frequency: item.frequency,
				seasonLength: item.season_length,
				layers: entry === 0 ? NO_LAYERS : (await loadLayers(workspaceId, id, null, client)).layers,
				group: null,
			},
			change: rows[0]?.change ?? 0,
			entry,
		});
	}
	return seen;
}
