import pg from 'pg';
import { log } from './log';

// Identities stay far below 2^53: numbers are kinder to handle than texts.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

let shared: pg.Pool | null = null;

/** The pool of this process, on DATABASE_URL. A connection that broke is replaced by the next query. */
export function pool(): pg.Pool {
	if (!shared) {
		shared = new pg.Pool({
			connectionString: process.env.DATABASE_URL,
			max: 10,
			connectionTimeoutMillis: 5_000,
			keepAlive: true,
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

/** Anything that runs a query: the pool, or the client of a transaction. */
export type Queryable = Pick<pg.Pool, 'query'>;

/** Runs work in one transaction: all of it is kept, or nothing. */
export async function transaction<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
	const client = await pool().connect();
	let broken: Error | undefined;
	// A connection that breaks between two queries says so as an event; without a listener it would end the process.
	const onError = (error: Error) => (broken = error);
	client.on('error', onError);
	try {
		await client.query('BEGIN');
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

/** Whether an error means that the database could not be reached, rather than that it said no. */
export function isUnreachable(error: unknown): boolean {
	if (error instanceof AggregateError) return error.errors.some(isUnreachable);
	if (!(error instanceof Error)) return false;
	const code = 'code' in error ? String(error.code) : '';
	return (
		/^(ECONN|EPIPE|ENOTFOUND|ETIMEDOUT|08|57P0)/.test(code) ||
		/Connection terminated|timeout exceeded when trying to connect/i.test(error.message)
	);
}
