import { userInfo } from 'node:os';
import { type For, FRESH_MINUTES, mayDo, type Me, type Role, ROLE_SAYS } from '../../wire/access';
import { pool, prepared } from '../database/database';
import type { Actor } from '../database/workspaces';
import { Refusal } from '../refusal';
import { digestOf } from './keys';

/** Who asks: a person by a session, a program by a token, or, where nobody signs in, this machine. */
export interface Caller {
	kind: Me['kind'];
	/** The actor's id; null for this machine, which is given one when it first changes something. */
	id: number | null;
	name: string;
	role: Role;
	/** Who acts where something is changed. */
	actor: Actor;
	/** By what they take turns. */
	turn: string;
	session: number | null;
	/** Whether the password was given lately. */
	fresh: boolean;
	secondFactor: boolean;
	/** Whether they would manage if they had a second factor. */
	secondFactorWanted: boolean;
}

/** Whether people sign in: said by who starts the server. */
export const signInIsOn = (env: NodeJS.ProcessEnv = process.env): boolean => env.VENTREL_SIGN_IN === 'on';

/** Under which name changes are kept where nobody signs in: VENTREL_USER, else the account that the server runs under. */
const ACCOUNT = (process.env.VENTREL_USER ?? userInfo().username).slice(0, 80);

/** This machine, where nobody signs in. */
export const thisMachine = (workspaceId: number, turn: string): Caller => ({
	kind: 'machine',
	id: null,
	name: ACCOUNT,
	role: 'manage',
	actor: { workspaceId, way: 'machine', proof: ACCOUNT },
	turn,
	session: null,
	fresh: true,
	secondFactor: false,
	secondFactorWanted: false,
});

interface KeyRow {
	way: 'session' | 'token';
	id: number;
	actor_id: number;
	workspace_id: number;
	name: string;
	role: Role;
	fresh: boolean | null;
	stale: boolean;
	second_factor: boolean;
	demanded: boolean;
}

/** Minutes after which it is written down that a key was used. */
const NOTED = 1;

const WHO_HAS = `SELECT way, id, live_key.actor_id, workspace_id, name, role, proved_at > now() - interval '${FRESH_MINUTES} minutes' AS fresh,
		coalesce(used_at < now() - interval '${NOTED} minutes', true) AS stale, person_proof.second_factor IS NOT NULL AS second_factor,
		access.second_factor AS demanded
	FROM live_key CROSS JOIN access LEFT JOIN person_proof ON person_proof.actor_id = live_key.actor_id
	WHERE live_key.sha256 = $1`;

/** Whoever has a key, by what the database says at this moment; null where it is no longer good. */
export async function callerOf(key: string): Promise<Caller | null> {
	const digest = digestOf(key);
	const { rows } = await pool().query<KeyRow>(prepared(WHO_HAS, [digest]));
	const row = rows[0];
	if (!row) return null;
	const session = row.way === 'session';
	if (row.stale)
		await pool().query(
			`UPDATE ${session ? 'session' : 'token_proof'} SET used_at = now() WHERE sha256 = $1`,
			[digest],
		);
	const wanted = session && row.demanded && row.role === 'manage' && !row.second_factor;
	return {
		kind: session ? 'person' : 'token',
		id: row.actor_id,
		name: row.name,
		role: wanted ? 'work' : row.role,
		actor: { workspaceId: row.workspace_id, way: 'key', proof: key },
		turn: `${row.way} ${row.id}`,
		session: session ? row.id : null,
		fresh: row.fresh ?? false,
		secondFactor: row.second_factor,
		secondFactorWanted: wanted,
	};
}

/** The row of whoever asks; null for this machine as long as it changed nothing. */
export async function actorIdOf({ id, actor }: Caller): Promise<number | null> {
	if (id !== null) return id;
	const { rows } = await pool().query<{ id: number }>(
		`SELECT id FROM actor WHERE workspace_id = $1 AND kind = 'machine' AND lower(name) = lower($2)`,
		[actor.workspaceId, actor.proof],
	);
	return rows[0]?.id ?? null;
}

/** Who manages, for whom has to ask them. */
export async function managersOf(workspaceId: number): Promise<string[]> {
	const { rows } = await pool().query<{ name: string }>(
		`SELECT name FROM actor WHERE workspace_id = $1 AND kind = 'person' AND role = 'manage' AND ended_at IS NULL ORDER BY name LIMIT 3`,
		[workspaceId],
	);
	return rows.map(({ name }) => name);
}

/** Who asks, as pages know it. */
export async function meOf(caller: Caller): Promise<Me> {
	const { kind, id, name, role, secondFactor, secondFactorWanted } = caller;
	return {
		signIn: signInIsOn(),
		kind,
		id,
		name,
		role,
		secondFactor,
		secondFactorWanted,
		managers: kind === 'machine' ? [] : await managersOf(caller.actor.workspaceId),
	};
}

/**
 * Why a caller may not do what is for others, or not before the password is given again; null where they may. The one place where
 * this is decided, by what the call or the page declares.
 */
export async function whyNot(
	caller: Caller | null,
	{ who, fresh = false }: { who: For; fresh?: boolean },
): Promise<Refusal | null> {
	if (who === 'anyone') return null;
	if (!caller) return new Refusal(401, 'Sign in first: nobody is signed in here, or the session has ended.');
	if (!mayDo(caller.role, who)) {
		if (caller.secondFactorWanted && who === 'manage')
			return new Refusal(403, 'Managing needs a second factor. Switch it on under “Your account” first.');
		const managers = await managersOf(caller.actor.workspaceId);
		const ask = managers.length > 0 ? ` Ask someone who manages: ${managers.join(', ')}.` : '';
		return new Refusal(
			403,
			`This is for the role “${who}”. Yours is “${caller.role}”, which ${ROLE_SAYS[caller.role]}.${ask}`,
		);
	}
	if (fresh && caller.kind === 'token')
		return new Refusal(403, 'A token does not change people, tokens or roles. Sign in for that.');
	if (fresh && !caller.fresh)
		return new Refusal(
			403,
			`Give your password again: it was last given over ${FRESH_MINUTES} minutes ago.`,
			[],
			null,
			{
				again: true,
			},
		);
	return null;
}
