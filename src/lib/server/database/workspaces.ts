import { pool, type Queryable } from './database';

/** Everything is done in a workspace, by somebody. */
export interface Actor {
	workspaceId: number;
	name: string;
}

/** Says for the rest of a transaction who changes items, and why: the database records both beside each change. */
export const sayWho = (client: Queryable, by: string, reason = '') =>
	client.query(`SELECT set_config('ventrel.by', $1, true), set_config('ventrel.reason', $2, true)`, [
		by,
		reason,
	]);

let served: { id: number; name: string } | null = null;

/** The workspace that is served, looked up once: there is one, and it stays. */
export const servedWorkspace = async (): Promise<{ id: number; name: string } | null> =>
	(served ??= await firstWorkspace());

/** The first workspace, or null in a new database. */
export async function firstWorkspace(
	database: Queryable = pool(),
): Promise<{ id: number; name: string } | null> {
	const { rows } = await database.query<{ id: number; name: string }>(
		'SELECT id, name FROM workspace ORDER BY id LIMIT 1',
	);
	return rows[0] ?? null;
}

/** @returns the new workspace's id */
export async function createWorkspace(database: Queryable, name: string): Promise<number> {
	const { rows } = await database.query<{ id: number }>(
		'INSERT INTO workspace (name) VALUES ($1) RETURNING id',
		[name],
	);
	return rows[0]!.id;
}
