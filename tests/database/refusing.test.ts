import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { BOUNDS } from '../../src/core/bounds';
import { MOST_ISSUES } from '../../src/core/schemas';
import type { Ready } from '../../src/lib/shapes';
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
			{ items: { asked: { labels } }, change: { aside: true } },
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
			expect.stringContaining('at most 262,144 bytes'),
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
