import { once } from 'node:events';
import { connect } from 'node:net';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { BOUNDS } from '../../src/core/bounds';
import { MOST_ISSUES } from '../../src/core/schemas';
import type { Item } from '../../src/lib/wire/items';
import type { Ready, RefusalBody } from '../../src/lib/wire/service';
import { adoptionOf } from '../support/adopting';
import { type App, startApp, startWorker, until } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';

let database: TestDatabase;
let app: App;
beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	await app.call('POST', '/items', { code: 'R-1', name: 'Bell', text: '4\n5\n6' });
});
afterAll(async () => {
	await app?.stop();
	await database?.drop();
});

const JSON_TYPE = 'application/json';
async function send(method: string, path: string, body: string, type = JSON_TYPE) {
	const answer = await fetch(`${app.url}/api/v1${path}`, { method, body, headers: { 'content-type': type } });
	const text = await answer.text();
	const said = JSON.parse(text.trim().split('\n').at(-1)!) as { message: string; issues: unknown[] };
	return { status: answer.status, ...said };
}

describe('what is wrong in many places is counted first, and refused with the first of them', () => {
	const wrongIndices = Array.from({ length: 100 }, (_, c) => ({
		id: `c${c}`,
		method: 'seasonal-index',
		season: 'multiplicative',
		index: { rule: 'given', indices: new Array(1500).fill('x') },
		level: { rule: 'last-cycle' },
	}));
	const labels = Array.from({ length: 100_000 }, (_, i) => [`kind ${i}`, 'x']);
	const keys = Object.fromEntries(Array.from({ length: 300_000 }, (_, i) => [`k${i}`, 1]));
	const cases: [string, string, string, unknown, number][] = [
		[
			'more labels than an item has',
			'POST',
			'/several',
			{ items: { asked: { labels } }, change: { hidden: true } },
			422,
		],
		[
			'indices of many candidates',
			'PUT',
			'/items/R-1/line-up',
			{ version: 0, candidates: wrongIndices },
			422,
		],
		[
			'the same, to evaluate',
			'POST',
			'/evaluate',
			{ series: { values: [1, 2], frequency: 'step' }, candidates: wrongIndices },
			422,
		],
		['a list of ones', 'POST', '/sweeps', new Array(1_000_000).fill(1), 422],
		['as many keys', 'POST', '/several', keys, 422],
		['the same where little is taken', 'PATCH', '/items/R-1', keys, 413],
		['a list of ones where little is taken', 'PUT', '/watching', new Array(100_000).fill(1), 413],
		['codes of another kind', 'POST', '/bring-in/compare', { codes: new Array(5000).fill({}) }, 422],
	];
	test.each(cases)('%s', async (_name, method, path, body, status) => {
		const refused = await send(method, path, JSON.stringify(body));
		expect([refused.status, refused.message]).toEqual([status, expect.any(String)]);
		expect(refused.issues.length).toBeLessThanOrEqual(MOST_ISSUES);
		// The line-up that is there has not moved.
		expect((await app.call<{ lineUp: { version: number } }>('GET', '/items/R-1')).body.lineUp.version).toBe(
			0,
		);
	});

	test('a line before a file that is longer than any that says what is wanted', async () => {
		const head = JSON.stringify({ fileName: 'x', choices: { columns: keys } });
		expect(head.length).toBeGreaterThan(BOUNDS.headBytes);
		const refused = await send(
			'POST',
			'/bring-in/stream',
			`${head}\n2024-01;4\n`,
			'application/octet-stream',
		);
		expect([refused.status, refused.message]).toEqual([
			413,
			expect.stringContaining('at most 262\u202f144 bytes'),
		]);
	});

	test('a record with a name that no record may have is refused, wherever there is one', async () => {
		for (const key of ['__proto__', 'constructor', 'prototype']) {
			const head = `{"choices": {"columns": {"${key}": "item"}}}`;
			const file = await send('POST', '/bring-in/stream', `${head}\n2024-01;4\n`, 'application/octet-stream');
			expect([key, file.status]).toEqual([key, 422]);
			const text = `{"code": "R-2", "name": "x", "text": "1\\n2\\n3", "choices": {"columns": {"${key}": "item"}}}`;
			expect([key, (await send('POST', '/items', text)).status]).toEqual([key, 422]);
		}
	});
});

