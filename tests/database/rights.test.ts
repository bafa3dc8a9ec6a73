import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Item } from '../../src/lib/wire/items';
import type { Sweep } from '../../src/lib/wire/sweeps';
import { adoptionOf } from '../support/adopting';
import { type App, startWorker, until, type Worker } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { makePerson, type Signed, startForPeople } from '../support/people';

/** Connected as the application is: what is on record of who, when and what was decided is not rewritten, whoever writes the program. */

let database: TestDatabase;
let app: App;
let worker: Worker;
let anna: Signed;
let ben: Signed;
let client: pg.Client;

const keyOf = (who: Signed) => who.headers.cookie!.split('=')[1]!;
const one = async (sql: string, values: unknown[] = []) =>
	(await database.client.query<Record<string, never>>(sql, values)).rows[0]!;
const idOf = async (name: string) => Number((await one('SELECT id FROM actor WHERE name = $1', [name])).id);

beforeAll(async () => {
	database = await makeDatabase();
	app = await startForPeople(database);
	worker = await startWorker(database.url);
	anna = await makePerson(database, app, 'Anna', 'manage');
	ben = await makePerson(database, app, 'Ben', 'work');
	for (const code of ['D-1', 'D-2'])
		await anna.call('POST', '/items', {
			code,
			name: 'Bell',
			text: Array.from({ length: 24 }, (_, i) => 40 + (i % 5)).join('\n'),
		});
	const item = async () => (await anna.call<Item>('GET', '/items/D-1')).body;
	await anna.call('POST', '/items/D-1/layers', { seen: 0, entries: [{ kind: 'per-day', setting: null }] });
	await anna.call('PUT', '/items/D-1/line-up', { version: 0, candidates: [{ id: 'a', method: 'naive' }] });
	const adopted = await anna.call(
		'POST',
		'/items/D-1/adopted',
		adoptionOf(await item(), { id: 'a', method: 'naive' }),
	);
	expect(adopted.status).toBe(201);
	await anna.call('POST', '/items/D-1/hidden', { hidden: true, words: 'wait', seen: (await item()).seen });
	await anna.call('PATCH', '/items/D-1', {
		name: 'Horn',
		seen: { code: 'D-1', name: 'Bell', unit: '', retired: false },
	});
	await anna.call('PUT', '/views', { name: 'Bells', asked: { words: 'bell' } });
	await anna.call('PUT', '/watching', { alarmChance: 0.2 });
	const { body: sweep } = await anna.call<Sweep>('POST', '/sweeps', {
		kind: 'propose',
		items: { codes: ['D-1', 'D-2'] },
	});
	const ended = async (id: number) =>
		(await anna.call<{ sweep: Sweep }>('GET', `/sweeps/${id}`)).body.sweep.endedAt !== null;
	await until(() => ended(sweep.id), 'the sweep');
	const { body: adopting } = await anna.call<Sweep>('POST', '/sweeps', {
		kind: 'adopt',
		of: sweep.id,
		items: { rule: 'all' },
		reason: 'as proposed',
	});
	await until(() => ended(adopting.id), 'adopting');
	client = new pg.Client({ connectionString: database.url });
	await client.connect();
});
afterAll(async () => {
	await client?.end();
	await worker?.stop();
	await app?.stop();
	await database?.drop();
});

/** Runs statements as the application in one transaction, in somebody's name, and takes them back. */
async function as(who: Signed | null, ...statements: [string, unknown[]?][]): Promise<void> {
	await client.query('BEGIN');
	try {
		if (who) await client.query(`SELECT act(1, 'key', $1, '')`, [keyOf(who)]);
		for (const [sql, values] of statements) await client.query(sql, values);
		await client.query('SET CONSTRAINTS ALL IMMEDIATE');
	} finally {
		await client.query('ROLLBACK');
	}
}

const REFUSED = /permission denied|refused|on record|nobody acts|nobody has said/;

/** Columns of who, when and what was decided, by table. */
async function columnsOnRecord(): Promise<{ table: string; column: string }[]> {
	const { rows } = await database.client.query<{ table: string; column: string }>(
		`SELECT table_name AS "table", column_name AS "column" FROM information_schema.columns JOIN information_schema.tables USING (table_schema, table_name)
		WHERE table_schema = 'public' AND table_type = 'BASE TABLE'
			AND column_name ~ '(^|_)(by|at|id|reason|words|kind|setting|settings|role|name|request|constants|ready|sha256|password|about|asked)$'
		ORDER BY 1, 2`,
	);
	return rows;
}

