// Brings a database up to date with db/migrations. Runs after the packages are there.
import { join } from 'node:path';
import { Logger, runMigrations } from 'graphile-worker';
import { runner } from 'node-pg-migrate';
import { connected } from './lib/connected.mjs';
import { ROOT } from './lib/root.mjs';

const quietLogger = new Logger(() => () => undefined);
const DIRECTORY = join(ROOT, 'db', 'migrations');
/** Two starts at once wait for each other here instead of both migrating. */
const LOCK = 7_214_063_581;

/**
 * @param {string} databaseUrl
 * @param {number} [count] how many of those that were not run yet, the oldest first; all unless told otherwise
 * @returns {Promise<string[]>} names of the migrations that were run now
 */
export function migrate(databaseUrl, count = Infinity) {
	return connected(databaseUrl, async (client) => {
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
		if (count === Infinity) await makeJobs(client, databaseUrl);
		return done.map(({ name }) => name);
	});
}

/**
 * The tables of jobs, which the application's role may use and does not own.
 * @param {import('pg').Client} client
 * @param {string} databaseUrl
 */
async function makeJobs(client, databaseUrl) {
	await runMigrations({ connectionString: databaseUrl, maxPoolSize: 1, logger: quietLogger });
	await client.query(`
		GRANT USAGE ON SCHEMA graphile_worker TO ventrel_application;
		GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA graphile_worker TO ventrel_application;
		GRANT USAGE ON ALL SEQUENCES IN SCHEMA graphile_worker TO ventrel_application;
		GRANT EXECUTE ON ALL FUNCTIONS IN SCHEMA graphile_worker TO ventrel_application;
		DO $$
		DECLARE
			closed regclass;
		BEGIN
			FOR closed IN
				SELECT c.oid FROM pg_class c
				WHERE c.relnamespace = 'graphile_worker'::regnamespace AND c.relrowsecurity
					AND NOT EXISTS (SELECT FROM pg_policy WHERE polrelid = c.oid)
			LOOP
				EXECUTE format('CREATE POLICY application ON %s TO ventrel_application USING (true) WITH CHECK (true)', closed);
			END LOOP;
		END $$;
	`);
}
