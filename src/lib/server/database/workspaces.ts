import type { PoolClient } from 'pg';
import { pool, type Queryable, transaction } from './database';

/** Everything is done in a workspace, by somebody who proves it to the database. */
export interface Actor {
	workspaceId: number;
	/**
	 * How they prove it: by the `key` of a session or a token; where nobody signs in, as the account of this `machine`; a worker by the
	 * `batch` that it works off; who lays out the `demo` by
	 * nothing, as long as nobody else did something; what adds up the figures of a `sum` by nothing.
	 */
	way: 'key' | 'machine' | 'demo' | 'batch' | 'sum';
	proof: string;
}

/** Whoever lays out the demo. */
export const demoActor = (workspaceId: number): Actor => ({ workspaceId, way: 'demo', proof: '' });

/**
 * Says for the rest of a transaction who acts, and why: the database puts both on record with what is written, and writes nothing
 * in another name.
 */
export const actAs = (client: Queryable, { workspaceId, way, proof }: Actor, reason = '') =>
	client.query('SELECT act($1, $2, $3, $4)', [workspaceId, way, proof, reason]);

/** What somebody changes: all of it in one transaction, or nothing. */
export const changing = <T>(
	actor: Actor,
	work: (client: PoolClient) => Promise<T>,
	reason = '',
): Promise<T> =>
	transaction(async (client) => {
		await actAs(client, actor, reason);
		return work(client);
	});

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
