import { pairsOf } from '../../wire/labels';
import type { Found } from '../../wire/list';
import { hasAll, patternsOf } from '../items/asked-sql';
import { pool } from '../database/database';

/** Items that are named at once. */
const NAMED = 9;

/**
 * Items of which each word that is typed stands in the code, the name or a label: those first whose code or name begins so, retired
 * ones last.
 */
export async function findItems(workspaceId: number, typed: string): Promise<Found> {
	const patterns = patternsOf(typed);
	if (patterns.length === 0) return { items: [], total: 0 };
	const { rows } = await pool().query<
		Omit<Found['items'][number], 'labels'> & { labels: Record<string, string>; total: number }
	>(
		`SELECT code, name, labels, retired_at IS NOT NULL AS retired, count(*) OVER () AS total
		FROM item
		WHERE workspace_id = $1 AND ${hasAll('sought', '$2')}
		ORDER BY retired_at IS NOT NULL,
			CASE WHEN lower(code) = lower($3) THEN 0 WHEN starts_with(lower(code), lower($3)) THEN 1
				WHEN starts_with(lower(name), lower($3)) THEN 2 ELSE 3 END,
			code
		LIMIT ${NAMED}`,
		[workspaceId, patterns, typed.trim().split(/\s+/).join(' ')],
	);
	const items = rows.map(({ code, name, labels, retired }) => ({
		code,
		name,
		labels: pairsOf(labels),
		retired,
	}));
	return { items, total: rows[0]?.total ?? 0 };
}
