import type { People, Person, Role, Session, Token } from '../../wire/access';
import { brokenRule, pool, type Queryable } from '../database/database';
import { type Actor, changing } from '../database/workspaces';
import { Refusal } from '../refusal';
import type { Caller } from './caller';
import { digestOf, newKey, TOKEN_PREFIX } from './keys';
import { newFactor, stepOf } from './second-factor';

/** Who may sign in, tokens of programs, and the sessions of each: the database writes down who changed what of them. */

const PERSON = `SELECT actor.id, actor.name, actor.role, to_json(actor.created_at) #>> '{}' AS at, actor_name(actor.created_by) AS by,
		password IS NOT NULL AS joined, second_factor IS NOT NULL AS "secondFactor", (
			SELECT to_json(max(used_at)) #>> '{}' FROM session WHERE session.actor_id = actor.id
		) AS used
	FROM actor JOIN person_proof ON person_proof.actor_id = actor.id
	WHERE workspace_id = $1 AND kind = 'person' AND ended_at IS NULL`;

export async function loadPeople(workspaceId: number, database: Queryable = pool()): Promise<People> {
	const { rows } = await database.query<Person>(`${PERSON} ORDER BY lower(actor.name)`, [workspaceId]);
	const { rows: access } = await database.query<{ second_factor: boolean }>(
		'SELECT second_factor FROM access',
	);
	return { people: rows, secondFactor: access[0]!.second_factor };
}

/** @throws Refusal 409 where somebody has the name already */
async function makeActor(
	client: Queryable,
	workspaceId: number,
	kind: 'person' | 'token',
	name: string,
	role: Role,
): Promise<number> {
	try {
		const { rows } = await client.query<{ id: number }>(
			`INSERT INTO actor (workspace_id, kind, name, role, created_by)
			VALUES ($1, $2, $3, $4, (SELECT actor FROM acting())) RETURNING id`,
			[workspaceId, kind, name, role],
		);
		return rows[0]!.id;
	} catch (failure) {
		if (brokenRule(failure) !== 'actor_name') throw failure;
		const message = `A ${kind} is called “${name}” already. Choose another name.`;
		throw new Refusal(409, message, [{ path: 'name', message }]);
	}
}

/** A link for a person, in place of those before it. @returns its key, which is kept nowhere */
async function makeLink(client: Queryable, id: number): Promise<{ id: number; key: string }> {
	const key = newKey();
	await client.query('UPDATE person_link SET used_at = now() WHERE actor_id = $1 AND used_at IS NULL', [id]);
	await client.query('INSERT INTO person_link (sha256, actor_id) VALUES ($1, $2)', [digestOf(key), id]);
	return { id, key };
}

export const invite = (
	actor: Actor,
	{ name, role }: { name: string; role: Role },
): Promise<{ id: number; key: string }> =>
	changing(actor, async (client) => {
		const id = await makeActor(client, actor.workspaceId, 'person', name, role);
		await client.query('INSERT INTO person_proof (actor_id) VALUES ($1)', [id]);
		return makeLink(client, id);
	});

/** One who may sign in, under a lock. @throws Refusal 404 */
async function lockPerson(
	client: Queryable,
	workspaceId: number,
	id: number,
): Promise<{ role: Role; name: string }> {
	// All changes of people come one after the other: two that take the last two managers away would each not see the other.
	await client.query(
		`SELECT FROM actor WHERE workspace_id = $1 AND kind = 'person' AND ended_at IS NULL ORDER BY id FOR UPDATE`,
		[workspaceId],
	);
	const { rows } = await client.query<{ role: Role; name: string }>(
		`SELECT role, name FROM actor WHERE workspace_id = $1 AND id = $2 AND kind = 'person' AND ended_at IS NULL`,
		[workspaceId, id],
	);
	if (!rows[0]) throw new Refusal(404, `Nobody who may sign in has the number ${id}.`);
	return rows[0];
}

export const newLink = (actor: Actor, id: number): Promise<{ id: number; key: string }> =>
	changing(actor, async (client) => {
		await lockPerson(client, actor.workspaceId, id);
		return makeLink(client, id);
	});

/**
 * Gives a person another role, or ends their access; their sessions end at once.
 * @returns the person; null where their access has ended
 * @throws Refusal 409 where nobody would be left who manages
 */
export const changePerson = (
	actor: Actor,
	id: number,
	{ role, left }: { role?: Role | undefined; left?: true | undefined },
): Promise<Person | null> =>
	changing(actor, async (client) => {
		const before = await lockPerson(client, actor.workspaceId, id);
		if (before.role === 'manage' && (left || (role && role !== 'manage'))) {
			const { rowCount } = await client.query(
				`SELECT FROM actor JOIN person_proof ON actor_id = id
				WHERE workspace_id = $1 AND kind = 'person' AND role = 'manage' AND ended_at IS NULL AND password IS NOT NULL AND id <> $2`,
				[actor.workspaceId, id],
			);
			if (rowCount === 0)
				throw new Refusal(
					409,
					`${before.name} is the only one left who manages. Give somebody else that role first.`,
				);
		}
		if (left) {
			await client.query(
				'UPDATE actor SET ended_at = now(), ended_by = (SELECT actor FROM acting()) WHERE id = $1',
				[id],
			);
			return null;
		}
		if (role && role !== before.role)
			await client.query('UPDATE actor SET role = $2 WHERE id = $1', [id, role]);
		const { rows } = await client.query<Person>(`${PERSON} AND actor.id = $2`, [actor.workspaceId, id]);
		return rows[0]!;
	});

