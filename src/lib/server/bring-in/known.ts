import { MOST_WORDS } from '../../reading/evidence';
import type { KnownAsked, KnownTable } from '../../wire/bring-in';
import type { Queryable } from '../database/database';

interface LastRow {
	file_name: string | null;
	at: Date;
	reading: Omit<NonNullable<KnownTable['last']>, 'fileName' | 'at'>;
}

/** What is known of a table: which of its words are codes or names of items, and how the last one of its make was read. */
export async function knownOf(
	database: Queryable,
	workspaceId: number,
	{ words, make }: KnownAsked,
): Promise<KnownTable> {
	const { rows: items } = await database.query<KnownTable['items'][number]>(
		`SELECT code, name, frequency, (
			SELECT max(period) FROM actual WHERE actual.workspace_id = item.workspace_id AND actual.item_id = item.id AND value IS NOT NULL
		) AS newest
		FROM item WHERE workspace_id = $1 AND (code = ANY ($2) OR name = ANY ($2)) ORDER BY code LIMIT ${MOST_WORDS}`,
		[workspaceId, words],
	);
	if (make === null) return { items, last: null };
	const { rows } = await database.query<LastRow>(
		`SELECT raw_text.file_name, data_change.created_at AS at, reading
		FROM data_change
		LEFT JOIN raw_text ON raw_text.workspace_id = data_change.workspace_id AND raw_text.id = raw_text_id
		WHERE data_change.workspace_id = $1 AND reading ->> 'make' = $2 AND reading ? 'make'
		ORDER BY data_change.id DESC
		LIMIT 1`,
		[workspaceId, make],
	);
	const [row] = rows;
	if (!row) return { items, last: null };
	const { choices, heads, doubts, columns, frequency, decimal } = row.reading;
	return {
		items,
		last: {
			fileName: row.file_name,
			at: row.at.toISOString(),
			choices,
			heads,
			doubts,
			columns,
			frequency,
			decimal,
		},
	};
}
