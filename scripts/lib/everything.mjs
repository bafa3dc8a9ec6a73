// Everything as one archive of CSV and JSON that any program reads, and the way back in. Passwords, keys and what is derived stay out.
import { createWriteStream, existsSync, readFileSync } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { from as copyFrom, to as copyTo } from 'pg-copy-streams';
import { connected } from './connected.mjs';
import { ROOT } from './root.mjs';
import { Stop } from './say.mjs';

/** Tables in the order that they rest on each other, with what each has. @type {Readonly<Record<string, string>>} */
const TABLES = {
	workspace: 'the workspace and what is set in it',
	actor: 'who did something: people, tokens, this machine, the demo; without passwords and keys',
	access_event: 'sign-ins, changes of access, refusals',
	item: 'items: code, name, unit, frequency, season, plan, labels; who made them; when they were retired',
	item_change: 'what items were called, planned with and labelled before, by whom and why',
	raw_text: 'tables as they were brought in: name and digest',
	raw_piece: 'their bytes, in pieces of a megabyte, as hexadecimal digits',
	data_change: 'what came in together: by whom, from which text, read with which choices',
	actual: 'figures by item, period (an ordinal), and revision; the highest revision holds',
	layer_entry: 'the log of adjustments: corrections, gap rules, what is left out',
	candidate: 'line-ups',
	sweep: 'what was done to many items',
	adopted_forecast: 'adopted forecasts: what each saw, asked for and found',
	adopted_step: 'their figures, computed and final, with ranges and reasons',
	hide_entry: 'what was hidden until its next actual',
	sweep_batch: 'parts of sweeps',
	sweep_row: 'what came of each item of a sweep',
	kept_view: 'saved views of the list',
};

/** What is there to read without our program, by its file. @type {Readonly<Record<string, { has: string, sql: string }>>} */
const FIGURES = {
	'figures.csv': {
		has: 'the figures that hold: item, period as an ordinal and as its first day where the calendar has one, figure',
		sql: `SELECT code, name, unit, frequency, period, value FROM item CROSS JOIN LATERAL latest_actual(item.workspace_id, item.id) ORDER BY code, period`,
	},
	'forecasts.csv': {
		has: 'the forecast in force of each item: item, method, period, computed and final figure, by whom, when, why',
		sql: `SELECT code, name, unit, frequency, newest.label AS method, step.period, mean AS computed, final, change_reason, actor_name(newest.adopted_by) AS by, newest.adopted_at AS at, newest.reason
			FROM item CROSS JOIN LATERAL newest_record(item.workspace_id, item.id) newest
			JOIN adopted_step step ON step.workspace_id = newest.workspace_id AND step.adopted_forecast_id = newest.id ORDER BY code, step.period`,
	},
};

/** @param {string} text */
const bytesOf = (text) => new TextEncoder().encode(text);

/** @param {{ version: string, at: string, items: number }} described */
const readme = ({ version, at, items }) =>
	[
		'# Everything of a Ventrel',
		'',
		`${items} items with all that was done, as of ${at}, of version ${version}.`,
		'',
		'To read it elsewhere: CSV with a head, comma, UTF-8, and JSON within cells.',
		'',
		...Object.entries(FIGURES).map(([file, { has }]) => `- \`${file}\`: ${has}`),
		'- `tables/`: everything, table by table, so that nothing is lost:',
		...Object.entries(TABLES).map(([table, has]) => `  - \`${table}.csv\`: ${has}`),
		'',
		'Periods are ordinals: years, half-years, quarters and months count from year 0 (month 24322 is Nov 2026), weeks, days and hours by the calendar in `description.json`, steps as they are.',
		'',
		'To bring it back: `npm run restore FILE.zip` into an empty database. People are there by name; each needs a new link (`npm run person -- link NAME`), since passwords and keys are not in here.',
		'',
	].join('\n');

/**
 * Columns of a table that are kept: all but those that the database makes of others.
 * @param {import('pg').Client} client
 * @param {string} table
 * @returns {Promise<string[]>}
 */
async function columnsOf(client, table) {
	const { rows } = await client.query(
		`SELECT column_name AS name FROM information_schema.columns
		WHERE table_schema = 'public' AND table_name = $1 AND is_generated = 'NEVER' ORDER BY ordinal_position`,
		[table],
	);
	return rows.map(({ name }) => name);
}

