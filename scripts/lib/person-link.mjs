// A link by which a person chooses a password, made by who owns the database.
import { createHash, randomBytes } from 'node:crypto';
import { userInfo } from 'node:os';
import { Stop } from './say.mjs';

/**
 * Invites a person, or makes another link for one, in a transaction that its caller ends.
 * @param {import('pg').Client} client
 * @param {{ what: string, name: string, role: string | null }} wanted what: `add` or `link`
 * @returns {Promise<string>} the key of the link
 */
export async function linkFor(client, { what, name, role }) {
	const { rows: workspaces } = await client.query('SELECT id FROM workspace ORDER BY id LIMIT 1');
	if (!workspaces[0])
		throw new Stop('There is nothing to sign in to yet. Run npm start once, then this again.');
	const workspace = workspaces[0].id;
	await client.query(`SELECT act($1, 'machine', $2, '')`, [
		workspace,
		process.env.VENTREL_USER ?? userInfo().username,
	]);
	const { rows: there } = await client.query(
		`SELECT id FROM actor WHERE workspace_id = $1 AND kind = 'person' AND lower(name) = lower($2) AND ended_at IS NULL`,
		[workspace, name],
	);
	if (what === 'add' && there[0])
		throw new Stop(
			`${name} is there already. npm run person -- link ${JSON.stringify(name)} makes another link.`,
		);
	if (what === 'link' && !there[0]) throw new Stop(`Nobody who may sign in is called ${name}.`);
	let id = there[0]?.id;
	if (!id) {
		const { rows } = await client.query(
			`INSERT INTO actor (workspace_id, kind, name, role, created_by)
			VALUES ($1, 'person', $2, $3, (SELECT actor FROM acting())) RETURNING id`,
			[workspace, name, role],
		);
		id = rows[0].id;
		await client.query('INSERT INTO person_proof (actor_id) VALUES ($1)', [id]);
	}
	const key = randomBytes(32).toString('base64url');
	await client.query('UPDATE person_link SET used_at = now() WHERE actor_id = $1 AND used_at IS NULL', [id]);
	await client.query('INSERT INTO person_link (sha256, actor_id) VALUES ($1, $2)', [
		createHash('sha256').update(key).digest(),
		id,
	]);
	return key;
}
