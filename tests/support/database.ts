import { randomBytes } from 'node:crypto';
import pg from 'pg';
import { migrate } from '../../scripts/migrate.mjs';

/** A migrated database of a test's own on the server that the run started. */
export interface TestDatabase {
	url: string;
	client: pg.Client;
	drop(): Promise<void>;
}

export async function makeDatabase(): Promise<TestDatabase> {
	const server = process.env.VENTREL_TEST_SERVER;
	if (!server) throw new Error('These tests need a PostgreSQL server: run them with npm test.');
	const name = `ventrel_test_${randomBytes(6).toString('hex')}`;
	await onServer(server, `CREATE DATABASE ${name}`);
	const address = new URL(server);
	address.pathname = `/${name}`;
	const url = address.toString();
	await migrate(url);
	const client = new pg.Client({ connectionString: url });
	await client.connect();
	return {
		url,
		client,
		drop: async () => {
			await client.end();
			await onServer(server, `DROP DATABASE ${name} WITH (FORCE)`);
		},
	};
}

async function onServer(url: string, sql: string): Promise<void> {
	const client = new pg.Client({ connectionString: url });
	await client.connect();
	try {
		await client.query(sql);
	} finally {
		await client.end();
	}
}
