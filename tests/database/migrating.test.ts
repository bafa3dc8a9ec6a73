import { createHash } from 'node:crypto';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { linkFor } from '../../scripts/lib/person-link.mjs';
import { migrate } from '../../scripts/migrate.mjs';
import type { HappenedWindow } from '../../src/lib/wire/access';
import type { Item } from '../../src/lib/wire/items';
import type { ItemWindow } from '../../src/lib/wire/list';
import { adoptionOf } from '../support/adopting';
import { type App, startApp } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';

const JAN = 2024 * 12;
const VALUES = [40, 44, 41, 47, 45, 49, 46, 52];
const REQUEST = {
	series: { values: VALUES, frequency: 'month', start: '2024-01' },
	candidates: [{ id: 'a', method: 'naive' }],
	horizon: 2,
	levels: [0.8],
};

let database: TestDatabase;
let app: App;
beforeAll(async () => {
	database = await makeDatabase(async (client) => {
		const ask = async (sql: string, values: unknown[] = []) =>
			(await client.query(sql, values)).rows[0] as { id: string };
		const { id: workspace } = await ask(
			`INSERT INTO workspace (name) VALUES ('Kestrel Bay Cycle Supply') RETURNING id`,
		);
		const { id: item } = await ask(
			`INSERT INTO item (workspace_id, code, name, unit, frequency, season_length, line_up_version, created_by)
			VALUES ($1, '10-101', 'Inner tube', 'pieces', 'month', 12, 3, 'anna') RETURNING id`,
			[workspace],
		);
		const text = VALUES.map((value, i) => `2024-0${i + 1};${value}`).join('\n');
		const { id: raw } = await ask(
			`INSERT INTO raw_text (workspace_id, file_name, content, created_by) VALUES ($1, 'tubes.csv', $2, 'anna') RETURNING id`,
			[workspace, Buffer.from(text)],
		);
		const { id: change } = await ask(
			`INSERT INTO data_change (workspace_id, raw_text_id, created_by) VALUES ($1, $2, 'anna') RETURNING id`,
			[workspace, raw],
		);
		for (const [i, value] of VALUES.entries()) {
			await client.query(`INSERT INTO actual VALUES ($1, $2, $3, 1, $4, $5)`, [
				workspace,
				item,
				JAN + i,
				value,
				change,
			]);
		}
		await client.query(
			`INSERT INTO candidate (workspace_id, item_id, id, position, settings) VALUES ($1, $2, 'a', 0, '{"method": "naive"}')`,
			[workspace, item],
		);
		await client.query('BEGIN');
		const { id: adopted } = await ask(
			`INSERT INTO adopted_forecast (workspace_id, item_id, data_change_id, series_sha256, request, method, label,
				constants, measures, origin, program_version, adopted_by)
			VALUES ($1, $2, $3, $4, $5, 'naive', 'Naive', '{}', '{"mad": 3.5}', $6, '0.0.1', 'anna') RETURNING id`,
			[
				workspace,
				item,
				change,
				createHash('sha256').update('old').digest(),
				REQUEST,
				JAN + VALUES.length - 1,
			],
		);
		for (const step of [1, 2]) {
			await client.query(`INSERT INTO adopted_step VALUES ($1, $2, $3, $4, 52, '{"0.8": [47, 57]}')`, [
				workspace,
				adopted,
				step,
				JAN + VALUES.length - 1 + step,
			]);
		}
		await client.query('COMMIT');
	});
	app = await startApp(database.url);
});
afterAll(async () => {
	await app.stop();
	await database.drop();
});

test('what was in a database of the first version is all there, and as it was', async () => {
	const { status, body } = await app.call<Item>('GET', '/items/10-101');
	expect([status, body]).toMatchObject([
		200,
		{
			name: 'Inner tube',
			unit: 'pieces',
			series: { frequency: 'month', seasonLength: 12, first: JAN, values: VALUES },
			lineUp: { version: 3, candidates: [{ id: 'a', method: 'naive' }] },
			adopted: { label: 'Naive', steps: [{ mean: 52 }, { mean: 52, ranges: { '0.8': [47, 57] } }] },
			adoptedCount: 1,
			retiredAt: null,
			changes: [],
			layers: { history: [], newest: 0 },
		},
	]);
	const { items: rows } = (await app.call<ItemWindow>('GET', '/items')).body;
	expect(rows).toMatchObject([{ code: '10-101', shown: { periods: VALUES.length, adopted: { next: 52 } } }]);
	expect(rows[0]!.shown!.ahead).toHaveLength(2);
	// What it is held against later is made good from the figures that it was made from.
	const { rows: steps } = await database.client.query(
		'SELECT final, naive, seasonal_naive FROM adopted_step ORDER BY step',
	);
	expect(steps).toEqual([
		{ final: 52, naive: 52, seasonal_naive: null },
		{ final: 52, naive: 52, seasonal_naive: null },
	]);
	const raw = await fetch(`${app.url}/api/v1/items/10-101/raw`);
	expect(await raw.text()).toMatch(/^2024-01;40\n/);
});

