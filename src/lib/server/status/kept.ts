import type { Kept } from '../../wire/service';
import { pool } from '../database/database';
import { type Actor, changing } from '../database/workspaces';

/** What is kept, how large it is, and when what is over goes: what goes is deleted by the owner (`scripts/lib/house.mjs`). */

/** When the nightly backup last was, and what came of it; null where none ever was. */
export async function loadBackup(): Promise<Kept['backup']> {
	const { rows } = await pool().query<NonNullable<Kept['backup']>>(
		`SELECT to_json(at) #>> '{}' AS at, ok, words FROM upkeep WHERE name = 'backup'`,
	);
	return rows[0] ?? null;
}

export async function loadKept(workspaceId: number): Promise<Kept> {
	const [sizes, raw, workspace, backup] = await Promise.all([
		pool().query<Kept['sizes'][number]>('SELECT what, bytes, held FROM kept_sizes()'),
		pool().query<{ bytes: number }>(
			'SELECT coalesce(sum(octet_length(content)), 0)::bigint AS bytes FROM raw_piece WHERE workspace_id = $1',
			[workspaceId],
		),
		pool().query<{ days: number }>('SELECT sweep_days AS days FROM workspace WHERE id = $1', [workspaceId]),
		loadBackup(),
	]);
	return {
		sizes: sizes.rows,
		rawBytes: raw.rows[0]!.bytes,
		sweepDays: workspace.rows[0]!.days,
		backup,
	};
}

/** Sets after how many days rows of a sweep go. */
export async function keepSweeps(actor: Actor, days: number): Promise<Kept> {
	await changing(actor, (client) =>
		client.query('UPDATE workspace SET sweep_days = $2 WHERE id = $1', [actor.workspaceId, days]),
	);
	return loadKept(actor.workspaceId);
}
