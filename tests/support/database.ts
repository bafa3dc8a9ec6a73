import { randomBytes } from 'node:crypto';
import pg from 'pg';
import { applicationUrl } from '../../scripts/lib/application-role.mjs';
import { migrate } from '../../scripts/migrate.mjs';

/** A migrated database of a test's own on the server that the run started. */
export interface TestDatabase {
	/** As the application connects: with the rights that it has. */
	url: string;
	/** As the owner connects, who may everything. */
	ownerUrl: string;
	client: pg.Client;
	drop(): Promise<void>;
}

/**
 * @param asAtFirst puts something in while it is as its first migrations left it
 * @param first how many of them
 */
export async function makeDatabase(
	asAtFirst?: (client: pg.Client) => Promise<void>,
	first = 1,
): Promise<TestDatabase> {
	const server = process.env.VENTREL_TEST_SERVER;
	if (!server) throw new Error('These tests need a PostgreSQL server: run them with npm test.');
	const name = `ventrel_test_${randomBytes(6).toString('hex')}`;
	const template = asAtFirst ? undefined : process.env.VENTREL_TEST_TEMPLATE;
	await onServer(server, `CREATE DATABASE ${name}${template ? ` TEMPLATE ${template}` : ''}`);
	const address = new URL(server);
	address.pathname = `/${name}`;
	const ownerUrl = address.toString();
	const client = new pg.Client({ connectionString: ownerUrl });
	await client.connect();
	if (asAtFirst) {
		await migrate(ownerUrl, first);
		await asAtFirst(client);
	}
	if (!template) await migrate(ownerUrl);
	const url = await applicationUrl(ownerUrl);
	return {
		url,
		ownerUrl,
		client,
		drop: async () => {
			await client.end();
			await onServer(server, `DROP DATABASE ${name} WITH (FORCE)`);
			await onServer(server, `DROP ROLE ${pg.escapeIdentifier(new URL(url).username)}`);
		},
	};
}

/** Has rows that the owner writes itself be by a tester. @returns who that is */
export async function asTester(client: pg.Client, workspaceId: number): Promise<number> {
	await client.query(
		`INSERT INTO actor (workspace_id, kind, name) VALUES ($1, 'machine', 'tester') ON CONFLICT DO NOTHING`,
		[workspaceId],
	);
	const { rows } = await client.query<{ id: string }>(
		`SELECT id FROM actor WHERE workspace_id = $1 AND kind = 'machine' AND name = 'tester'`,
		[workspaceId],
	);
	const id = Number(rows[0]!.id);
	await client.query(`SELECT set_config('ventrel.actor', $1, false)`, [String(id)]);
	return id;
}

/** Something done to the server as a whole, by its owner. */
export async function onServer(url: string, sql: string): Promise<void> {
	const client = new pg.Client({ connectionString: url });
	await client.connect();
	try {
		await client.query(sql);
	} finally {
		await client.end();
	}
}
