// Brings a database up to date with db/migrations. Runs after the packages are there.
import { join } from 'node:path';
import { runner } from 'node-pg-migrate';
import pg from 'pg';
import { ROOT } from './lib/root.mjs';

const DIRECTORY = join(ROOT, 'db', 'migrations');
/** Two starts at once wait for each other here instead of both migrating. */
const LOCK = 7_214_063_581;

/**
 * @param {string} databaseUrl
 * @param {number} [count] how many of those that were not run yet, the oldest first; all unless told otherwise
 * @returns {Promise<string[]>} names of the migrations that were run now
 */
export async function migrate(databaseUrl, count = Infinity) {
	const client = new pg.Client({ connectionString: databaseUrl });
	await client.connect();
	try {
		await client.query('SELECT pg_advisory_lock($1)', [LOCK]);
		const quiet = () => undefined;
		const done = await runner({
			dbClient: client,
			dir: DIRECTORY,
			direction: 'up',
			count,
			migrationsTable: 'migration',
			noLock: true,
			singleTransaction: true,
			logger: { debug: quiet, info: quiet, warn: console.warn, error: console.error },
		});
		return done.map(({ name }) => name);
	} finally {
		await client.end();
	}
}
