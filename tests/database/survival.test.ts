import { once } from 'node:events';
import { mkdtempSync, rmSync, chmodSync } from 'node:fs';
import { type AddressInfo, connect, createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { expect, test } from 'vitest';
import { startCluster, stopCluster } from '../../scripts/lib/cluster.mjs';
import { applicationUrl } from '../../scripts/lib/application-role.mjs';
import { postgresPrograms } from '../../scripts/lib/packages.mjs';
import { migrate } from '../../scripts/migrate.mjs';
import type { Item } from '../../src/lib/wire/items';
import { startApp, until } from '../support/app';
import { makeDatabase } from '../support/database';

const text = Array.from({ length: 5000 }, (_, i) => 100 + (i % 17)).join('\n');
const paste = { code: '10-001', name: 'Inner tube', text };

test('a server killed while a paste is being stored leaves nothing of it, and the next one takes it whole', async () => {
	const database = await makeDatabase();
	const counts = async () => {
		const { rows } = await database.client.query(
			`SELECT (SELECT count(*) FROM raw_text) AS texts, (SELECT count(*) FROM data_change) AS changes,
				(SELECT count(*) FROM item) AS items, (SELECT count(*) FROM actual) AS actuals`,
		);
		return Object.values(rows[0]).map(Number);
	};
	let app = await startApp(database.url);
	const blocker = new pg.Client({ connectionString: database.ownerUrl });
	await blocker.connect();
	try {
		// The last table that a paste writes is held, so that the transaction stands still after all the others.
		await blocker.query('BEGIN; LOCK TABLE actual IN ACCESS EXCLUSIVE MODE');
		const lost = app.call('POST', '/items', paste).catch((error: unknown) => error);
		await until(async () => {
			const { rows } = await database.client.query(
				`SELECT 1 FROM pg_locks WHERE NOT granted AND relation = 'actual'::regclass`,
			);
			return rows.length > 0;
		}, 'the paste at the held table');
		await app.stop('SIGKILL');
		expect(await lost).toBeInstanceOf(Error);
		await blocker.query('ROLLBACK');
		await until(async () => {
			const { rows } = await database.client.query(
				`SELECT 1 FROM pg_stat_activity WHERE datname = current_database() AND pid <> pg_backend_pid() AND state <> 'idle'`,
			);
			return rows.length === 0;
		}, 'the end of the killed server’s transaction');
		expect(await counts()).toEqual([0, 0, 0, 0]);

		app = await startApp(database.url);
		expect((await app.call('POST', '/items', paste)).status).toBe(201);
		expect(await counts()).toEqual([1, 1, 1, 5000]);
	} finally {
		await blocker.end();
		await app.stop();
		await database.drop();
	}
});

test('a server that starts before its database can be reached waits for it, and then serves', async () => {
	const database = await makeDatabase();
	const { hostname, port } = new URL(database.url);
	let turnedAway = 0;
	let open = false;
	// Stands in front of the database: breaks off whoever comes at first, at one moment or another of connecting.
	const gate = createServer((caller) => {
		caller.on('error', () => undefined);
		if (!open) {
			const moment = turnedAway++ % 2 === 0 ? 'connect' : 'data';
			if (moment === 'connect') caller.destroy();
			else caller.once('data', () => caller.destroy());
			return;
		}
		const behind = connect(Number(port), hostname);
		behind.on('error', () => caller.destroy());
		caller.on('error', () => behind.destroy());
		caller.pipe(behind).pipe(caller);
	}).listen(0, '127.0.0.1');
	await once(gate, 'listening');
	const gated = new URL(database.url);
	gated.port = String((gate.address() as AddressInfo).port);
	const starting = startApp(gated.href);
	try {
		await until(async () => turnedAway >= 3, 'its third try');
		open = true;
		const app = await starting;
		expect((await app.call('POST', '/items', paste)).status).toBe(201);
	} finally {
		await (await starting.catch(() => null))?.stop();
		gate.close();
		await database.drop();
	}
});

test.runIf(postgresPrograms())(
	'PostgreSQL stopped and started under a running server: it goes on without a restart',
	async () => {
		const directory = mkdtempSync(join(tmpdir(), 'ventrel-test-outage-'));
		chmodSync(directory, 0o755);
		const { url } = await startCluster(directory, { throwaway: true });
		await migrate(url);
		const app = await startApp(await applicationUrl(url));
		try {
			expect((await app.call('POST', '/items', paste)).status).toBe(201);
			await stopCluster(directory);
			const down = await app.call('POST', '/items', { ...paste, code: '10-002' });
			expect(down.status).toBe(503);
			expect(down.body.message).toMatch(/Nothing was stored and nothing is lost; try again/);
			expect((await fetch(`${app.url}/items`)).status).toBe(503);
			expect(
				(
					await app.call('POST', '/evaluate', {
						series: { values: [1, 2], frequency: 'step' },
						candidates: [],
					})
				).status,
			).toBe(200);

			expect((await startCluster(directory, { throwaway: true })).url).toBe(url);
			await until(async () => (await app.call('GET', '/items')).status === 200, 'the list of items');
			const { body } = await app.call<Item>('GET', '/items/10-001');
			expect(body.series.values).toHaveLength(5000);
			expect((await app.call('GET', '/items/10-002')).status).toBe(404);
			expect((await app.call('POST', '/items', { ...paste, code: '10-002' })).status).toBe(201);
		} finally {
			await app.stop();
			await stopCluster(directory);
			rmSync(directory, { recursive: true, force: true });
		}
	},
);

test('a change that meets another one in a deadlock is tried again, and both are there', async () => {
	const database = await makeDatabase();
	const app = await startApp(database.url);
	const other = new pg.Client({ connectionString: database.ownerUrl });
	await other.connect();
	try {
		for (const code of ['A', 'B']) await app.call('POST', '/items', { code, name: code, text: '1\n2\n3' });
		const lock = (code: string) => other.query('SELECT FROM item WHERE code = $1 FOR UPDATE', [code]);
		// The other one is patient, so that it is ours that PostgreSQL ends.
		await other.query(`BEGIN; SET LOCAL deadlock_timeout = '60s'`);
		await lock('B');
		const items = ['A', 'B'].map((code) => ({ from: code, code, name: code }));
		const bringing = fetch(`${app.url}/api/v1/bring-in`, {
			method: 'POST',
			headers: { 'content-type': 'application/octet-stream' },
			body: `${JSON.stringify({ items })}\nperiod;A;B\n1;1;1\n2;2;2\n3;30;30`,
		});
		await until(async () => {
			const { rows } = await database.client.query(
				`SELECT 1 FROM pg_stat_activity WHERE datname = current_database() AND wait_event_type = 'Lock'`,
			);
			return rows.length > 0;
		}, 'ours at the second item');
		await lock('A');
		await other.query('COMMIT');
		const answer = await bringing;
		expect([answer.status, await answer.json()]).toEqual([
			200,
			[
				{ code: 'A', created: false, added: 0, corrected: 1, same: 2 },
				{ code: 'B', created: false, added: 0, corrected: 1, same: 2 },
			],
		]);
	} finally {
		await other.end();
		await app.stop();
		await database.drop();
	}
});

test('what PostgreSQL refuses as data is a refusal with its words, never a fault of ours', async () => {
	const database = await makeDatabase();
	const app = await startApp(database.url);
	try {
		// A rule that only the database knows of.
		await database.client.query(`ALTER TABLE item ADD CONSTRAINT no_bells CHECK (name <> 'Bell')`);
		const { status, body } = await app.call('POST', '/items', { code: 'A', name: 'Bell', text: '1\n2\n3' });
		expect([status, body.message]).toEqual([
			422,
			expect.stringMatching(/database does not take this: .*no_bells.* Nothing was stored/),
		]);
	} finally {
		await app.stop();
		await database.drop();
	}
});
