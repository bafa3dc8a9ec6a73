import { pool, transaction } from '../database/database';
import type { Actor } from '../database/workspaces';

/** The demo's items among those of the workspace. */

/** By whom they came in. */
const DEMO = 'demo';

/** Whether items of the demo are on the list. */
export async function hasDemo(workspaceId: number): Promise<boolean> {
	const { rows } = await pool().query<{ there: boolean }>(
		`SELECT EXISTS (
			SELECT FROM item WHERE workspace_id = $1 AND created_by = $2 AND retired_at IS NULL
		) AS there`,
		[workspaceId, DEMO],
	);
	return rows[0]!.there;
}

/** Retires what came with the demo: it leaves the list, and everything of it stays on record. @returns how many items that are */
export const clearDemo = ({ workspaceId, name }: Actor): Promise<{ items: number }> =>
	transaction(async (client) => {
		await client.query(
			"SELECT set_config('ventrel.by', $1, true), set_config('ventrel.reason', 'demo cleared', true)",
			[name],
		);
		// Locked in one order, as everybody does who changes many.
		const { rows } = await client.query<{ id: number }>(
			`SELECT id FROM item WHERE workspace_id = $1 AND created_by = $2 AND retired_at IS NULL
			ORDER BY id FOR NO KEY UPDATE`,
			[workspaceId, DEMO],
		);
		await client.query('UPDATE item SET retired_at = now() WHERE workspace_id = $1 AND id = ANY ($2)', [
			workspaceId,
			rows.map(({ id }) => id),
		]);
		return { items: rows.length };
	});
