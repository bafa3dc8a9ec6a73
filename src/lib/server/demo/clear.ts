import { pool } from '../database/database';
import type { Actor } from '../database/workspaces';
import { changeSeveral } from '../list/several';

/** The demo's items among those of the workspace, told by who brought them in. */
const THOSE_LISTED = `FROM item WHERE workspace_id = $1 AND retired_at IS NULL
	AND created_by = (SELECT id FROM actor WHERE workspace_id = $1 AND kind = 'demo')`;

/** Whether items of the demo are on the list. */
export async function hasDemo(workspaceId: number): Promise<boolean> {
	const { rows } = await pool().query<{ there: boolean }>(`SELECT EXISTS (SELECT ${THOSE_LISTED}) AS there`, [
		workspaceId,
	]);
	return rows[0]!.there;
}

/** Retires what came with the demo: it leaves the list, and everything of it stays on record. @returns how many items that are */
export async function clearDemo(actor: Actor): Promise<{ items: number }> {
	const { rows } = await pool().query<{ code: string }>(`SELECT code ${THOSE_LISTED}`, [actor.workspaceId]);
	if (rows.length === 0) return { items: 0 };
	const items = { codes: rows.map(({ code }) => code) };
	return changeSeveral(actor, { items, change: { retired: true }, reason: 'demo cleared' });
}
