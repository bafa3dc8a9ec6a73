import { createHash } from 'node:crypto';
import type { SignIn } from '../../wire/access';
import { pool, type Queryable, transaction } from '../database/database';
import { Refusal } from '../refusal';
import { digestOf, newKey } from './keys';
import { hashPassword, isPassword, refuseCrowd, refusePassword } from './passwords';
import { useCode } from './second-factor';

/** Where a sign-in comes from. */
export interface From {
	address: string;
	browser: string;
	/** The digest of the key of a session that this browser had before, live or not, in hexadecimal digits. */
	known: string | null;
}

/** Wrong ones that are free, by what is counted, and seconds that are waited at most after more: twice as long each time. */
const SLOWED = {
	name: { free: 5, most: 900 },
	address: { free: 20, most: 300 },
	session: { free: 5, most: 900 },
} as const;
type Counted = keyof typeof SLOWED;
/** After which those before are forgotten. */
const FORGOTTEN = `interval '1 hour'`;

const WRONG = 'Name, password or code is not right.';

const keyOf = (what: Counted, of: string): Buffer => createHash('sha256').update(`${what} ${of}`).digest();

interface Count {
	what: Counted;
	key: Buffer;
}

/** Seconds still to be waited because of what was wrong before. */
async function waitOf({ what, key }: Count): Promise<number> {
	const { rows } = await pool().query<{ failures: number; ago: number }>(
		`SELECT failures, extract(epoch FROM now() - at)::float8 AS ago FROM sign_in_failure WHERE key = $1 AND at > now() - ${FORGOTTEN}`,
		[key],
	);
	const { free, most } = SLOWED[what];
	const over = (rows[0]?.failures ?? 0) - free;
	return over <= 0 ? 0 : Math.max(0, Math.min(2 ** over, most) - rows[0]!.ago);
}

/** Counts one as wrong before it is looked at, so that a hundred at once are not all free. @returns how many there are now */
async function count({ key }: Count): Promise<number> {
	const { rows } = await pool().query<{ failures: number }>(
		`INSERT INTO sign_in_failure (key, failures) VALUES ($1, 1)
		ON CONFLICT (key) DO UPDATE SET failures = CASE WHEN sign_in_failure.at < now() - ${FORGOTTEN} THEN 1 ELSE sign_in_failure.failures + 1 END, at = now()
		RETURNING failures`,
		[key],
	);
	return rows[0]!.failures;
}

const forget = (keys: readonly Buffer[]) =>
	pool().query(`DELETE FROM sign_in_failure WHERE key = ANY ($1) OR at < now() - interval '1 day'`, [keys]);

const takeBack = (keys: readonly Buffer[]) =>
	pool().query('UPDATE sign_in_failure SET failures = failures - 1 WHERE key = ANY ($1)', [keys]);

interface PersonRow {
	id: number;
	name: string;
	password: string | null;
	second_factor: string | null;
}

async function personOf(workspaceId: number, name: string): Promise<PersonRow | null> {
	const { rows } = await pool().query<PersonRow>(
		`SELECT id, name, password, second_factor FROM actor JOIN person_proof ON actor_id = id
		WHERE workspace_id = $1 AND kind = 'person' AND lower(name) = lower($2) AND ended_at IS NULL`,
		[workspaceId, name],
	);
	return rows[0] ?? null;
}

/** Whether a browser had a session of this person before. */
async function isKnown(known: string | null, person: PersonRow | null): Promise<boolean> {
	if (known === null || person === null) return false;
	const { rowCount } = await pool().query('SELECT FROM session WHERE sha256 = $1 AND actor_id = $2', [
		Buffer.from(known, 'hex'),
		person.id,
	]);
	return rowCount === 1;
}

const record = (workspaceId: number, kind: string, person: PersonRow | null) =>
	pool().query('INSERT INTO access_event (workspace_id, kind, about) VALUES ($1, $2, $3)', [
		workspaceId,
		kind,
		person?.id ?? null,
	]);

/**
 * Signs a person in.
 * @returns the key of the session
 * @throws Refusal 401 where anything is wrong, in the same words and time whatever it is; 429 where it was wrong too often. A browser
 *   that had a session of this person, or whoever has the right code, is not kept waiting by what others try under their name.
 */
