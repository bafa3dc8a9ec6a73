import { afterAll, beforeAll, expect, test } from 'vitest';
import { type App, until } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import {
	callingWith,
	cookieOf,
	makePerson,
	makeToken,
	PASSWORD,
	type Signed,
	signIn,
	startForPeople,
} from '../support/people';

/** Several servers for people who sign in: sessions, tokens, slowing and open streams hold across them. */

let database: TestDatabase;
let first: App;
let second: App;
let anna: Signed;

beforeAll(async () => {
	database = await makeDatabase();
	first = await startForPeople(database);
	second = await startForPeople(database);
	anna = await makePerson(database, first, 'Anna', 'manage');
});
afterAll(async () => {
	await first?.stop();
	await second?.stop();
	await database?.drop();
});
const at = (app: App, who: Signed) => callingWith(app, who.name, who.headers);

test('who signs in at one is signed in at the other, and out at both', async () => {
	const cookie = cookieOf(await signIn(first, 'Anna'));
	const here = callingWith(first, 'Anna', { cookie });
	const there = callingWith(second, 'Anna', { cookie });
	expect((await there.call('GET', '/me')).status).toBe(200);
	const stream = await fetch(`${second.url}/api/v1/progress`, { headers: { cookie } });
	const reader = stream.body!.getReader();
	await reader.read();
	await here.call('POST', '/sign-out');
	expect((await there.call('GET', '/me')).status).toBe(401);
	// What is open at the other one ends too.
	for (let part = await reader.read(); !part.done; part = await reader.read());
});

test('a token that is revoked at one is no longer good at the other', async () => {
	const token = await makeToken(first, anna, 'Stock planning', 'look');
	const there = at(second, token);
	expect((await there.call('GET', '/items')).status).toBe(200);
	const { body } = await anna.call<{ id: number }[]>('GET', '/tokens');
	await at(second, anna).call('POST', `/tokens/${body[0]!.id}/revoked`);
	expect((await token.call('GET', '/items')).status).toBe(401);
});

test('wrong sign-ins are counted together', async () => {
	const statuses: number[] = [];
	for (let i = 0; i < 6; i++)
		statuses.push((await signIn(i % 2 ? first : second, 'Nobody', 'a wrong guess')).status);
	expect(statuses).toEqual([401, 401, 401, 401, 401, 401]);
	await database.client.query(`UPDATE sign_in_failure SET failures = 30, at = now()`);
	expect((await signIn(first, 'Nobody', PASSWORD)).status).toBe(429);
	expect((await signIn(second, 'Nobody', PASSWORD)).status).toBe(429);
});

test('seconds of calculation that a caller has used are counted together', async () => {
	const token = await makeToken(first, anna, 'Evaluates', 'look');
	const heavy = {
		series: {
			values: Array.from({ length: 12_000 }, (_, t) => 100 + (t % 24) + ((t * 7919) % 31)),
			frequency: 'step',
			seasonLength: 24,
		},
		candidates: [{ id: 'a', method: 'holt-winters', season: 'multiplicative', optimise: {} }],
	};
	const ask = async (app: App) => (await at(app, token).call('POST', '/evaluate', heavy)).status;
	const told: { caller: string; seconds: number }[] = [];
	database.client.on('notification', ({ payload }) => told.push(JSON.parse(payload!) as (typeof told)[0]));
	await database.client.query('LISTEN ventrel_usage');
	await until(async () => {
		expect(await ask(first)).toBe(200);
		return told.length > 0;
	}, 'what was used to be told');
	expect(told[0]!.seconds).toBeGreaterThanOrEqual(1);
	// As if a third server had had it for long.
	const { caller } = told[0]!;
	await database.client.query('SELECT pg_notify($1, $2)', [
		'ventrel_usage',
		JSON.stringify({ self: 'a third', caller, seconds: 400 }),
	]);
	for (const app of [first, second])
		await until(async () => (await ask(app)) === 429, 'the bound to hold there');
	expect((await at(second, anna).call('POST', '/evaluate', heavy)).status).toBe(200);
});

test('what is done once under a key at one is done at the other', async () => {
	const wanted = { code: 'X-1', name: 'Bell', text: '4\n5\n6' };
	const key = { 'idempotency-key': 'one item' };
	const answers = await Promise.all([
		at(first, anna).call('POST', '/items', wanted, key),
		at(second, anna).call('POST', '/items', wanted, key),
	]);
	expect(answers.map(({ status }) => status)).toEqual([201, 201]);
	expect(answers[0]!.body).toEqual(answers[1]!.body);
});
