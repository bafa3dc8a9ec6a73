import { pool, type Queryable } from './database';

/** Keeps a text byte for byte. @returns its id */
export async function insertRawText(
	client: Queryable,
	text: { workspaceId: number; fileName: string | null; content: Buffer; by: string },
): Promise<number> {
	const { rows } = await client.query<{ id: number }>(
		'INSERT INTO raw_text (workspace_id, file_name, content, created_by) VALUES ($1, $2, $3, $4) RETURNING id',
		[text.workspaceId, text.fileName, text.content, text.by],
	);
	return rows[0]!.id;
}

/** The text that an item's figures came from, the newest first to be found; null where there is none. */
export async function loadRawText(
	workspaceId: number,
	code: string,
): Promise<{ fileName: string | null; content: Buffer } | null> {
	const { rows } = await pool().query<{ file_name: string | null; content: Buffer }>(
		`SELECT raw_text.file_name, raw_text.content
		FROM raw_text
		JOIN data_change ON data_change.workspace_id = raw_text.workspace_id AND data_change.raw_text_id = raw_text.id
		WHERE raw_text.workspace_id = $1 AND data_change.id IN (
			SELECT actual.data_change_id
			FROM actual
			JOIN item ON item.workspace_id = actual.workspace_id AND item.id = actual.item_id
			WHERE item.workspace_id = $1 AND item.code = $2
		)
		ORDER BY raw_text.id DESC
		LIMIT 1`,
		[workspaceId, code],
	);
	const row = rows[0];
	return row ? { fileName: row.file_name, content: row.content } : null;
}