export async function signIn(workspaceId: number, given: SignIn, from: From): Promise<string> {
	// Before anything is asked of the database: a crowd is refused for next to nothing.
	if (from.known === null) refuseCrowd();
	const person = await personOf(workspaceId, given.name);
	const code = given.code ?? '';
	const known = await isKnown(from.known, person);
	if (!known) refuseCrowd();
	const counts: Count[] = known
		? [{ what: 'session', key: keyOf('session', from.known!) }]
		: [
				{ what: 'name', key: keyOf('name', given.name.toLowerCase()) },
				{ what: 'address', key: keyOf('address', from.address) },
			];
	let codeUsed = false;
	for (const each of counts) {
		const wait = await waitOf(each);
		if (wait === 0) continue;
		if (each.what === 'name' && person?.second_factor && code !== '') {
			codeUsed = await useCode(pool(), person.id, person.second_factor, code);
			if (codeUsed) continue;
		}
		throw new Refusal(
			429,
			`Too many sign-ins failed. Wait ${Math.ceil(wait)} seconds, or use a browser that was signed in before${each.what === 'name' ? ', or give the code of your second factor' : ''}.`,
			[],
			Math.ceil(wait),
		);
	}
	const keys = counts.map(({ key }) => key);
	const wrong = new Map<Counted, number>();
	for (const each of counts) wrong.set(each.what, await count(each));
	let right: boolean;
	try {
		right = await isPassword(person?.password ?? null, given.password, known);
	} catch (failure) {
		// It was not looked at.
		await takeBack(keys);
		throw failure;
	}
	if (right && person!.second_factor && !codeUsed)
		right = code !== '' && (await useCode(pool(), person!.id, person!.second_factor, code));
	if (!right) {
		await record(workspaceId, 'sign-in failed', person);
		const slowed = counts.some(({ what }) => wrong.get(what) === SLOWED[what].free + 1);
		if (slowed) await record(workspaceId, 'sign-in slowed', person);
		throw new Refusal(401, WRONG);
	}
	// Of an address others may be wrong: a right one forgives none but itself.
	const ofAddress = counts.filter(({ what }) => what === 'address').map(({ key }) => key);
	await forget(keys.filter((key) => !ofAddress.includes(key)));
	await takeBack(ofAddress);
	return beginSession(pool(), person!.id, from);
}

/** @returns the key of the session, which is kept nowhere */
async function beginSession(database: Queryable, actorId: number, { browser }: From): Promise<string> {
	const key = newKey();
	await database.query('INSERT INTO session (actor_id, sha256, browser) VALUES ($1, $2, $3)', [
		actorId,
		digestOf(key),
		browser,
	]);
	return key;
}

/**
 * Chooses a password by a link, and signs in.
 * @returns the key of the session
 * @throws Refusal 422 where the link is not good, or the password cannot be chosen
 */
export async function useLink(given: { key: string; password: string }, from: From): Promise<string> {
	const digest = digestOf(given.key);
	const { rows } = await pool().query<{ actor_id: number; name: string }>(
		`SELECT actor_id, name FROM person_link JOIN actor ON id = actor_id
		WHERE sha256 = $1 AND used_at IS NULL AND ends_at > now() AND ended_at IS NULL`,
		[digest],
	);
	const link = rows[0];
	const gone = () =>
		new Refusal(
			422,
			'This link was used, or is over a day old. Ask for a new one, from someone who manages.',
		);
	if (!link) throw gone();
	await refusePassword(given.password, link.name);
	const password = await hashPassword(given.password);
	return transaction(async (client) => {
		const { rowCount } = await client.query(
			'UPDATE person_link SET used_at = now() WHERE sha256 = $1 AND used_at IS NULL AND ends_at > now()',
			[digest],
		);
		if (rowCount === 0) throw gone();
		await client.query('UPDATE person_proof SET password = $2, second_factor = NULL WHERE actor_id = $1', [
			link.actor_id,
			password,
		]);
		return beginSession(client, link.actor_id, from);
	});
}

/** The proofs of a person who is signed in. */
async function proofsOf(actorId: number): Promise<PersonRow> {
	const { rows } = await pool().query<PersonRow>(
		'SELECT id, name, password, second_factor FROM actor JOIN person_proof ON actor_id = id WHERE id = $1',
		[actorId],
	);
	return rows[0]!;
}

/**
 * Looks at the password of somebody who is signed in, as slowly as at a sign-in after several wrong ones.
 * @throws Refusal 422 where it is wrong, 429 where it was wrong too often
 */
export async function provePassword(
	{ id, session }: { id: number; session: number },
	given: { password: string; code?: string | undefined },
	withCode = true,
): Promise<PersonRow> {
	const own: Count = { what: 'session', key: keyOf('session', `of ${session}`) };
	const wait = await waitOf(own);
	if (wait > 0)
		throw new Refusal(
			429,
			`The password was wrong too often. Wait ${Math.ceil(wait)} seconds.`,
			[],
			Math.ceil(wait),
		);
	await count(own);
	const person = await proofsOf(id);
	const right = await isPassword(person.password, given.password, true);
	const factor =
		!withCode ||
		!person.second_factor ||
		(right && (await useCode(pool(), id, person.second_factor, given.code ?? '')));
	if (!right || !factor)
		throw new Refusal(
			422,
			person.second_factor && withCode ? 'Password or code is not right.' : 'The password is not right.',
		);
	await forget([own.key]);
	return person;
}

/** Notes that the password was given again in a session. */
export const noteProof = (session: number) =>
	pool().query('UPDATE session SET proved_at = now() WHERE id = $1 AND ended_at IS NULL', [session]);

/**
 * Changes the password: all sessions end, and the one that asks goes on under a new key.
 * @returns the key
 */
export async function changePassword(
	who: { id: number; session: number },
	given: { current: string; password: string },
	from: From,
): Promise<string> {
	const person = await provePassword(who, { password: given.current }, false);
	await refusePassword(given.password, person.name);
	const password = await hashPassword(given.password);
	return transaction(async (client) => {
		await client.query('UPDATE person_proof SET password = $2 WHERE actor_id = $1', [who.id, password]);
		return beginSession(client, who.id, from);
	});
}