describe('whether everything is there', () => {
	const ready = () => app.call<Ready>('GET', '/ready');
	test('without a worker it is not, and says so; with one it is; one that hangs is none', async () => {
		expect(await ready()).toMatchObject({
			status: 503,
			body: { ready: false, database: null, migrations: null, disk: null, worker: 'no worker was here yet' },
		});
		const worker = await startWorker(database.url);
		await until(async () => (await ready()).status === 200, 'readiness');
		// It neither ends nor says anything any more.
		worker.process.kill('SIGSTOP');
		await database.client.query(`UPDATE worker_process SET seen_at = now() - interval '1 minute'`);
		expect((await ready()).body.worker).toMatch(/^no worker since 20/);
		worker.process.kill('SIGCONT');
		await until(async () => (await ready()).body.ready, 'the worker that goes on');
		await worker.stop();
		expect((await ready()).body.worker).toMatch(/^no worker since/);
	});

	test('a database that lacks a migration is told', async () => {
		await database.client.query(`UPDATE migration SET name = 'another' WHERE name LIKE '0012%'`);
		expect((await ready()).body.migrations).toMatch(/^not run yet: 0012/);
		await database.client.query(`UPDATE migration SET name = '0012_mended' WHERE name = 'another'`);
		expect((await ready()).body.migrations).toBeNull();
	});
});

describe('names that look alike, and names that lead nowhere', () => {
	const make = (code: string, name = 'Bell') => app.call('POST', '/items', { code, name, text: '4\n5\n6' });

	test.each(['.', '..'])(
		'%j is no code: an address that ends with it is that of something else',
		async (code) => {
			expect((await make(code)).status).toBe(422);
			const seen = { code: 'R-1', name: 'Bell', unit: '', retired: false };
			expect((await app.call('PATCH', '/items/R-1', { code, seen })).status).toBe(422);
			const file = `{}\nitem,month,demand\n${code},2024-01,3\n${code},2024-02,4\n${code},2024-03,5\n`;
			await send('POST', '/bring-in/stream', file, 'application/octet-stream');
			const { rows } = await database.client.query('SELECT code FROM item WHERE code = $1', [code]);
			expect(rows).toEqual([]);
		},
	);

	test.each(['\u200b', '\u200d', '\u202e', '\u0085', '\u00ad', '\u2028', '\ufeff'])(
		'what cannot be seen (%j) is refused in a code, a name and a label',
		async (mark) => {
			expect((await make(`R${mark}9`)).status).toBe(422);
			expect((await make('R-9', `Be${mark}ll`)).status).toBe(422);
			const seen = { code: 'R-1', name: 'Bell', unit: '', retired: false };
			const labels = [['Family', `Be${mark}lls`]];
			expect((await app.call('PATCH', '/items/R-1', { labels, seen })).status).toBe(422);
		},
	);

	test('letters that are composed in two ways are one code', async () => {
		expect((await make('Cafe\u0301')).status).toBe(201);
		expect((await make('Caf\u00e9')).status).toBe(409);
		for (const code of ['Cafe\u0301', 'Caf\u00e9'])
			expect((await app.call('GET', `/items/${encodeURIComponent(code)}`)).status).toBe(200);
	});

	test('from a table they come without what cannot be seen', async () => {
		const table = 'item,month,demand\nR\u200b-7,2024-01,3\nR-7,2024-02,4\nR-7\u00ad,2024-03,5\n';
		const items = [{ from: 'R-7', code: 'R-7', name: 'Rim' }];
		const brought = await fetch(`${app.url}/api/v1/bring-in`, {
			method: 'POST',
			body: `${JSON.stringify({ items })}\n${table}`,
			headers: { 'content-type': 'application/octet-stream' },
		});
		expect([brought.status, await brought.json()]).toEqual([
			200,
			[{ code: 'R-7', created: true, added: 3, corrected: 0, same: 0 }],
		]);
	});
});