/** Demands a second factor of who manages, or leaves it free. @throws Refusal 409 where whoever demands it has none */
export const demandFactor = (caller: Caller, secondFactor: boolean): Promise<{ secondFactor: boolean }> => {
	if (secondFactor && caller.kind === 'person' && !caller.secondFactor)
		throw new Refusal(409, 'Switch a second factor on for yourself first, under “Your account”.');
	return changing(caller.actor, async (client) => {
		await client.query('UPDATE access SET second_factor = $1 WHERE second_factor <> $1', [secondFactor]);
		return { secondFactor };
	});
};

export async function loadTokens(workspaceId: number, database: Queryable = pool()): Promise<Token[]> {
	const { rows } = await database.query<Token>(
		`SELECT id, name, role, to_json(created_at) #>> '{}' AS at, actor_name(created_by) AS by, to_json(ends_at) #>> '{}' AS ends,
			to_json(used_at) #>> '{}' AS used
		FROM actor JOIN token_proof ON actor_id = id WHERE workspace_id = $1 AND ended_at IS NULL ORDER BY lower(name)`,
		[workspaceId],
	);
	return rows;
}

/** @returns the token, which is kept nowhere */
export const makeToken = (
	actor: Actor,
	{ name, role, days }: { name: string; role: Role; days: number },
): Promise<{ id: number; token: string }> =>
	changing(actor, async (client) => {
		const token = newKey(TOKEN_PREFIX);
		const id = await makeActor(client, actor.workspaceId, 'token', name, role);
		await client.query(
			`INSERT INTO token_proof (actor_id, sha256, ends_at) VALUES ($1, $2, now() + make_interval(days => $3))`,
			[id, digestOf(token), days],
		);
		return { id, token };
	});

/** @throws Refusal 404 where there is no such token */
export const revokeToken = (actor: Actor, id: number): Promise<Token[]> =>
	changing(actor, async (client) => {
		const { rowCount } = await client.query(
			`UPDATE actor SET ended_at = now(), ended_by = (SELECT actor FROM acting())
			WHERE workspace_id = $1 AND id = $2 AND kind = 'token' AND ended_at IS NULL`,
			[actor.workspaceId, id],
		);
		if (rowCount === 0) throw new Refusal(404, `There is no token of the number ${id}.`);
		return loadTokens(actor.workspaceId, client);
	});

/** The live sessions of whoever asks. */
export async function loadSessions({ id, session }: Pick<Caller, 'id' | 'session'>): Promise<Session[]> {
	const { rows } = await pool().query<Session>(
		`SELECT session.id, browser, to_json(session.created_at) #>> '{}' AS at, to_json(session.used_at) #>> '{}' AS used, session.id = $2 AS own
		FROM session JOIN live_key ON way = 'session' AND live_key.id = session.id WHERE session.actor_id = $1 ORDER BY session.used_at DESC`,
		[id, session],
	);
	return rows;
}

/** Ends one of the sessions of whoever asks. @throws Refusal 404 where they have no such session */
export async function endSession({ id }: Pick<Caller, 'id'>, session: number): Promise<void> {
	const { rowCount } = await pool().query(
		'UPDATE session SET ended_at = now() WHERE id = $1 AND actor_id = $2 AND ended_at IS NULL',
		[session, id],
	);
	if (rowCount === 0) throw new Refusal(404, 'You have no such session; it may have ended already.');
}

/** A secret for the second factor of whoever asks; nothing is kept until a code of it came. */
export const proposeFactor = ({ name }: Pick<Caller, 'name'>) => newFactor(name);

/** @throws Refusal 422 where the code is not of this secret and of now */
export async function switchFactorOn(
	{ id }: Pick<Caller, 'id'>,
	given: { secret: string; code: string },
): Promise<void> {
	const step = stepOf(given.secret, given.code);
	if (step === null) {
		const message =
			'This code is not the one of now. Check the clock of your device, and give the code that it shows.';
		throw new Refusal(422, message, [{ path: 'code', message }]);
	}
	await pool().query(
		'UPDATE person_proof SET second_factor = $2, second_factor_step = $3 WHERE actor_id = $1',
		[id, given.secret, step],
	);
}

/** @throws Refusal 409 where it is demanded of who manages */
export async function switchFactorOff({ id, role, actor }: Caller): Promise<void> {
	const { secondFactor } = await loadPeople(actor.workspaceId);
	if (secondFactor && role === 'manage')
		throw new Refusal(409, 'A second factor is demanded of everybody who manages.');
	await pool().query('UPDATE person_proof SET second_factor = NULL WHERE actor_id = $1', [id]);
}

/** Whether anybody could sign in, or has a link to. */
export async function hasPeople(): Promise<boolean> {
	const { rows } = await pool().query<{ there: boolean }>(
		`SELECT EXISTS (SELECT FROM actor WHERE kind = 'person' AND ended_at IS NULL) AS there`,
	);
	return rows[0]!.there;
}