/**
 * Writes everything to a file, as it is at one moment, while it is worked with.
 * @param {string} ownerUrl
 * @param {string} file
 * @returns {Promise<{ items: number, bytes: number }>}
 */
export async function writeEverything(ownerUrl, file) {
	const target = resolve(file);
	if (existsSync(target)) throw new Stop(`${target} is there already. Name a new file.`);
	const { Zip, ZipDeflate } = await import('fflate');
	const partial = `${target}.partial`;
	let bytes = 0;
	try {
		return await connected(ownerUrl, async (client) => {
			await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
			const out = createWriteStream(partial);
			/** @type {Error | null} */
			let failed = null;
			out.on('error', (error) => (failed = error));
			const zip = new Zip((error, part, last) => {
				if (error) failed = error;
				bytes += part.length;
				out.write(part);
				if (last) out.end();
			});
			/** @param {string} name @param {AsyncIterable<Uint8Array>} content */
			const add = async (name, content) => {
				const entry = new ZipDeflate(name, { level: 6 });
				zip.add(entry);
				for await (const part of content) {
					entry.push(part);
					if (failed) throw failed;
					if (out.writableNeedDrain) await new Promise((done) => out.once('drain', () => done(undefined)));
				}
				entry.push(new Uint8Array(0), true);
			};
			const { rows: done } = await client.query('SELECT name FROM migration ORDER BY id');
			const { rows: counted } = await client.query('SELECT count(*)::integer AS items FROM item');
			const { version } = JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8'));
			const tables = Object.fromEntries(
				await Promise.all(Object.keys(TABLES).map(async (table) => [table, await columnsOf(client, table)])),
			);
			const described = {
				version,
				at: new Date().toISOString(),
				items: counted[0].items,
				migrations: done.map(({ name }) => name),
				tables,
			};
			await add('description.json', Readable.from([bytesOf(JSON.stringify(described, null, '\t'))]));
			await add('README.md', Readable.from([bytesOf(readme(described))]));
			const copy = (/** @type {string} */ sql) =>
				client.query(copyTo(`COPY (${sql}) TO STDOUT (FORMAT csv, HEADER)`));
			for (const [name, { sql }] of Object.entries(FIGURES)) await add(name, copy(sql));
			for (const [table, columns] of Object.entries(tables))
				await add(`tables/${table}.csv`, copy(`SELECT ${columns.join(', ')} FROM ${table} ORDER BY 1, 2`));
			const closed = new Promise((done) => out.once('close', () => done(undefined)));
			zip.end();
			await closed;
			if (failed) throw failed;
			await client.query('COMMIT');
			await rename(partial, target);
			return { items: described.items, bytes };
		});
	} catch (error) {
		await rm(partial, { force: true });
		throw error;
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
	const { unzipSync, strFromU8 } = await import('fflate');
	/** @type {Record<string, Uint8Array>} */
	let entries;
	try {
		entries = unzipSync(readFileSync(file));
	} catch {
		throw new Stop(`${file} is not whole, or no archive. Nothing was restored; take another one.`);
	}
	const described = entries['description.json'] && JSON.parse(strFromU8(entries['description.json']));
	const missing =
		described && Object.keys(described.tables).filter((table) => !entries[`tables/${table}.csv`]);
	if (!described || missing.length > 0)
		throw new Stop(
			`${file} is no archive of everything of a Ventrel${missing?.length ? `: ${missing.join(', ')} are missing` : ''}.`,
		);
	await connected(ownerUrl, refuseUsed);
	// As it was when it was written; what came since is migrated as any data are.
	await migrateTo(described.migrations.length);
	await connected(ownerUrl, async (client) => {
		await client.query('BEGIN');
		// What is there was checked when it came in.
		for (const table of Object.keys(described.tables))
			await client.query(`ALTER TABLE ${table} DISABLE TRIGGER USER`);
		await client.query('ALTER TABLE item ENABLE TRIGGER new_item_queues');
		for (const [table, columns] of Object.entries(described.tables)) {
			const rows = client.query(
				copyFrom(`COPY ${table} (${columns.join(', ')}) FROM STDIN (FORMAT csv, HEADER)`),
			);
			await pipeline(
				Readable.from([Buffer.from(/** @type {Uint8Array} */ (entries[`tables/${table}.csv`]))]),
				rows,
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
		for (const table of Object.keys(described.tables))
			await client.query(`ALTER TABLE ${table} ENABLE TRIGGER USER`);
		await client.query('COMMIT');
	});
	await migrateTo();
	return described;
}
