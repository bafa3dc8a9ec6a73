// The role that the application connects as: it owns nothing, is no superuser, and may what the migrations grant it.
import { randomBytes } from 'node:crypto';
import { connected } from './connected.mjs';
import { Stop } from './say.mjs';

const RIGHTS = 'ventrel_application';

/**
 * The address under which the application connects: VENTREL_APPLICATION_URL, else the owner's with a role made for this database.
 * Its password stands in the database, for the owner alone to read, so that two starts at once hand on the same one.
 * @param {string} ownerUrl
 * @returns {Promise<string>}
 */
export async function applicationUrl(ownerUrl) {
	if (process.env.VENTREL_APPLICATION_URL) return process.env.VENTREL_APPLICATION_URL;
	return connected(ownerUrl, async (client) => {
		await client.query(
			`INSERT INTO application_login (name, password)
			VALUES ('ventrel_application_' || (SELECT oid FROM pg_database WHERE datname = current_database()), $1)
			ON CONFLICT DO NOTHING`,
			[randomBytes(24).toString('base64url')],
		);
		// Asked for by itself: another start may have been the one that wrote it.
		const { rows } = await client.query('SELECT name, password FROM application_login');
		const { name, password } = rows[0];
		await makeRole(client, name, password);
		const url = new URL(ownerUrl);
		url.username = name;
		url.password = password;
		return url.toString();
	});
}

/**
 * @param {import('pg').Client} client
 * @param {string} name
 * @param {string} password
 */
async function makeRole(client, name, password) {
	const role = client.escapeIdentifier(name);
	try {
		const { rows } = await client.query(
			`SELECT FROM pg_roles WHERE rolname = $1 AND rolcanlogin AND pg_has_role(oid, $2, 'USAGE')`,
			[name, RIGHTS],
		);
		if (rows.length > 0) return;
		await client.query('BEGIN; SELECT pg_advisory_xact_lock(7214063583)');
		const { rows: there } = await client.query('SELECT FROM pg_roles WHERE rolname = $1', [name]);
		if (there.length === 0) await client.query(`CREATE ROLE ${role}`);
		await client.query(
			`ALTER ROLE ${role} LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE PASSWORD ${client.escapeLiteral(password)}`,
		);
		await client.query(`GRANT ${RIGHTS} TO ${role}`);
		await client.query('COMMIT');
	} catch (error) {
		await client.query('ROLLBACK').catch(() => undefined);
		throw new Stop(
			`The role that the application connects as cannot be made (${/** @type {Error} */ (error).message}). Let the user of DATABASE_URL create roles, or make one yourself, grant it ${RIGHTS}, and set VENTREL_APPLICATION_URL.`,
		);
	}
}
