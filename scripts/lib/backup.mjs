// A whole database in one file, and back. The file is a line of what it is, what PostgreSQL's own tool writes, and a digest of both:
// one that was cut off or changed is told before anything is touched.
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
	createReadStream,
	createWriteStream,
	existsSync,
	openSync,
	readdirSync,
	readSync,
	closeSync,
	statSync,
} from 'node:fs';
import { open, rename, rm } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { connected } from './connected.mjs';
import { postgresPrograms } from './packages.mjs';
import { ROOT } from './root.mjs';
import { Stop } from './say.mjs';

const MARK = 'ventrel backup 1';
/** Bytes of what the file ends with: a line break, the digest, a line break. */
const END = 1 + 64 + 1;
/** Most bytes of the line of what it is. */
const HEAD = 65_536;

/** @typedef {{ version: string, migrations: string[], at: string, items: number }} Described */

/** @param {string} name of one of PostgreSQL's programs */
const tool = (name) => {
	const folder = postgresPrograms();
	if (!folder) throw new Stop('PostgreSQL’s own tools are missing: install the package postgresql.');
	return join(folder, name);
};

/**
 * How one of PostgreSQL's programs is told where the database is; its password is in no list of processes.
 * @param {string} url
 */
function connection(url) {
	const { hostname, port, username, password, pathname } = new URL(url);
	return {
		args: [
			'-h',
			hostname,
			'-p',
			port || '5432',
			'-U',
			decodeURIComponent(username),
			'-d',
			decodeURIComponent(pathname.slice(1)),
		],
		env: { ...process.env, PGPASSWORD: decodeURIComponent(password) },
	};
}

/** @param {string} ownerUrl @returns {Promise<Described>} */
const describe = (ownerUrl) =>
	connected(ownerUrl, async (client) => {
		const { rows } = await client.query('SELECT name FROM migration ORDER BY id');
		const { rows: counted } = await client.query('SELECT count(*)::integer AS items FROM item');
		const { version } = (await import(join(ROOT, 'package.json'), { with: { type: 'json' } })).default;
		return {
			version,
			migrations: rows.map(({ name }) => name),
			at: new Date().toISOString(),
			items: counted[0].items,
		};
	});

/**
 * Writes all of a database to a file, as it is at one moment, while it is worked with. Until it is whole it has another name.
 * @param {string} ownerUrl
 * @param {string} file
 * @returns {Promise<{ bytes: number, items: number }>}
 */
export async function writeBackup(ownerUrl, file) {
	const target = resolve(file);
	if (existsSync(target)) throw new Stop(`${target} is there already. Name a new file.`);
	if (!existsSync(dirname(target))) throw new Stop(`There is no folder ${dirname(target)}.`);
	const described = await describe(ownerUrl);
	const partial = `${target}.partial`;
	const { args, env } = connection(ownerUrl);
	// The password of the application's role is of this database alone: where it is restored another one is made.
	const dump = spawn(
		tool('pg_dump'),
		[...args, '--format=custom', '--no-owner', '--exclude-table-data=application_login'],
		{
			env,
			stdio: ['ignore', 'pipe', 'pipe'],
		},
	);
	let said = '';
	dump.stderr.on('data', (text) => (said += text));
	const ended = new Promise((done) => dump.once('close', done));
	const digest = createHash('sha256');
	const head = Buffer.from(`${MARK}\n${JSON.stringify(described)}\n`);
	digest.update(head);
	let bytes = head.length;
	try {
		const out = createWriteStream(partial);
		out.write(head);
		await pipeline(
			dump.stdout,
			new Transform({
				transform(part, _, done) {
					digest.update(part);
					bytes += part.length;
					done(null, part);
				},
				async flush(done) {
					const code = await ended;
					if (code !== 0) return done(new Stop(`pg_dump ended with ${code}:\n${said.slice(-2000)}`));
					const end = `\n${digest.digest('hex')}\n`;
					bytes += end.length;
					done(null, Buffer.from(end));
				},
			}),
			out,
		);
		// On the disk before it has its name.
		const written = await open(partial, 'r+');
		await written.sync();
		await written.close();
		await rename(partial, target);
	} catch (error) {
		dump.kill('SIGKILL');
		await rm(partial, { force: true });
		const { code, message } = /** @type {NodeJS.ErrnoException} */ (error);
		if (code === 'ENOSPC')
			throw new Stop(`The disk is full: ${target} was not written, and nothing of it is left.`);
		if (code === 'EACCES') throw new Stop(`${target} cannot be written (${message}).`);
		throw error;
	}
	return { bytes, items: described.items };
}

