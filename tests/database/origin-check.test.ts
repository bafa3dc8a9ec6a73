import { request } from 'node:http';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { RefusalBody } from '../../src/lib/wire/service';
import type { App } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { makePerson, makeToken, PASSWORD, type Signed, startForPeople } from '../support/people';

let database: TestDatabase;
let app: App;
let who: Signed;
const PUBLIC = 'https://forecasts.kestrel.example';

beforeAll(async () => {
	database = await makeDatabase();
	app = await startForPeople(database, { env: { VENTREL_ORIGIN: PUBLIC } });
	who = await makeToken(app, await makePerson(database, app, 'Anna', 'manage'), 'a test', 'work');
	await who.call('POST', '/items', { code: 'D-1', name: 'Bell', text: '4\n5\n6' });
});
afterAll(async () => {
	await app?.stop();
	await database?.drop();
});

interface Answer {
	status: number;
	type: string;
	headers: Record<string, unknown>;
	text: string;
}

/** A request with headers that no fetch sends. */
function ask(
	method: string,
	path: string,
	headers: Record<string, string> = {},
	body?: string,
): Promise<Answer> {
	return new Promise((resolve, reject) => {
		const { hostname, port } = new URL(app.url);
		const sent = request(
			{ hostname, port, method, path, headers: { ...who.headers, ...headers } },
			(response) => {
				let text = '';
				response.setEncoding('utf8');
				response.on('data', (part: string) => (text += part));
				response.on('end', () =>
					resolve({
						status: response.statusCode!,
						type: String(response.headers['content-type']),
						headers: response.headers,
						text,
					}),
				);
			},
		);
		sent.on('error', reject);
		sent.end(body);
	});
}

const LAYER = JSON.stringify({ seen: 0, entries: [{ kind: 'per-day', setting: true }] });
const json = { 'content-type': 'application/json' };
const form = { 'content-type': 'application/x-www-form-urlencoded' };

describe('a name that is not ours leads nowhere, on any route', () => {
	test.each([
		'/items',
		'/items/D-1',
		'/api/v1/items',
		'/api/v1/items/D-1',
		'/api/v1/health',
		'/nowhere',
		'/api/nowhere',
	])('%s', async (path) => {
		for (const host of [
			'rebound.example',
			'localhost',
			'127.0.0.1',
			`127.0.0.1:1`,
			'forecasts.kestrel.example.evil',
		]) {
			const { status, text } = await ask('GET', path, { host });
			expect([status, host]).toEqual([421, host]);
			expect(text).toContain('Ventrel answers at');
			expect(text).not.toContain('Bell');
		}
	});

	test('the public name is taken, and so is the printed one', async () => {
		expect((await ask('GET', '/api/v1/items', { host: new URL(PUBLIC).host })).status).toBe(200);
		expect((await ask('GET', '/api/v1/items', { host: new URL(app.url).host })).status).toBe(200);
	});
});

describe('another site can do nothing', () => {
	const foreign: Record<string, string>[] = [
		{ origin: 'https://evil.example' },
		{ origin: 'null' },
		{ 'sec-fetch-site': 'cross-site' },
		{ 'sec-fetch-site': 'same-site' },
		{ origin: 'http://127.0.0.1:1', 'sec-fetch-site': 'same-origin' },
	];
	test.each([
		['POST', '/api/v1/items/D-1/layers'],
		['PUT', '/api/v1/items/D-1/line-up'],
		['PATCH', '/api/v1/items/D-1'],
		['DELETE', '/api/v1/items/D-1'],
		['POST', '/api/v1/items'],
		['POST', '/api/v1/evaluate'],
		['POST', '/api/v1/bring-in/stream'],
		['POST', '/items'],
		['POST', '/nowhere'],
	])('%s %s', async (method, path) => {
		const { host } = new URL(app.url);
		for (const headers of foreign)
			for (const type of [json, form, {}]) {
				const { status } = await ask(
					method,
					path,
					{ host, ...headers, ...type },
					method === 'DELETE' ? undefined : LAYER,
				);
				expect([status, headers]).toEqual([403, headers]);
			}
	});

	test('our own pages can, and so can a program that is no browser', async () => {
		const { host } = new URL(app.url);
		const own = { host, ...json, origin: app.url, 'sec-fetch-site': 'same-origin' };
		expect((await ask('POST', '/api/v1/items/D-1/layers', own, LAYER)).status).toBe(200);
		expect((await ask('POST', '/api/v1/items/D-1/layers', { host, ...json }, LAYER)).status).toBe(409);
	});
});

