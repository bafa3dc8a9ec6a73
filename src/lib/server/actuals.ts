import { pool, type Queryable } from './database';

/**
 * The latest revision of every period of an item, as known after a change (or now).
 * @returns the first ordinal and one value a period, null where missing; no values for an item without actuals
 */
export async function loadSeries(
	workspaceId: number,
	itemId: number,
	upToChange: number | null = null,
	database: Queryable = pool(),
): Promise<{ first: number; values: (number | null)[] }> {
	const { rows } = await database.query<{ period: number; value: number | null }>(
		`SELECT DISTINCT ON (period) period, value
		FROM actual
		WHERE workspace_id = $1 AND item_id = $2 AND ($3::bigint IS NULL OR data_change_id <= $3)
		ORDER BY period, revision DESC`,
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

/** One change of actuals. @returns its id */
export async function insertDataChange(
	client: Queryable,
	change: { workspaceId: number; rawTextId: number | null; reading: object; by: string },
): Promise<number> {
	const { rows } = await client.query<{ id: number }>(
		'INSERT INTO data_change (workspace_id, raw_text_id, reading, created_by) VALUES ($1, $2, $3, $4) RETURNING id',
		[change.workspaceId, change.rawTextId, change.reading, change.by],
	);
	return rows[0]!.id;
}
