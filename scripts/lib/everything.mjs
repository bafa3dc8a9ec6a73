// Everything as one archive of CSV and JSON in a file, and the way back in.
import { createWriteStream, existsSync, readFileSync } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { text } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import { crc32 } from 'node:zlib';
import { writeEverythingTo } from '../../db/everything.mjs';
import { connected } from './connected.mjs';
import { ROOT } from './root.mjs';
import { Stop } from './say.mjs';

/**
 * Writes everything to a file, as it is at one moment, while it is worked with.
 * @param {string} ownerUrl
 * @param {string} file
 * @returns {Promise<{ items: number, bytes: number }>}
 */
export async function writeEverything(ownerUrl, file) {
	const target = resolve(file);
	if (existsSync(target)) throw new Stop(`${target} is there already. Name a new file.`);
	const partial = `${target}.partial`;
	const { version } = JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8'));
	try {
		return await connected(ownerUrl, async (client) => {
			await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
			const written = await writeEverythingTo(client, version, createWriteStream(partial));
			await client.query('COMMIT');
			await rename(partial, target);
			return written;
		});
	} catch (error) {
		await rm(partial, { force: true });
		throw error;
	}
}

/**
 * @typedef {object} Archive
 * @property {import('../../db/everything.mjs').Described} described
 * @property {(name: string) => Promise<import('node:stream').Readable>} read
 * @property {() => void} close
 */

/** What an archive says of itself: names go into statements. */
const DescribedSchema = async () => {
	const v = await import('valibot');
	const name = v.pipe(v.string(), v.regex(/^[a-z_][a-z0-9_]*$/));
	return v.object({
		version: v.string(),
		at: v.string(),
		items: v.number(),
		migrations: v.array(v.string()),
		tables: v.record(name, v.array(name)),
	});
};

/**
 * Opens an archive that is whole: all of it is read once, and held against its sums.
 * @param {string} file
 * @returns {Promise<Archive>}
 * @throws Stop where it is not whole, or something else
 */
async function openArchive(file) {
	const [{ openPromise }, { safeParse }] = await Promise.all([import('yauzl'), import('valibot')]);
	const zip = await openPromise(file, { autoClose: false }).catch((error) => {
		throw new Stop(
			`${file} is not whole, or no archive (${error.message}). Nothing was restored; take another one.`,
		);
	});
	/** @type {Map<string, import('yauzl').Entry>} */
	const entries = new Map();
	const read = async (/** @type {string} */ name) => {
		const entry = /** @type {import('yauzl').Entry} */ (entries.get(name));
		return zip.openReadStreamPromise(entry);
	};
	try {
		for await (const entry of zip.eachEntry()) entries.set(entry.fileName, entry);
		for (const [name, entry] of entries) {
			let sum = 0;
			for await (const part of await read(name)) sum = crc32(part, sum);
			if (sum !== entry.crc32) throw new Error(`${name} was changed`);
		}
		const { success, output: described } = safeParse(
			await DescribedSchema(),
			entries.has('description.json') ? JSON.parse(await text(await read('description.json'))) : null,
		);
		const missing = success
			? Object.keys(described.tables).filter((table) => !entries.has(`tables/${table}.csv`))
			: [];
		if (!success || missing.length > 0)
			throw new Stop(
				`${file} is no archive of everything of a Ventrel${missing.length > 0 ? `: ${missing.join(', ')} are missing` : ''}.`,
			);
		return { described, read, close: () => zip.close() };
	} catch (error) {
		zip.close();
		if (error instanceof Stop) throw error;
		throw new Stop(
			`${file} is not whole (${/** @type {Error} */ (error).message}). Nothing was restored; take another one.`,
		);
	}
}

/**
 * Tables without a workspace are what a restore left that was stopped.
 * @param {import('pg').Client} client
 */
async function refuseUsed(client) {
	const { rows: tables } = await client.query(`SELECT to_regclass('workspace') IS NOT NULL AS there`);
	if (!tables[0].there) return;
	const { rows } = await client.query('SELECT FROM workspace LIMIT 1');
	if (rows.length > 0)
		throw new Stop(
			'Everything is brought back into an empty database, and this one is in use. Set VENTREL_DATA to a new folder, or DATABASE_URL to an empty database.',
		);
}

/**
 * Brings everything back into a database that is empty: all of it, or nothing.
 * @param {string} ownerUrl
 * @param {string} file
 * @param {(count?: number) => Promise<unknown>} migrateTo runs as many migrations as are said; all that are left where it is not said
 * @returns {Promise<{ items: number, at: string, version: string }>}
 */
export async function readEverything(ownerUrl, file, migrateTo) {
	const { described, read, close } = await openArchive(file);
	try {
		await connected(ownerUrl, refuseUsed);
		// As it was when it was written; what came since is migrated as any data are.
		await migrateTo(described.migrations.length);
		await connected(ownerUrl, (client) => fill(client, described.tables, read));
		await migrateTo();
		return described;
	} finally {
		close();
	}
}

/**
 * Puts the rows of all tables into a database whose tables are empty, all of them or none.
 * @param {import('pg').Client} client
 * @param {Record<string, string[]>} tables
 * @param {Archive['read']} read
 */
async function fill(client, tables, read) {
	const { from: copyFrom } = await import('pg-copy-streams');
	await client.query('BEGIN');
	// What is there was checked when it came in.
	for (const table of Object.keys(tables)) await client.query(`ALTER TABLE ${table} DISABLE TRIGGER USER`);
	await client.query('ALTER TABLE item ENABLE TRIGGER new_item_queues');
	for (const [table, columns] of Object.entries(tables)) {
		await pipeline(
			await read(`tables/${table}.csv`),
			client.query(copyFrom(`COPY ${table} (${columns.join(', ')}) FROM STDIN (FORMAT csv, HEADER)`)),
		);
		if (columns.includes('id') && table !== 'candidate')
			await client.query(
				`SELECT setval(pg_get_serial_sequence($1, 'id'), greatest(1, (SELECT max(id) FROM ${table})))`,
				[table],
			);
	}
	await client.query(`INSERT INTO person_proof (actor_id) SELECT id FROM actor WHERE kind = 'person'`);
	await client.query(
		`INSERT INTO status_queue (workspace_id, item_id, sum) SELECT workspace_id, id, true FROM item WHERE sum_of IS NOT NULL`,
	);
	// Tokens have no key any more; whoever made them makes others.
	await client.query(
		`UPDATE actor SET ended_at = now(), ended_by = coalesce(created_by, id) WHERE kind = 'token' AND ended_at IS NULL`,
	);
	await client.query('SET CONSTRAINTS ALL IMMEDIATE');
	for (const table of Object.keys(tables)) await client.query(`ALTER TABLE ${table} ENABLE TRIGGER USER`);
	await client.query('COMMIT');
}