describe('what the interface refuses is JSON, whatever is accepted', () => {
	test.each<[string, string, number, string?]>([
		['GET', '/api/v1/items/nobody', 404],
		['GET', '/api/v1/nowhere', 404],
		['GET', '/api/v2', 404],
		['DELETE', '/api/v1/items', 405],
		['POST', '/api/v1/evaluate', 422, '{'],
		['POST', '/api/v1/items', 422, '[]'],
		['GET', '/api/v1/items/%00', 404],
		['GET', '/api/v1/items/a%07b', 404],
		['GET', '/api/v1/items/D-1/adopted/one', 404],
		['GET', '/api/v1/items/D-1/adopted?before=%00', 422],
		['GET', `/api/v1/items/${'x'.repeat(300)}`, 422],
	])('%s %s', async (method, path, expected, body) => {
		for (const accept of ['text/html', '*/*', 'application/json']) {
			const { status, type, text } = await ask(
				method,
				path,
				{ host: new URL(app.url).host, accept, ...json },
				body,
			);
			expect([status, type]).toEqual([expected, 'application/problem+json']);
			const said = JSON.parse(text) as RefusalBody;
			expect(said.message.length).toBeGreaterThan(10);
			// As the standard has it (RFC 9457), beside our own words.
			expect(said).toMatchObject({ type: 'about:blank', status: expected, detail: said.message });
			expect(said.title).toMatch(/^[A-Z][a-z]+/);
		}
	});

	test('halves of characters and characters that cannot be seen are refused as text, never a fault of ours', async () => {
		const texts = ['\u0000', 'a\u0000b', '\ud800', 'x\udc00y', '\u0007'];
		for (const bad of texts) {
			const answers = [
				await who.call('POST', '/items', { code: bad, name: 'x', text: '1\n2' }),
				await who.call('POST', '/items', { code: 'x', name: bad, text: '1\n2' }),
				await who.call('POST', '/items', { code: 'x', name: 'x', text: '1\n2', choices: { sheet: bad } }),
				await who.call('POST', '/items', { code: 'x', name: 'x', text: '1\n2', choices: { first: bad } }),
				await who.call('POST', '/bring-in/compare', { codes: [bad] }),
				await who.call('POST', '/items/D-1/layers', {
					seen: 0,
					entries: [{ kind: 'event', period: 1, setting: bad }],
				}),
				await who.call('PUT', '/items/D-1/line-up', {
					version: 0,
					candidates: [{ id: bad, method: 'naive' }],
				}),
				await who.call('PUT', '/items/D-1/line-up', { version: 0, candidates: [], hidden: [bad] }),
				await who.call('PATCH', '/items/D-1', {
					name: bad,
					seen: { code: 'D-1', name: 'Bell', unit: '', retired: false },
				}),
			];
			expect(answers.map(({ status }) => status)).toEqual(answers.map(() => 422));
		}
	});
});

test('under https cookies go nowhere else, and browsers are told to come by https', async () => {
	const { host } = new URL(PUBLIC);
	const signing = JSON.stringify({ name: 'Anna', password: PASSWORD });
	const answer = await ask('POST', '/api/v1/sign-in', { host, ...json }, signing);
	expect(answer.status).toBe(200);
	const cookies = answer.headers['set-cookie'] as string[];
	expect(cookies[0]).toMatch(/^__Host-ventrel_session=.*Path=\/; HttpOnly; Secure; SameSite=Lax$/);
	expect(cookies[1]).toMatch(/; Secure/);
	expect(answer.headers['strict-transport-security']).toBe('max-age=31536000');
	const plain = await ask('POST', '/api/v1/sign-in', { host: new URL(app.url).host, ...json }, signing);
	expect((plain.headers['set-cookie'] as string[])[0]).toMatch(/^ventrel_session=/);
	expect(plain.headers['strict-transport-security']).toBeUndefined();
});

test('pages say what they may load, and no answer or file is guessed at or kept', async () => {
	const { host } = new URL(app.url);
	const page = await ask('GET', '/items', { host });
	const policy = String(page.headers['content-security-policy']);
	for (const rule of [
		`default-src 'self'`,
		`connect-src 'self'`,
		`form-action 'self'`,
		`frame-ancestors 'none'`,
		`object-src 'none'`,
		`style-src 'self'`,
	])
		expect(policy).toContain(rule);
	expect(policy).not.toMatch(/script-src[^;]*unsafe|style-src [^;]*unsafe/);
	expect(page.headers).toMatchObject({
		'cross-origin-opener-policy': 'same-origin',
		'cross-origin-resource-policy': 'same-origin',
		'referrer-policy': 'same-origin',
		'permissions-policy': expect.stringContaining('camera=()') as string,
	});
	expect(page.headers['cache-control']).toContain('no-store');
	expect((await ask('GET', '/api/v1/items', { host })).headers['cache-control']).toBe('no-store');
	const script = /\/_app\/immutable\/[\w./-]+\.js/.exec(page.text)![0];
	for (const path of [script, '/icon.svg', '/theme.js', '/items', '/api/v1/items', '/api/v1/items/D-1/raw'])
		expect([path, (await ask('GET', path, { host })).headers['x-content-type-options']]).toEqual([
			path,
			'nosniff',
		]);
});