/** Those that the application changes, with why. */
const WORKED_WITH = new Set([
	// Working state and what is derived from records.
	...['candidate', 'item_status', 'newest_period', 'status_queue', 'worker_process', 'sign_in_failure'],
	// What an item is called now; what it was called is on record.
	...['item.name', 'item.retired_at'],
	// How far work is.
	...[
		'sweep.ended_at',
		'sweep.stopped_at',
		'sweep.stopped_by',
		'sweep_batch.ended_at',
		'sweep_row.record_id',
	],
	// When something was used, and by whom something is ended: each looked at by a trigger, below.
	...[
		'session.used_at',
		'session.proved_at',
		'session.ended_at',
		'token_proof.used_at',
		'person_link.used_at',
	],
	...['actor.role', 'actor.ended_at', 'actor.ended_by', 'person_proof.password'],
]);

test('no column of who, when and what was decided is rewritten in any table', async () => {
	const columns = await columnsOnRecord();
	expect(columns.length).toBeGreaterThan(60);
	const tried = columns.filter(
		({ table, column }) => !WORKED_WITH.has(table) && !WORKED_WITH.has(`${table}.${column}`),
	);
	for (const { table, column } of tried) {
		await expect(
			as(anna, [`UPDATE ${table} SET ${column} = ${column}`]),
			`UPDATE ${table} SET ${column}`,
		).rejects.toThrow(/permission denied|can only be updated to DEFAULT/);
	}
	for (const table of new Set(columns.map(({ table }) => table))) {
		if (
			[
				'candidate',
				'item_status',
				'newest_period',
				'status_queue',
				'worker_process',
				'sign_in_failure',
				'kept_view',
				'request_once',
			].includes(table)
		)
			continue;
		await expect(as(anna, [`DELETE FROM ${table}`]), `DELETE FROM ${table}`).rejects.toThrow(
			/permission denied/,
		);
		await expect(as(anna, [`TRUNCATE ${table} CASCADE`]), `TRUNCATE ${table}`).rejects.toThrow(
			/permission denied/,
		);
	}
});

/** An insert into each table that says by whom, with other values for who and when. */
const BY_WHOM: Readonly<Record<string, (by: string, at: string) => string>> = {
	item: (by, at) =>
		`INSERT INTO item (workspace_id, code, name, frequency, season_length, created_by, created_at) VALUES (1, 'F-1', 'x', 'month', 12, ${by}, ${at})`,
	raw_text: (by, at) =>
		`INSERT INTO raw_text (workspace_id, sha256, created_by, created_at) VALUES (1, sha256('a'), ${by}, ${at})`,
	data_change: (by, at) =>
		`INSERT INTO data_change (workspace_id, reading, created_by, created_at) VALUES (1, '{}', ${by}, ${at})`,
	layer_entry: (by, at) =>
		`INSERT INTO layer_entry (workspace_id, item_id, kind, setting, created_by, created_at) VALUES (1, 1, 'per-day', 'true', ${by}, ${at})`,
	hide_entry: (by, at) =>
		`INSERT INTO hide_entry (workspace_id, item_id, period, created_by, created_at) VALUES (1, 1, 5, ${by}, ${at})`,
	kept_view: (by, at) =>
		`INSERT INTO kept_view (workspace_id, name, asked, created_by, created_at) VALUES (1, 'forged', '{}', ${by}, ${at})`,
	sweep: (by, at) =>
		`INSERT INTO sweep (workspace_id, kind, items, created_by, created_at) VALUES (1, 'propose', 1, ${by}, ${at})`,
	adopted_forecast: (by, at) =>
		`WITH made AS (
			INSERT INTO adopted_forecast (workspace_id, item_id, data_change_id, series_sha256, request, method, label, constants, measures, origin,
				program_version, step_count, adopted_by, adopted_at)
			SELECT workspace_id, item_id, data_change_id, series_sha256, request, method, label, constants, measures, origin,
				program_version, 1, ${by}, ${at} FROM adopted_forecast ORDER BY id LIMIT 1 RETURNING workspace_id, id, origin
		)
		INSERT INTO adopted_step (workspace_id, adopted_forecast_id, step, period, mean, final, ranges)
		SELECT workspace_id, id, 1, origin + 1, 5, 5, '{}' FROM made`,
};

