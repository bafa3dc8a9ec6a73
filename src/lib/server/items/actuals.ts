import type { Queryable } from '../database/database';

/**
 * The latest revision of every period of an item, as known after a change (or now).
 * @returns the first ordinal and one value a period, null where missing; no values for an item without actuals
 */
export async function loadSeries(
	workspaceId: number,
	itemId: number,
	upToChange: number | null,
	database: Queryable,
): Promise<{ first: number; values: (number | null)[] }> {
	const { rows } = await database.query<{ period: number; value: number | null }>(
		'SELECT period, value FROM latest_actual($1, $2, $3) ORDER BY period',
		[workspaceId, itemId, upToChange],
	);
	return spread(rows);
}

/** Rows in order of time as one value a period, gaps as null. */
export function spread(rows: readonly { period: number; value: number | null }[]): {
	first: number;
	values: (number | null)[];
} {
	const first = rows[0]?.period ?? 1;
	const length = rows.length === 0 ? 0 : rows.at(-1)!.period - first + 1;
	const values = new Array<number | null>(length).fill(null);
	for (const { period, value } of rows) values[period - first] = value;
	return { first, values };
}

/** Rows of several items, item by item, in the order that they came in. */
export function byItem<Row extends { item_id: number }>(rows: readonly Row[]): Map<number, Row[]> {
	const map = new Map<number, Row[]>();
	for (const row of rows) {
		const list = map.get(row.item_id);
		if (list) list.push(row);
		else map.set(row.item_id, [row]);
	}
	return map;
}

/** One change of actuals. @returns its id */
export async function insertDataChange(
	client: Queryable,
	change: { workspaceId: number; rawTextId: number | null; reading: object },
): Promise<number> {
	const { rows } = await client.query<{ id: number }>(
		'INSERT INTO data_change (workspace_id, raw_text_id, reading) VALUES ($1, $2, $3) RETURNING id',
		[change.workspaceId, change.rawTextId, change.reading],
	);
	return rows[0]!.id;
}

/** The newest change of an item's actuals; 0 where it has none. */
export async function newestChange(
	database: Queryable,
	workspaceId: number,
	itemId: number,
): Promise<number> {
	const { rows } = await database.query<{ newest: number }>(
		'SELECT coalesce(max(data_change_id), 0) AS newest FROM actual WHERE workspace_id = $1 AND item_id = $2',
		[workspaceId, itemId],
	);
	return rows[0]!.newest;
}

/** Figures that came in after a change, for a reader who had seen that one: the newest of each period, at most `most` of them. */
export async function figuresSince(
	database: Queryable,
	workspaceId: number,
	itemId: number,
	change: number,
	most: number,
): Promise<{ period: number; value: number | null; before: number | null; by: string; count: number }[]> {
	const { rows } = await database.query<{
		period: number;
		value: number | null;
		before: number | null;
		by: string;
		count: number;
	}>(
		`WITH newer AS (
			SELECT DISTINCT ON (period) period, value, actor_name(created_by) AS by
			FROM actual
			JOIN data_change ON data_change.workspace_id = actual.workspace_id AND data_change.id = actual.data_change_id
			WHERE actual.workspace_id = $1 AND item_id = $2 AND data_change_id > $3
			ORDER BY period, revision DESC
		)
		SELECT period, value, by, count(*) OVER () AS count, (
			SELECT value FROM actual
			WHERE actual.workspace_id = $1 AND item_id = $2 AND actual.period = newer.period AND data_change_id <= $3
			ORDER BY revision DESC LIMIT 1
		) AS before
		FROM newer ORDER BY period DESC LIMIT $4`,
		[workspaceId, itemId, change, most],
	);
	return rows;
}
