import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Item } from '../../src/lib/wire/items';
import { adoptionOf } from '../support/adopting';
import { type App, startApp, until } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';

/** What a program asks for under a key is done once, however often it asks and whatever is killed in between. */

let database: TestDatabase;
let app: App;

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	const text = Array.from(
		{ length: 24 },
		(_, i) => `${2024 + Math.floor(i / 12)}-${String((i % 12) + 1).padStart(2, '0')};${40 + (i % 5)}`,
	).join('\n');
	for (const code of ['D-1', 'D-2']) await app.call('POST', '/items', { code, name: 'Bell', text });
});
afterAll(async () => {
	await app?.stop();
	await database?.drop();
});

const count = async (table: string) =>
	Number((await database.client.query(`SELECT count(*) AS count FROM ${table}`)).rows[0].count);
const item = async (code: string) => (await app.call<Item>('GET', `/items/${code}`)).body;
const key = (name: string) => ({ 'idempotency-key': name });
const post = async (path: string, body: string, name: string, type = 'application/json') => {
	const answer = await fetch(`${app.url}/api/v1${path}`, {
		method: 'POST',
		body,
		headers: { 'content-type': type, ...key(name) },
	});
	return {
		status: answer.status,
		replayed: answer.headers.get('idempotency-replayed'),
		text: await answer.text(),
	};
};

describe('asked again under the same key, the same is answered and nothing is done', () => {
	test('of adopting', async () => {
		const wanted = JSON.stringify(adoptionOf(await item('D-1'), { id: 'a', method: 'naive' }));
		const first = await post('/items/D-1/adopted', wanted, 'june');
		expect([first.status, first.replayed]).toEqual([201, null]);
		expect(await post('/items/D-1/adopted', wanted, 'june')).toEqual({ ...first, replayed: 'true' });
		expect(await count('adopted_forecast')).toBe(1);
		// Without a key it is refused, since it was adopted meanwhile.
		expect((await app.call('POST', '/items/D-1/adopted', JSON.parse(wanted))).status).toBe(409);
	});

	test('of a sweep, a table, an item and a change of several', async () => {
		const sweep = JSON.stringify({ kind: 'propose', items: { codes: ['D-1', 'D-2'] } });
		const table = `${JSON.stringify({ items: [{ from: 'x', code: 'D-1', name: 'Bell' }] })}\nmonth;x\n2026-01;44`;
		const made = JSON.stringify({ code: 'D-3', name: 'Horn', text: '4\n5\n6' });
		const hidden = JSON.stringify({ items: { codes: ['D-2'] }, change: { hidden: true }, reason: 'wait' });
		for (const [path, body, status, table_, type] of [
			['/sweeps', sweep, 201, 'sweep'],
			['/bring-in', table, 200, 'raw_text', 'application/octet-stream'],
			['/items', made, 201, 'raw_text'],
			['/several', hidden, 200, 'hide_entry'],
		] as const) {
			const before = await count(table_);
			const first = await post(path, body, `once ${path}`, type);
			expect([path, first.status]).toEqual([path, status]);
			const again = await post(path, body, `once ${path}`, type);
			expect([path, again]).toEqual([path, { ...first, replayed: 'true' }]);
			expect([path, await count(table_)]).toEqual([path, before + 1]);
		}
	});
});

test('of twenty at once under one key one is done, and all are answered alike', async () => {
	const before = await count('sweep');
	const sweep = JSON.stringify({ kind: 'propose', items: { codes: ['D-1'] } });
	const answers = await Promise.all(Array.from({ length: 20 }, () => post('/sweeps', sweep, 'twenty')));
	expect(new Set(answers.map(({ text }) => text)).size).toBe(1);
	expect(answers.every(({ status }) => status === 201)).toBe(true);
	expect(await count('sweep')).toBe(before + 1);
});

test('a key is of one thing: another body, another address or another call under it is refused', async () => {
	const sweep = { kind: 'propose', items: { codes: ['D-1'] } };
	expect((await app.call('POST', '/sweeps', sweep, key('one thing'))).status).toBe(201);
	for (const [path, body] of [
		['/sweeps', { ...sweep, reason: 'another' }],
		['/several', { items: { codes: ['D-1'] }, change: { hidden: true } }],
	] as const) {
		const { status, body: said } = await app.call<{ message: string }>('POST', path, body, key('one thing'));
		expect([status, said.message]).toEqual([
			422,
			expect.stringMatching(/Something else was asked for under the key/),
		]);
	}
	for (const bad of ['', 'x'.repeat(256)])
		expect((await app.call('POST', '/sweeps', sweep, key(bad))).status).toBe(bad === '' ? 422 : 422);
});

test('what is refused is not kept under its key: put right, it is done', async () => {
	expect(
		(await app.call('POST', '/sweeps', { kind: 'propose', items: { codes: ['nobody'] } }, key('put right')))
			.status,
	).toBe(422);
	const right = await app.call(
		'POST',
		'/sweeps',
		{ kind: 'propose', items: { codes: ['D-2'] } },
		key('put right'),
	);
	expect(right.status).toBe(201);
});

test('killed at any moment, a server leaves all of it or nothing, and asking again makes it whole once', async () => {
	const port = Number(new URL(app.url).port);
	const before = await count('sweep');
	const names = Array.from({ length: 6 }, (_, i) => `kill ${i}`);
	const body = JSON.stringify({ kind: 'propose', items: { codes: ['D-1', 'D-2'] } });
	for (const [i, name] of names.entries()) {
		const asked = post('/sweeps', body, name).catch(() => null);
		// At another moment of it each time.
		await new Promise((done) => setTimeout(done, 2 * i));
		await app.stop('SIGKILL');
		await asked;
		app = await startApp(database.url, { port });
		let status = 0;
		await until(async () => {
			status = await post('/sweeps', body, name).then(
				(answer) => answer.status,
				() => 0,
			);
			return status === 201;
		}, 'the sweep');
	}
	expect(await count('sweep')).toBe(before + names.length);
});
