import { randomBytes } from 'node:crypto';
import { onServer } from './database';
import { migrate } from '../../scripts/migrate.mjs';

/** Migrates one database for a whole suite; those of its tests are copies of it, which are made much sooner. */
export default async function makeTemplate(): Promise<(() => Promise<void>) | undefined> {
	const server = process.env.VENTREL_TEST_SERVER;
	// Tests that are run without a server say so themselves.
	if (!server) return undefined;
	const name = `ventrel_template_${randomBytes(6).toString('hex')}`;
	await onServer(server, `CREATE DATABASE ${name}`);
	const address = new URL(server);
	address.pathname = `/${name}`;
	await migrate(address.toString());
	// Its processes are started with it.
	process.env.VENTREL_TEST_TEMPLATE = name;
	return () => onServer(server, `DROP DATABASE ${name} WITH (FORCE)`);
}