test('it can be worked with as a new one: corrected, laid over, adopted', async () => {
	const load = async () => (await app.call<Item>('GET', '/items/10-101')).body;
	const layers = await app.call('POST', '/items/10-101/layers', {
		seen: 0,
		entries: [{ kind: 'left-out', period: JAN + 2, setting: true }],
	});
	expect(layers.status).toBe(200);
	const adopted = await app.call(
		'POST',
		'/items/10-101/adopted',
		adoptionOf(await load(), { id: 'a', method: 'average' }, { horizon: 3 }),
	);
	expect(adopted.status).toBe(201);
	expect((await load()).adoptedCount).toBe(2);
});

test('run again, nothing is left to run', async () => {
	expect(await migrate(database.ownerUrl)).toEqual([]);
});

test('what was done before is by this machine, told from people once there are some', async () => {
	const by = async () =>
		(await app.call<{ adoptedBy: string }[]>('GET', '/items/10-101/adopted')).body.map(
			({ adoptedBy }) => adoptedBy,
		);
	expect(await by()).toEqual(['tester', 'anna']);
	await database.client.query('BEGIN');
	await linkFor(database.client, { what: 'add', name: 'Anna', role: 'manage' });
	await database.client.query('COMMIT');
	expect(await by()).toEqual(['tester (this machine)', 'anna (this machine)']);
	const { body } = await app.call<HappenedWindow>('GET', '/happened');
	expect(body.events.map(({ by: who, kind }) => [who, kind])).toEqual(
		expect.arrayContaining([
			['anna (this machine)', 'adopted'],
			['anna (this machine)', 'brought in'],
			['tester (this machine)', 'adopted'],
		]),
	);
});

test('labels that no record may have keep their items, under another name, and their history stays readable', async () => {
	const own = await makeDatabase(async (client) => {
		await client.query(`
			INSERT INTO workspace (name) VALUES ('Kestrel Bay Cycle Supply');
			INSERT INTO item (workspace_id, code, name, frequency, season_length, labels, created_by)
				SELECT id, '10-101', 'Inner tube', 'month', 12, '{"__proto__": "x", "Family": "Tyres"}', 'anna' FROM workspace;
			INSERT INTO item (workspace_id, code, name, frequency, season_length, created_by, sum_of)
				SELECT id, 'x', 'its items as one', 'month', 12, 'anna', '{"unit": "", "labels": {"__proto__": "x"}}' FROM workspace;
			INSERT INTO kept_view (workspace_id, name, asked, created_by)
				SELECT id, 'Tyres', '{"which": "all", "labels": {"Family": "Tyres", "constructor": ""}}', 'anna' FROM workspace;
		`);
		// What it was labelled with before is on record once it was labelled otherwise.
		await client.query(`UPDATE item SET labels = labels || '{"constructor": "acme"}' WHERE code = '10-101'`);
	}, 11);
	const served = await startApp(own.url);
	const item = (await served.call<Item>('GET', '/items/10-101')).body;
	expect(item.labels).toEqual([
		['Family', 'Tyres'],
		['__proto__ (label)', 'x'],
		['constructor (label)', 'acme'],
	]);
	expect(item.changes.map(({ by, labels }) => [by, labels])).toEqual([
		[
			'migration',
			[
				['Family', 'Tyres'],
				['__proto__', 'x'],
				['constructor', 'acme'],
			],
		],
		[
			'ventrel',
			[
				['Family', 'Tyres'],
				['__proto__', 'x'],
			],
		],
	]);
	for (const path of ['/items', '/items/10-101', '/items/x', '/groups', '/hand-over'])
		expect([path, (await fetch(served.url + path)).status]).toEqual([path, 200]);
	const { rows } = await own.client.query('SELECT asked FROM kept_view');
	expect(rows[0].asked.labels).toEqual([
		['Family', 'Tyres'],
		['constructor (label)', ''],
	]);
	await served.stop();
	await own.drop();
});