test('every table that says by whom says it of whom acts, and now', async () => {
	const { rows } = await database.client.query<{ table: string }>(
		`SELECT DISTINCT table_name AS "table" FROM information_schema.columns
		WHERE table_schema = 'public' AND column_name IN ('created_by', 'adopted_by') AND table_name NOT IN ('actor', 'item_change') ORDER BY 1`,
	);
	expect(rows.map(({ table }) => table)).toEqual(Object.keys(BY_WHOM).sort());
	const annas = String(await idOf('Anna'));
	const bens = String(await idOf('Ben'));
	for (const [table, insert] of Object.entries(BY_WHOM)) {
		await as(ben, [insert(bens, 'now()')]);
		for (const sql of [
			insert(annas, 'now()'),
			insert(bens, `now() - interval '1 day'`),
			insert(bens, `now() + interval '1 day'`),
		])
			await expect(as(ben, [sql]), sql).rejects.toThrow(REFUSED);
		await expect(as(null, [insert(bens, 'now()')]), table).rejects.toThrow(/nobody has said who acts/);
	}
});

describe('who acts', () => {
	const INSERT: [string] = [`INSERT INTO hide_entry (workspace_id, item_id, period) VALUES (1, 1, 5)`];

	test.each([
		['this machine, where people sign in', `SELECT act(1, 'machine', 'root', '')`],
		['the demo, where others did something', `SELECT act(1, 'demo', '', '')`],
		['a key that was made up', `SELECT act(1, 'key', '${'a'.repeat(43)}', '')`],
		['a batch of a sweep that has ended', `SELECT act(1, 'batch', '2:0', '')`],
		['a way that there is not', `SELECT act(1, 'owner', '', '')`],
	])('is nobody by %s', async (_, sql) => {
		await expect(as(null, [sql])).rejects.toThrow(/nobody acts/);
	});

	test('is not said by a setting, nor in a later transaction by what one before it was sealed with', async () => {
		const annas = String(await idOf('Anna'));
		await expect(as(ben, [`SELECT set_config('ventrel.actor', $1, true)`, [annas]], INSERT)).rejects.toThrow(
			/nobody has said/,
		);
		await expect(
			as(
				null,
				[
					`SELECT set_config('ventrel.actor', $1, true), set_config('ventrel.acting', 'key||' || repeat('0', 64), true)`,
					[annas],
				],
				INSERT,
			),
		).rejects.toThrow(/nobody has said/);
		await client.query('BEGIN');
		await client.query(`SELECT act(1, 'key', $1, '')`, [keyOf(anna)]);
		const { rows } = await client.query(`SELECT current_setting('ventrel.acting') AS sealed`);
		await client.query('ROLLBACK');
		await expect(
			as(
				null,
				[
					`SELECT set_config('ventrel.actor', $1, true), set_config('ventrel.acting', $2, true)`,
					[annas, rows[0].sealed],
				],
				INSERT,
			),
		).rejects.toThrow(/nobody has said/);
		await expect(as(null, [`SELECT seal('1', 'key', '')`])).rejects.toThrow(/permission denied/);
		await expect(as(null, ['SELECT secret FROM access'])).rejects.toThrow(/permission denied/);
	});

	test('brings nothing into what somebody brought before', async () => {
		const change = (await one('SELECT min(id) AS id FROM data_change')).id;
		const text = (await one('SELECT min(id) AS id FROM raw_text')).id;
		await expect(
			as(ben, [
				`INSERT INTO actual (workspace_id, item_id, period, revision, value, data_change_id) VALUES (1, 1, 999, 1, 5, $1)`,
				[change],
			]),
		).rejects.toThrow(/came in before/);
		await expect(
			as(ben, [
				`INSERT INTO raw_piece (workspace_id, raw_text_id, position, content) VALUES (1, $1, 9, 'x')`,
				[text],
			]),
		).rejects.toThrow(/came in before/);
	});

	test('adds up nothing but group totals', async () => {
		await expect(
			as(
				null,
				[`SELECT act(1, 'sum', '', '')`],
				[`INSERT INTO data_change (workspace_id, reading) VALUES (1, '{}')`],
				[
					`INSERT INTO actual (workspace_id, item_id, period, revision, value, data_change_id) SELECT 1, 1, 999, 1, 5, max(id) FROM data_change`,
				],
			),
		).rejects.toThrow(/only group totals/);
		await expect(as(null, [`SELECT act(1, 'sum', '', '')`], INSERT)).rejects.toThrow(/none of what sum does/);
	});
});