describe('at the same moment', () => {
	test('twelve adoptions of what one looked at make one record', async () => {
		const item = (await app.call<Item>('GET', '/items/R-1')).body;
		const wanted = adoptionOf(item, { id: 'a', method: 'naive' });
		const answers = await Promise.all(
			Array.from({ length: 12 }, () => app.call<RefusalBody>('POST', '/items/R-1/adopted', wanted)),
		);
		expect(answers.map(({ status }) => status).sort()).toEqual([201, ...new Array(11).fill(409)]);
		for (const { status, body } of answers)
			if (status === 409) expect(body.message).toMatch(/^tester adopted “.*” for it meanwhile/);
		expect((await app.call<unknown[]>('GET', '/items/R-1/adopted')).body).toHaveLength(1);
		const now = (await app.call<Item>('GET', '/items/R-1')).body;
		expect(
			(await app.call('POST', '/items/R-1/adopted', adoptionOf(now, { id: 'a', method: 'naive' }))).status,
		).toBe(201);
	});

	test('two items renamed to one code: one of them is told in words', async () => {
		const codes = ['T-1', 'T-2', 'T-3', 'T-4'];
		for (const code of codes) await app.call('POST', '/items', { code, name: 'Tube', text: '4\n5\n6' });
		const answers = await Promise.all(
			codes.map((code) =>
				app.call('PATCH', `/items/${code}`, {
					code: 'T-9',
					seen: { code, name: 'Tube', unit: '', retired: false },
				}),
			),
		);
		expect(answers.map(({ status }) => status).sort()).toEqual([200, 409, 409, 409]);
		for (const { status, body } of answers)
			if (status === 409)
				expect(body.message).toMatch(/^The code T-9 is taken|^Another item was given this code/);
	});

	test('a label too many, and a view too many, are told in words', async () => {
		const seen = { code: 'R-1', name: 'Bell', unit: '', retired: false };
		const labels = Array.from({ length: 20 }, (_, i) => [`kind ${i}`, 'x']);
		expect((await app.call('PATCH', '/items/R-1', { labels, seen })).status).toBe(200);
		const more = await app.call('POST', '/several', {
			items: { codes: ['R-1'] },
			change: { label: { of: 'one more', is: 'x' } },
		});
		expect([more.status, more.body.message]).toEqual([
			422,
			expect.stringMatching(/^An item has at most 20 labels/),
		]);
		for (let i = 0; i < BOUNDS.views; i++)
			expect((await app.call('PUT', '/views', { name: `view ${i}`, asked: {} })).status).toBe(200);
		const view = await app.call('PUT', '/views', { name: 'one more', asked: {} });
		expect([view.status, view.body.message]).toEqual([422, expect.stringMatching(/^At most 200 views/)]);
		expect((await app.call('PUT', '/views', { name: 'view 0', asked: { which: 'look' } })).status).toBe(200);
	});
});

test('a head that does not end is ended', async () => {
	const { hostname, port } = new URL(app.url);
	const hanging = connect(Number(port), hostname);
	hanging.write('GET /api/v1/items HTTP/1.1\r\nhost: x\r\n');
	hanging.on('error', () => undefined);
	hanging.resume();
	// Node by itself would wait for a minute.
	await once(hanging, 'close', { signal: AbortSignal.timeout(50_000) });
});

test('an address with a percent sign that begins nothing is told so', async () => {
	const page = await fetch(`${app.url}/items/%E0%A4%A`);
	expect([page.status, await page.text()]).toEqual([
		400,
		expect.stringMatching(/This address cannot be read/),
	]);
});
