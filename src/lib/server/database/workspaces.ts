import type { PoolClient } from 'pg';
import { Refusal } from '../refusal';
import { pool, type Queryable, transaction } from './database';

/** Everything is done in a workspace, by somebody who proves it to the database. */
export interface Actor {
	workspaceId: number;
	/**
	 * How they prove it: by the `key` of a session or a token; where nobody signs in, as the account of this `machine`; a worker by the
	 * `batch` that it works off; who lays out the `demo` by
	 * nothing, as long as nobody else did something; what adds up the figures of a `sum`, and the `inbox`
	 * where a folder is watched, by nothing.
	 */
	way: 'key' | 'machine' | 'demo' | 'batch' | 'sum' | 'inbox';
	proof: string;
	/** What is asked for under a key of the caller's own, which is done once however often it is asked. */
	once?: Once;
}

/** A call and its body, under a key of its caller's. */
export interface Once {
	key: string;
	call: string;
	sha256: Buffer;
}

/** Whoever lays out the demo. */
export const demoActor = (workspaceId: number): Actor => ({ workspaceId, way: 'demo', proof: '' });

/**
 * Says for the rest of a transaction who acts, and why: the database puts both on record with what is written, and writes nothing
 * in another name.
 */
export const actAs = (client: Queryable, { workspaceId, way, proof }: Actor, reason = '') =>
	client.query<{ act: number }>('SELECT act($1, $2, $3, $4)', [workspaceId, way, proof, reason]);

/**
 * What somebody changes: all of it in one transaction, or nothing.
 * @returns what came of it; where it was asked for under a key and is done already, what came of it then
 */
export const changing = <T>(
	actor: Actor,
	work: (client: PoolClient) => Promise<T>,
	reason = '',
): Promise<T> =>
	transaction(async (client) => {
		const { rows } = await actAs(client, actor, reason);
		const { workspaceId, once } = actor;
		if (!once) return work(client);
		const whose = [workspaceId, rows[0]!.act, once.key];
		// Of two at once the second waits here for what becomes of the first.
		const { rowCount } = await client.query(
			'INSERT INTO request_once (workspace_id, key, call, sha256) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING',
			[workspaceId, once.key, once.call, once.sha256],
		);
		if (rowCount === 0) return answeredBefore<T>(client, whose, once) as Promise<T>;
		const answer = await work(client);
		await client.query(
			'UPDATE request_once SET answer = $4 WHERE workspace_id = $1 AND actor_id = $2 AND key = $3',
			[...whose, JSON.stringify(answer)],
		);
		return answer;
	});

/**
 * What was answered under a key; null where nothing was asked for under it yet.
 * @param whose the workspace, the actor, the key
 * @throws Refusal 422 where something else was asked for under it
 */
export async function answeredBefore<T>(
	database: Queryable,
	whose: readonly unknown[],
	{ key, call, sha256 }: Once,
): Promise<T | null> {
	const { rows } = await database.query<{ call: string; sha256: Buffer; answer: T }>(
		'SELECT call, sha256, answer FROM request_once WHERE workspace_id = $1 AND actor_id = $2 AND key = $3',
		[...whose],
	);
	const [row] = rows;
	if (!row) return null;
	if (row.call === call && row.sha256.equals(sha256)) return row.answer;
	const message = `Something else was asked for under the key “${key.slice(0, 80)}”. Take a new key for each thing that is to be done once.`;
	throw new Refusal(422, message, [{ path: 'Idempotency-Key', message }]);
}

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