describe('a sweep', () => {
	test.each([
		`UPDATE sweep SET items = 99`,
		`UPDATE sweep SET stopped_at = now(), stopped_by = created_by`,
		`UPDATE sweep SET ended_at = NULL`,
		`UPDATE sweep SET ended_at = now()`,
	])('that has ended stays as it was: %s', async (sql) => {
		await expect(as(anna, [sql])).rejects.toThrow(/stays on record/);
	});

	test('is stopped by whom acts, once, and now', async () => {
		const { body } = await anna.call<Sweep>('POST', '/sweeps', {
			kind: 'propose',
			items: { codes: ['D-2'] },
		});
		// Its worker may have ended it meanwhile; either way nobody else stops it.
		const annas = await idOf('Anna');
		for (const set of [
			`stopped_at = now(), stopped_by = ${annas}, ended_at = now()`,
			`stopped_at = now() - interval '1 day', stopped_by = ${await idOf('Ben')}, ended_at = now()`,
		])
			await expect(as(ben, [`UPDATE sweep SET ${set} WHERE id = ${body.id}`])).rejects.toThrow(
				/stays on record/,
			);
	});

	test('keeps which record was made of a row', async () => {
		await expect(
			as(anna, ['UPDATE sweep_row SET record_id = NULL WHERE record_id IS NOT NULL']),
		).rejects.toThrow(/stays on record/);
		expect(
			Number((await one('SELECT count(*) AS id FROM adopted_forecast WHERE sweep_id IS NOT NULL')).id),
		).toBeGreaterThan(0);
	});
});

describe('access', () => {
	test.each([
		[
			`INSERT INTO access_event (workspace_id, kind, done_by, words) VALUES (1, 'signed in', (SELECT actor FROM acting()), '')`,
		],
		[
			`INSERT INTO access_event (workspace_id, kind, done_by, words) SELECT 1, 'refused', id, '' FROM actor WHERE name = 'Anna'`,
		],
		[
			`INSERT INTO access_event (workspace_id, kind, done_by, words) SELECT 1, 'sign-in failed', id, '' FROM actor WHERE name = 'Anna'`,
		],
		[`UPDATE actor SET role = 'manage', ended_at = now(), ended_by = created_by WHERE name = 'Ben'`],
		[`UPDATE session SET proved_at = now() + interval '1 day'`],
		[`UPDATE session SET ended_at = now() - interval '1 day'`],
		[`INSERT INTO session (actor_id, sha256) SELECT id, sha256('x') FROM actor WHERE kind = 'machine'`],
		[`UPDATE person_link SET used_at = now()`],
		[
			`INSERT INTO actor (workspace_id, kind, name, role, created_by) SELECT 1, 'person', 'Eve', 'manage', id FROM actor WHERE name = 'Anna'`,
		],
		[`UPDATE access SET sign_in = false`],
	])('is not forged: %s', async (sql) => {
		await expect(as(ben, [sql])).rejects.toThrow(/permission denied|refused/);
	});

	test('is given and taken in the name of whom acts, and is on record', async () => {
		await expect(as(null, [`UPDATE actor SET role = 'manage' WHERE name = 'Ben'`])).rejects.toThrow(
			/nobody has said/,
		);
		await as(anna, [`UPDATE actor SET role = 'look' WHERE name = 'Ben'`]);
		const before = Number((await one('SELECT count(*) AS id FROM access_event')).id);
		await client.query('BEGIN');
		await client.query(`SELECT act(1, 'key', $1, '')`, [keyOf(anna)]);
		await client.query(`UPDATE actor SET role = 'look' WHERE name = 'Ben'`);
		const { rows } = await client.query(
			`SELECT kind, actor_name(done_by) AS by, words FROM access_event ORDER BY id DESC LIMIT 2`,
		);
		await client.query('ROLLBACK');
		expect(rows).toContainEqual({ kind: 'role changed', by: 'Anna', words: 'work → look' });
		expect(Number((await one('SELECT count(*) AS id FROM access_event')).id)).toBe(before);
	});
});