/**
 * What a file is, once all of it was looked at.
 * @param {string} file
 * @returns {Promise<{ described: Described, from: number, to: number }>} from, to: where what PostgreSQL wrote begins and ends
 */
export async function readBackup(file) {
	if (!existsSync(file)) throw new Stop(`There is no file ${file}.`);
	const { size } = statSync(file);
	const head = Buffer.alloc(Math.min(HEAD, size));
	const opened = openSync(file, 'r');
	readSync(opened, head, 0, head.length, 0);
	const end = Buffer.alloc(Math.min(END, size));
	readSync(opened, end, 0, end.length, Math.max(0, size - END));
	closeSync(opened);
	const first = head.indexOf(10);
	const second = head.indexOf(10, first + 1);
	if (first < 0 || head.subarray(0, first).toString() !== MARK || second < 0)
		throw new Stop(`${file} is no backup of Ventrel. npm run backup writes one.`);
	const digest = createHash('sha256');
	if (size > END)
		for await (const part of createReadStream(file, { end: size - END - 1 })) digest.update(part);
	if (end.toString() !== `\n${digest.digest('hex')}\n`)
		throw new Stop(
			`${file} is not whole: it was cut off, or changed since it was written. Nothing was restored; take another one.`,
		);
	return {
		described: JSON.parse(head.subarray(first + 1, second).toString()),
		from: second + 1,
		to: size - END - 1,
	};
}

/**
 * Puts a backup into a database that is empty: all of it, or nothing. Migrations that are newer than it are run afterwards by whoever
 * asks.
 * @param {string} ownerUrl
 * @param {string} file
 * @returns {Promise<Described>}
 */
export async function restoreBackup(ownerUrl, file) {
	const { described, from, to } = await readBackup(file);
	const known = readdirSync(join(ROOT, 'db', 'migrations')).map((name) => name.replace(/\.sql$/, ''));
	const unknown = described.migrations.filter((name) => !known.includes(name));
	if (unknown.length > 0)
		throw new Stop(
			`${file} is of a newer version (${described.version}): ${unknown.join(', ')} are not known here. Restore it with that version or a later one.`,
		);
	await connected(ownerUrl, refuseFull);
	const { args, env } = connection(ownerUrl);
	const restore = spawn(
		tool('pg_restore'),
		[...args, '--no-owner', '--single-transaction', '--exit-on-error'],
		{ env, stdio: ['pipe', 'ignore', 'pipe'] },
	);
	let said = '';
	restore.stderr.on('data', (text) => (said += text));
	const ended = new Promise((done) => restore.once('close', done));
	// What it says when it stops reading is better than that it did.
	await pipeline(createReadStream(file, { start: from, end: to }), restore.stdin).catch(() => undefined);
	const code = await ended;
	if (code !== 0)
		throw new Stop(`pg_restore ended with ${code}, and nothing was restored:\n${said.slice(-2000)}`);
	return described;
}

/** @param {import('pg').Client} client */
async function refuseFull(client) {
	const { rows } = await client.query(
		`SELECT count(*)::integer AS tables FROM pg_tables WHERE schemaname NOT IN ('pg_catalog', 'information_schema')`,
	);
	if (rows[0].tables > 0)
		throw new Stop(
			'A backup is restored into an empty database, and this one has tables. Set VENTREL_DATA to a new folder, or DATABASE_URL to an empty database.',
		);
	// What is granted to it comes with the backup.
	await client.query(`DO $$ BEGIN
		IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'ventrel_application') THEN CREATE ROLE ventrel_application NOLOGIN; END IF;
	EXCEPTION WHEN duplicate_object OR unique_violation THEN NULL;
	END $$`);
}
