import pg from 'pg';
import { log } from '../log';

// Identities stay far below 2^53: numbers are kinder to handle than texts.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** Milliseconds that a statement may take, wait for a connection or for a lock, or have its transaction stand idle. */
const STATEMENT = 60_000;
const CONNECTION = 10_000;
const LOCK = 10_000;
const IDLE = 60_000;
/** Pauses before a transaction that met another one is tried again. */
const AGAIN = [20, 80, 240];
/** Pause before what found no database is begun again. */
const NOT_THERE = 500;

let shared: pg.Pool | null = null;

/** The pool of this process, on DATABASE_URL. A connection that broke is replaced by the next query. */
export function pool(): pg.Pool {
	if (!shared) {
		shared = new pg.Pool({
			connectionString: process.env.DATABASE_URL,
			max: 10,
			connectionTimeoutMillis: CONNECTION,
			keepAlive: true,
			statement_timeout: STATEMENT,
			lock_timeout: LOCK,
			idle_in_transaction_session_timeout: IDLE,
		});
		shared.on('error', (error) => log.warn({ reason: error.message }, 'an idle database connection broke'));
	}
	return shared;
}

export async function closePool(): Promise<void> {
	const closing = shared;
	shared = null;
	await closing?.end();
}

/** Texts of queries that are planned once for each connection, by their names there. */
const names = new Map<string, string>();
/** So many of them at most: a connection keeps the plans for as long as it lasts. */
const MOST_NAMES = 100;

/** A query that comes again and again, and that takes about as long to plan as to run. Its text holds no values. */
export function prepared(text: string, values: unknown[]): pg.QueryConfig {
	const name = names.get(text) ?? (names.size < MOST_NAMES ? `ventrel_${names.size}` : null);
	if (name === null) return { text, values };
	names.set(text, name);
	return { name, text, values };
}

/** Anything that runs a query: the pool, or the client of a transaction. */
export type Queryable = Pick<pg.Pool, 'query'>;

/**
 * Runs work in one transaction: all of it is kept, or nothing. Work that met another transaction in a deadlock is run again.
 */
export async function transaction<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
	for (const pause of AGAIN) {
		try {
			return await inTransaction('BEGIN', work);
		} catch (error) {
			if (!/^(40001|40P01)$/.test(sqlState(error))) throw error;
			log.info({ reason: String(error) }, 'a transaction met another one and is run again');
			// Not all at the same time, or they meet again.
			await new Promise((done) => setTimeout(done, pause * (0.5 + Math.random())));
		}
	}
	return inTransaction('BEGIN', work);
}

/** Reads that belong together: all of them see the database as it is at one moment. */
export const snapshot = <T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> =>
	inTransaction('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY', work);

/** Does something on a connection of its own. Where that fails the connection is given up, with all that it held or was in the midst of. */
export async function onConnection<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
	const client = await pool().connect();
	let broken = false;
	// One that breaks between two queries says so as an event; without a listener it would end the process.
	const onError = () => (broken = true);
	client.on('error', onError);
	try {
		return await work(client);
	} catch (error) {
		broken = true;
		throw error;
	} finally {
		client.off('error', onError);
		client.release(broken);
	}
}

/** Does something where no other process is at it. @param lock one of `LOCKS` @returns null where another one is */
export const whereFree = <T>(lock: number, work: () => Promise<T>): Promise<T | null> =>
	onConnection(async (client) => {
		const { rows } = await client.query<{ free: boolean }>('SELECT pg_try_advisory_lock($1) AS free', [lock]);
		if (!rows[0]!.free) return null;
		const result = await work();
		await client.query('SELECT pg_advisory_unlock($1)', [lock]);
		return result;
	});

/** Does something where no other process is at it, which is waited for as long as it takes. @param lock one of `LOCKS` */
export const whenFree = <T>(lock: number, work: () => Promise<T>): Promise<T> =>
	onConnection(async (client) => {
		await client.query('SET lock_timeout = 0; SET statement_timeout = 0');
		await client.query('SELECT pg_advisory_lock($1)', [lock]);
		const result = await work();
		await client.query('SELECT pg_advisory_unlock($1)', [lock]);
		await client.query('RESET lock_timeout; RESET statement_timeout');
		return result;
	});

/** Does something as soon as the database can be reached and has time for it, and from its beginning where that breaks off; however long it takes. */
export async function onceReached<T>(work: () => Promise<T>): Promise<T> {
	for (;;) {
		try {
			return await work();
		} catch (error) {
			const meaning = meaningOf(error);
			if (meaning !== 'unreachable' && meaning !== 'busy') throw error;
			log.warn({ reason: String(error) }, 'the database is waited for');
		}
		await new Promise((done) => setTimeout(done, NOT_THERE));
	}
}

async function inTransaction<T>(begin: string, work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
	const client = await pool().connect();
	let broken: Error | undefined;
	// A connection that breaks between two queries says so as an event; without a listener it would end the process.
	const onError = (error: Error) => (broken = error);
	client.on('error', onError);
	try {
		await client.query(begin);
		const result = await work(client);
		await client.query('COMMIT');
		return result;
	} catch (error) {
		await client.query('ROLLBACK').catch((failure: Error) => (broken = failure));
		throw error;
	} finally {
		client.off('error', onError);
		client.release(broken);
	}
}

/** The code that PostgreSQL or the network gave an error; empty where there is none. */
const sqlState = (error: unknown): string =>
	error instanceof Error && 'code' in error ? String(error.code) : '';

/** The rule of the database that a value broke, by its name. */
export const brokenRule = (error: unknown): string | undefined =>
	error instanceof pg.DatabaseError ? error.constraint : undefined;

/** What an error of the database means for whoever asked; null where it is a defect of ours, or no error of the database. */
export function meaningOf(error: unknown): 'unreachable' | 'full' | 'busy' | 'bad data' | null {
	if (error instanceof AggregateError)
		return error.errors.some((each) => meaningOf(each) === 'unreachable') ? 'unreachable' : null;
	if (!(error instanceof Error)) return null;
	const code = sqlState(error);
	if (
		/^(ECONN|EPIPE|ENOTFOUND|ETIMEDOUT|08|57P0)/.test(code) ||
		/Connection terminated|connection error and is not queryable|timeout exceeded when trying to connect/i.test(
			error.message,
		)
	)
		return 'unreachable';
	if (code === '53100' || code === 'ENOSPC') return 'full';
	// Locks and statements that took too long, deadlocks that came again and again, room or connections that ran out.
	if (/^(55P03|57014|40001|40P01|53\w{3}|25P03)$/.test(code)) return 'busy';
	// A value that it does not take, or a rule of its own that was broken.
	if (/^(22|23)\w{3}$/.test(code)) return 'bad data';
	return null;
}
