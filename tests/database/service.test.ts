import { afterAll, beforeAll, expect, test } from 'vitest';
import type { HappenedWindow } from '../../src/lib/wire/access';
import type { Kept, Ready } from '../../src/lib/wire/service';
import type { Sweep } from '../../src/lib/wire/sweeps';
import { type App, startApp, startWorker, until, type Worker } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';

/** What an operator sees of it: figures for monitoring, what is kept, and several processes at one database. */

let database: TestDatabase;
let app: App;
let other: App;
let workers: Worker[] = [];

beforeAll(async () => {
	database = await makeDatabase();
	// Two servers and two workers, as on machines of their own.
	app = await startApp(database.url);
	other = await startApp(database.url);
	workers = [await startWorker(database.url), await startWorker(database.url)];
	for (let i = 0; i < 120; i++)
		await app.call('POST', '/items', {
			code: `S-${i}`,
			name: 'Bell',
			text: Array.from({ length: 30 }, (_, t) => 40 + ((t * 7 + i) % 11)).join('\n'),
		});
});
afterAll(async () => {
	for (const each of workers) await each.stop();
	await app?.stop();
	await other?.stop();
	await database?.drop();
});

test('figures for monitoring are in the open text format, and name no item and nobody', async () => {
	await app.call('GET', '/items/S-1');
	await app.call('GET', '/find?words=secret');
	const answer = await fetch(`${app.url}/api/v1/metrics`);
	expect(answer.headers.get('content-type')).toMatch(/^text\/plain; version=0\.0\.4/);
	const text = await answer.text();
	for (const line of text.split('\n').filter(Boolean))
		expect(line).toMatch(
			/^(# (HELP|TYPE) \w+ .+|\w+(\{\w+="[^"]*"(,\w+="[^"]*")*\})? (-?[\d.e+-]+|NaN|[+-]Inf))$/,
		);
	expect(text).toMatch(/^ventrel_items 120$/m);
	expect(text).toMatch(/^ventrel_worker_alive 1$/m);
	expect(text).toMatch(
		/^ventrel_requests_total\{route="\/api\/v1\/items\/\[code\]",method="GET",status="200"\} \d+$/m,
	);
	expect(text).not.toMatch(/S-1|secret|Bell/);
});

test('what is kept has its size, and how long rows of sweeps are kept is set and on record', async () => {
	const { body: kept } = await app.call<Kept>('GET', '/kept');
	expect(kept.sizes.map(({ what }) => what)).toEqual(
		expect.arrayContaining(['figures', 'records', 'raw texts', 'sweeps', 'jobs']),
	);
	expect(kept.sizes.every(({ bytes }) => bytes > 0)).toBe(true);
	const { rows } = await database.client.query<{ bytes: number }>(
		'SELECT sum(octet_length(content))::integer AS bytes FROM raw_piece',
	);
	expect([kept.sweepDays, kept.backup, kept.rawBytes]).toEqual([90, null, rows[0]!.bytes]);
	expect((await app.call<Kept>('PUT', '/kept', { sweepDays: 30 })).body.sweepDays).toBe(30);
	expect((await app.call('PUT', '/kept', { sweepDays: 0 })).status).toBe(422);
	const { body } = await app.call<HappenedWindow>('GET', '/happened?about=access');
	expect(body.events[0]).toMatchObject({ kind: 'end of sweeps set', words: '30 days' });
});

test('a backup that failed, or is late, is told, and serving goes on', async () => {
	const upkeep = (at: string, ok: boolean) =>
		database.client.query(
			`INSERT INTO upkeep (name, at, ok, words) VALUES ('backup', ${at}, ${ok}, 'the disk is full')
			ON CONFLICT (name) DO UPDATE SET at = excluded.at, ok = excluded.ok, words = excluded.words`,
		);
	const ready = async () => (await app.call<Ready>('GET', '/ready')).body;
	await upkeep('now()', false);
	expect(await ready()).toMatchObject({ ready: true, backup: 'the nightly backup failed: the disk is full' });
	expect(await (await fetch(`${app.url}/api/v1/metrics`)).text()).toMatch(/^ventrel_backup_failed 1$/m);
	await upkeep(`now() - interval '3 days'`, true);
	expect((await ready()).backup).toMatch(/no nightly backup since/);
	await upkeep('now()', true);
	expect((await ready()).backup).toBeNull();
});

test('two servers and two workers at one database: what one begins the other shows, and either may be killed', async () => {
	const begin = async () =>
		(await app.call<Sweep>('POST', '/sweeps', { kind: 'propose', items: { asked: {} } })).body.id;
	const of = async (id: number, at = other) =>
		(await at.call<{ sweep: Sweep }>('GET', `/sweeps/${id}`)).body.sweep;
	const id = await begin();
	// Whoever watches at the other server is told as it goes on.
	const stream = await fetch(`${other.url}/api/v1/progress`);
	const reader = stream.body!.getReader();
	let told = '';
	const watched = (async () => {
		for (let part = await reader.read(); !part.done; part = await reader.read()) {
			told += new TextDecoder().decode(part.value);
			if (/"endedAt":"/.test(told)) return;
		}
	})();
	await until(async () => (await of(id)).done > 0, 'the sweep to begin');
	await workers[0]!.stop('SIGKILL');
	await watched;
	const ended = await of(id);
	expect([ended.done, ended.items, ended.setApart]).toEqual([120, 120, []]);
	const { rows } = await database.client.query(
		'SELECT count(*)::integer AS rows FROM sweep_row WHERE sweep_id = $1',
		[id],
	);
	expect(rows[0].rows).toBe(120);
	await reader.cancel();
	// The server that began the next one is killed; the other one goes on with it.
	const next = await begin();
	await app.stop('SIGKILL');
	await until(async () => (await of(next)).endedAt !== null, 'the sweep of a server that is gone');
	expect((await of(next)).done).toBe(120);
	expect((await other.call('POST', '/items', { code: 'S-new', name: 'Horn', text: '4\n5\n6' })).status).toBe(
		201,
	);
});

test('raw texts are kept compressed, and come back byte for byte', async () => {
	const text = Array.from(
		{ length: 1200 },
		(_, t) =>
			`${1900 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')};${200 + ((t * 37) % 41)}`,
	).join('\n');
	expect((await other.call('POST', '/items', { code: 'R-1', name: 'Rim', text })).status).toBe(201);
	expect(await (await fetch(`${other.url}/api/v1/items/R-1/raw`)).text()).toBe(text);
	const { rows } = await database.client.query<{ bytes: number; kept: number }>(
		'SELECT octet_length(content) AS bytes, pg_column_size(content) AS kept FROM raw_piece ORDER BY raw_text_id DESC LIMIT 1',
	);
	expect(rows[0]!.bytes).toBe(text.length);
	expect(rows[0]!.kept).toBeLessThan(0.7 * text.length);
});
