import { request } from 'node:http';
import { TOTP, Secret } from 'otpauth';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { HappenedWindow, Me, People, Role, Session } from '../../src/lib/wire/access';
import { mayDo } from '../../src/lib/wire/access';
import { type Call, CALLS } from '../../src/lib/wire/calls';
import { PAGES } from '../../src/lib/wire/pages';
import type { RefusalBody } from '../../src/lib/wire/service';
import { type App, until } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { drawFrom, drawsFrom, type Schema } from '../support/from-schema';
import {
	callingWith,
	cookieOf,
	earlyInStep,
	invited,
	makePerson,
	makeToken,
	PASSWORD,
	type Signed,
	signIn,
	startForPeople,
} from '../support/people';

let database: TestDatabase;
let app: App;
let anna: Signed;
let ben: Signed;
let cleo: Signed;

beforeAll(async () => {
	database = await makeDatabase();
	app = await startForPeople(database, { env: { VENTREL_PROXY: '127.0.0.9' } });
	anna = await makePerson(database, app, 'Anna', 'manage');
	ben = await makePerson(database, app, 'Ben', 'work');
	cleo = await makePerson(database, app, 'Cleo', 'look');
	await ben.call('POST', '/items', { code: 'D-1', name: 'Bell', text: '4\n5\n6\n7\n6\n5' });
});
afterAll(async () => {
	await app?.stop();
	await database?.drop();
});

/** What lies in the database of what calls could change. */
async function counts(): Promise<string> {
	const { rows } = await database.client.query(
		`SELECT (SELECT count(*) FROM item) || '/' || (SELECT count(*) FROM actual) || '/' || (SELECT count(*) FROM adopted_forecast)
			|| '/' || (SELECT count(*) FROM layer_entry) || '/' || (SELECT count(*) FROM candidate) || '/' || (SELECT count(*) FROM sweep)
			|| '/' || (SELECT count(*) FROM kept_view) || '/' || (SELECT count(*) FROM actor) || '/' || (SELECT count(*) FROM hide_entry)
			|| '/' || (SELECT count(*) FROM session WHERE ended_at IS NULL) || '/' || (SELECT alarm_chance FROM workspace LIMIT 1) AS counts`,
	);
	return rows[0].counts as string;
}

interface Asked {
	key: string;
	who: Call['who'];
	method: string;
	path: string;
	init: RequestInit;
}

/** Each call as its declaration has it, with a body that its schema takes. */
const DECLARED: Asked[] = (Object.entries(CALLS) as [string, Call][]).map(([key, call], at) => {
	const [method, path] = key.split(' ') as [string, string];
	const body = call.takes && JSON.stringify(drawFrom(call.takes as unknown as Schema, drawsFrom(at + 1)));
	return {
		key,
		who: call.who,
		method,
		path: `/api/v1${path.replace('[code]', 'D-1').replace('[id]', '1')}`,
		init: {
			method,
			...(body !== undefined && {
				body: call.file ? `${body}\n1\n2\n3` : body,
				headers: { 'content-type': call.file ? 'application/octet-stream' : 'application/json' },
			}),
		},
	};
});
const GUARDED = DECLARED.filter(({ who }) => who !== 'anyone');

async function answered({ path, init }: Asked, headers: Record<string, string>) {
	const stop = new AbortController();
	const response = await fetch(app.url + path, {
		...init,
		headers: { ...(init.headers as Record<string, string>), ...headers },
		redirect: 'manual',
		signal: stop.signal,
	});
	const text = /^application\/(problem\+)?json/.test(response.headers.get('content-type') ?? '')
		? await response.text()
		: '';
	stop.abort();
	return { status: response.status, text };
}

/** A session that has ended, a token that was revoked, and keys that never were. */
async function deadKeys(): Promise<[string, Record<string, string>][]> {
	const gone = cookieOf(await signIn(app, 'Cleo'));
	await callingWith(app, 'Cleo', { cookie: gone }).call('POST', '/sign-out');
	const token = await makeToken(app, anna, `gone ${Math.random()}`, 'manage');
	const { body } = await anna.call<{ id: number; name: string }[]>('GET', '/tokens');
	await anna.call('POST', `/tokens/${body.find(({ name }) => name === token.name)!.id}/revoked`);
	return [
		['nothing', {}],
		['an ended session', { cookie: gone }],
		['a revoked token', token.headers],
		['a cookie that was made up', { cookie: `ventrel_session=${'a'.repeat(43)}` }],
		['the digest of a session in place of its key', { cookie: `ventrel_session=${'0'.repeat(64)}` }],
		['a token that was made up', { authorization: `Bearer ventrel_${'a'.repeat(43)}` }],
		['a session as a token of nobody', { authorization: `Basic ${btoa('Anna:' + PASSWORD)}` }],
		['a made-up token beside a live session', { ...anna.headers, authorization: 'Bearer nothing' }],
		[
			'an address of this machine that a proxy is said to have seen',
			{ 'x-forwarded-for': '127.0.0.1', forwarded: 'for=127.0.0.1', 'x-real-ip': '127.0.0.1' },
		],
		[
			'a name in headers',
			{ 'x-user': 'Anna', 'x-forwarded-user': 'Anna', 'remote-user': 'Anna', cookie: 'role=manage' },
		],
	];
}

describe('somebody who knows only addresses', () => {
	test('gets nothing of any call, whatever they show', async () => {
		const keys = await deadKeys();
		const before = await counts();
		for (const [what, headers] of keys)
			for (const call of GUARDED) {
				const { status, text } = await answered(call, headers);
				expect([call.key, what, status]).toEqual([call.key, what, 401]);
				expect(text).not.toContain('Bell');
			}
		expect(await counts()).toBe(before);
	});

	test('is led to the sign-in from every page, and told nothing by the data behind it', async () => {
		const keys = await deadKeys();
		for (const [route, who] of Object.entries(PAGES)) {
			const path = route.replace('[code]', 'D-1').replace('[id]', '1');
			for (const [what, headers] of keys) {
				for (const address of [path, `${path === '/' ? '' : path}/__data.json`]) {
					const response = await fetch(app.url + address, { headers, redirect: 'manual' });
					const text = await response.text();
					expect([what, address, text.includes('Bell') || text.includes('D-1 ')]).toEqual([
						what,
						address,
						false,
					]);
					if (who === 'anyone') continue;
					const led =
						response.headers.get('location') ?? (JSON.parse(text) as { location?: string }).location;
					expect([what, address, led?.startsWith('/sign-in')]).toEqual([what, address, true]);
				}
			}
		}
	});

	test('is not told what is there and what is not', async () => {
		for (const path of ['/api/v1/items/nobody', '/api/v1/nowhere', '/api/v2', '/api/v1/items/D-1'])
			expect((await fetch(app.url + path)).status).toBe(401);
		for (const path of ['/nowhere', '/items/nobody'])
			expect((await fetch(app.url + path, { redirect: 'manual' })).status).toBe(303);
		expect((await fetch(`${app.url}/api/v1/health`)).status).toBe(200);
	});
});

test('the sign-in leads on to places of ours alone', async () => {
	for (const [to, place] of [
		['/items/D-1?view=ahead', '/items/D-1?view=ahead'],
		['//evil.example', '/items'],
		['/\\evil.example', '/items'],
		['https://evil.example', '/items'],
		['javascript:alert(1)', '/items'],
		['', '/items'],
	]) {
		const response = await fetch(`${app.url}/sign-in?to=${encodeURIComponent(to!)}`, {
			headers: anna.headers,
			redirect: 'manual',
		});
		expect([to, response.status, response.headers.get('location')]).toEqual([to, 303, place]);
	}
});

describe('roles', () => {
	test('each call is for those whom its declaration names, and for no one else', async () => {
		const before = await counts();
		for (const [person, role] of [
			[cleo, 'look'],
			[ben, 'work'],
		] as [Signed, Role][]) {
			for (const call of GUARDED.filter(({ who }) => !mayDo(role, who))) {
				const { status, text } = await answered(call, person.headers);
				expect([call.key, role, status]).toEqual([call.key, role, 403]);
				expect((JSON.parse(text) as RefusalBody).message).toMatch(
					/is for the role “(work|manage)”.*Ask someone who manages: Anna/,
				);
			}
			const token = await makeToken(app, anna, `program of ${role}`, role);
			for (const call of GUARDED.filter(({ who }) => !mayDo(role, who)))
				expect([call.key, (await answered(call, token.headers)).status]).toEqual([call.key, 403]);
		}
		expect((await counts()).replace(/\d+\/(?=\d+\/[\d]+\/[\d.]+$)/, '')).toBe(
			before.replace(/\d+\/(?=\d+\/[\d]+\/[\d.]+$)/, ''),
		);
		// Whoever may look gets every answer that looking gives.
		for (const call of GUARDED.filter(({ who, method }) => who === 'look' && method === 'GET')) {
			const { status } = await answered(call, cleo.headers);
			expect([call.key, [401, 403].includes(status)]).toEqual([call.key, false]);
		}
	});

	test('a token changes no people, tokens or roles, whatever its role', async () => {
		const token = await makeToken(app, anna, 'all mighty', 'manage');
		for (const call of GUARDED.filter(({ key }) => (CALLS as Record<string, Call>)[key]!.fresh)) {
			const { status, text } = await answered(call, token.headers);
			expect([call.key, status, text.includes('token')]).toEqual([call.key, 403, true]);
		}
	});

	test('three roles at the same item: one looks, one adopts under their own name, one sees who', async () => {
		const carl = await makePerson(database, app, 'Carl', 'look');
		expect((await carl.call('GET', '/items/D-1')).status).toBe(200);
		const refused = await carl.call('PATCH', '/items/D-1', {
			name: 'Horn',
			seen: { code: 'D-1', name: 'Bell', unit: '', retired: false },
		});
		expect(refused.status).toBe(403);
		const named = await ben.call<{ name: string; changes: { by: string }[] }>('PATCH', '/items/D-1', {
			name: 'Bell, brass',
			seen: { code: 'D-1', name: 'Bell', unit: '', retired: false },
		});
		expect([named.body.name, named.body.changes[0]!.by]).toEqual(['Bell, brass', 'Ben']);
		const { body } = await anna.call<HappenedWindow>('GET', '/happened');
		expect(body.events.find(({ kind }) => kind === 'renamed')).toMatchObject({ by: 'Ben', code: 'D-1' });
		expect(body.events.find(({ kind, by }) => kind === 'refused' && by === 'Carl')).toMatchObject({
			words: 'PATCH /api/v1/items/[code]',
		});
		// Who only looks is not shown who signed in from where.
		const seen = (await cleo.call<HappenedWindow>('GET', '/happened')).body.events;
		expect(seen.some(({ about }) => about === 'access' || about === 'refused')).toBe(false);
		expect((await cleo.call('GET', '/happened?about=access')).status).toBe(403);
	});
});

describe('another site', () => {
	const foreign: Record<string, string>[] = [
		{ origin: 'https://evil.example' },
		{ origin: 'null' },
		{ 'sec-fetch-site': 'cross-site' },
		{ 'sec-fetch-site': 'same-site' },
	];
	test('uses the cookie of somebody who is signed in for no call at all', async () => {
		const before = await counts();
		for (const call of DECLARED)
			for (const headers of foreign) {
				const { status } = await sent(call, { ...anna.headers, ...headers });
				expect([call.key, headers, status]).toEqual([call.key, headers, 403]);
			}
		expect(await counts()).toBe(before);
	});

	/** With headers that no fetch sends. */
	function sent({ path, init }: Asked, headers: Record<string, string>): Promise<{ status: number }> {
		return new Promise((resolve, reject) => {
			const { hostname, port } = new URL(app.url);
			const out = request(
				{ hostname, port, path, method: init.method, headers: { ...(init.headers as object), ...headers } },
				(response) => {
					resolve({ status: response.statusCode! });
					response.destroy();
				},
			);
			out.on('error', reject);
			out.end(init.body as string | undefined);
		});
	}
});

describe('signing in', () => {
	/** As after thirty wrong ones under a name, so that no clock of a busy machine decides. */
	const wrongForLong = async (name: string) => {
		const { rowCount } = await database.client.query(
			`UPDATE sign_in_failure SET failures = 30, at = now() WHERE key = sha256(convert_to($1, 'UTF8'))`,
			[`name ${name.toLowerCase()}`],
		);
		expect(rowCount).toBe(1);
	};

	test('says in the same words that a name or a password is wrong', async () => {
		const answers = [await signIn(app, 'Anna', 'not her password'), await signIn(app, 'nobody', PASSWORD)];
		const bodies = await Promise.all(answers.map((answer) => answer.json()));
		expect(answers.map(({ status }) => status)).toEqual([401, 401]);
		expect(bodies[0]).toEqual(bodies[1]);
	});

	test('the cookie is for no script and no other site', async () => {
		const response = await signIn(app, 'Cleo');
		expect(response.status).toBe(200);
		for (const cookie of response.headers.getSetCookie()) expect(cookie).toMatch(/HttpOnly; SameSite=Lax/i);
		const { rows } = await database.client.query('SELECT sha256 FROM session');
		const key = cookieOf(response).split('=')[1]!;
		expect(JSON.stringify(rows)).not.toContain(key);
	});

	test('slows down by name, not for a browser that was here before, nor for the right second factor', async () => {
		await makePerson(database, app, 'Dora', 'work');
		const known = (await signIn(app, 'Dora')).headers
			.getSetCookie()
			.map((cookie) => cookie.split(';')[0]!)
			.find((cookie) => cookie.startsWith('ventrel_known='))!;
		// Whether somebody has the name or not.
		for (const name of ['Dora', 'Nobody at all']) {
			const statuses: number[] = [];
			for (let i = 0; i < 6; i++) statuses.push((await signIn(app, name, `guess number ${i}`)).status);
			expect(statuses).toEqual([401, 401, 401, 401, 401, 401]);
			await wrongForLong(name);
			const slowed = await signIn(app, name.toLowerCase());
			expect([slowed.status, Number(slowed.headers.get('retry-after'))]).toEqual([429, 900]);
		}
		expect((await signIn(app, 'Dora', PASSWORD, { headers: { cookie: known } })).status).toBe(200);
		// A made-up one helps nobody.
		expect(
			(await signIn(app, 'Dora', PASSWORD, { headers: { cookie: `ventrel_known=${'0'.repeat(64)}` } }))
				.status,
		).toBe(429);
	});

	test('with a second factor a password is not enough, a code is good once, and name slowing keeps nobody out who has it', async () => {
		const eve = await makePerson(database, app, 'Eve', 'work');
		const { body: made } = await eve.call<{ secret: string; address: string }>('POST', '/me/second-factor');
		expect(made.address).toContain('otpauth://totp/');
		const totp = new TOTP({ secret: Secret.fromBase32(made.secret) });
		const codeOf = (step: number) => totp.generate({ timestamp: Date.now() + 30_000 * step });
		await earlyInStep();
		const first = codeOf(-1);
		expect((await eve.call('PUT', '/me/second-factor', { secret: made.secret, code: '000000' })).status).toBe(
			422,
		);
		const on = await eve.call<Me>('PUT', '/me/second-factor', { secret: made.secret, code: first });
		expect(on.body.secondFactor).toBe(true);
		expect((await signIn(app, 'Eve')).status).toBe(401);
		expect((await signIn(app, 'Eve', PASSWORD, { code: first })).status).toBe(401);
		const code = codeOf(0);
		expect((await signIn(app, 'Eve', PASSWORD, { code })).status).toBe(200);
		expect((await signIn(app, 'Eve', PASSWORD, { code })).status).toBe(401);
		// Others of these tests were wrong from this address too.
		await database.client.query('DELETE FROM sign_in_failure');
		for (let i = 0; i < 2; i++) await signIn(app, 'Eve', `guess number ${i}`);
		await wrongForLong('Eve');
		expect((await signIn(app, 'Eve')).status).toBe(429);
		expect((await signIn(app, 'Eve', PASSWORD, { code: codeOf(1) })).status).toBe(200);
	});

	test('is slowed down by address, and a forged one is not believed', async () => {
		let slowed = 0;
		for (let i = 0; i < 40; i++) {
			const { status } = await signIn(app, `guess ${i}`, PASSWORD, {
				headers: {
					'x-forwarded-for': `10.0.0.${i}`,
					forwarded: `for=10.0.0.${i}`,
					'x-real-ip': `10.0.0.${i}`,
				},
			});
			if (status === 429) slowed++;
		}
		expect(slowed).toBeGreaterThan(0);
		// So that others of these tests are not kept waiting.
		await database.client.query('DELETE FROM sign_in_failure');
	});

	test.each([
		['short', 'at least 12'],
		['passwordpassword', 'pattern|common'],
		['Password2024!!', 'common'],
		['qwerty123456', 'common|pattern'],
		['abcabcabcabcabc', 'pattern'],
		['0123456789012', 'pattern'],
		['ventrel-Fritz', 'name'],
		['x'.repeat(300), 'at most'],
	])('a password such as %s is refused, with the reason', async (password, why) => {
		await database.client.query('BEGIN');
		await database.client.query('COMMIT');
		const key = await invited(database, `Fritz ${password.slice(0, 20)}`, 'look');
		const response = await fetch(`${app.url}/api/v1/invited`, {
			method: 'POST',
			headers: { 'content-type': 'application/json' },
			body: JSON.stringify({ key, password }),
		});
		expect(response.status).toBe(422);
		expect(((await response.json()) as RefusalBody).message).toMatch(new RegExp(why));
	});

	test('a link is good once, for a day, and no longer when there is a newer one', async () => {
		const use = (key: string) => app.call('POST', '/invited', { key, password: PASSWORD });
		const first = await invited(database, 'Gita', 'look');
		const { body } = await anna.call<People>('GET', '/people');
		const gita = body.people.find(({ name }) => name === 'Gita')!;
		expect(gita).toMatchObject({ joined: false, role: 'look' });
		const second = (await anna.call<{ key: string }>('POST', `/people/${gita.id}/link`)).body.key;
		expect((await use(first)).status).toBe(422);
		expect((await use(second)).status).toBe(200);
		expect((await use(second)).status).toBe(422);
		expect((await use('x'.repeat(43))).status).toBe(422);
		const late = (await anna.call<{ key: string }>('POST', `/people/${gita.id}/link`)).body.key;
		await database.client.query(
			`UPDATE person_link SET ends_at = now() - interval '1 minute' WHERE used_at IS NULL`,
		);
		expect((await use(late)).status).toBe(422);
	});
});

describe('sessions', () => {
	const live = async (cookie: string) => (await app.call('GET', '/me', undefined, { cookie })).status === 200;

	test('end by hand, by a new password, by another role, by leaving, each at once and with its open streams', async () => {
		const hana = await makePerson(database, app, 'Hana', 'work');
		const other = cookieOf(await signIn(app, 'Hana'));
		const stream = await fetch(`${app.url}/api/v1/progress`, { headers: { cookie: other } });
		const reader = stream.body!.getReader();
		await reader.read();
		const { body: sessions } = await hana.call<Session[]>('GET', '/sessions');
		expect(sessions).toHaveLength(2);
		const left = await hana.call<Session[]>(
			'POST',
			`/sessions/${sessions.find(({ own }) => !own)!.id}/ended`,
		);
		expect(left.body.map(({ own }) => own)).toEqual([true]);
		expect(await live(other)).toBe(false);
		// What was open ends as well; it would go on for ever otherwise.
		for (let part = await reader.read(); !part.done; part = await reader.read());

		const again = cookieOf(await signIn(app, 'Hana'));
		const changed = await fetch(`${app.url}/api/v1/me/password`, {
			method: 'PUT',
			headers: { 'content-type': 'application/json', ...hana.headers },
			body: JSON.stringify({ current: PASSWORD, password: 'a chain of eight speeds' }),
		});
		expect(changed.status).toBe(200);
		expect([await live(again), await live(hana.headers.cookie!), await live(cookieOf(changed))]).toEqual([
			false,
			false,
			true,
		]);
		expect((await signIn(app, 'Hana')).status).toBe(401);

		const { body } = await anna.call<People>('GET', '/people');
		const { id } = body.people.find(({ name }) => name === 'Hana')!;
		expect((await anna.call('PATCH', `/people/${id}`, { role: 'look' })).body).toMatchObject({
			role: 'look',
		});
		expect(await live(cookieOf(changed))).toBe(false);
		const last = cookieOf(await signIn(app, 'Hana', 'a chain of eight speeds'));
		expect((await anna.call('PATCH', `/people/${id}`, { left: true })).body).toBeNull();
		expect(await live(last)).toBe(false);
		expect((await signIn(app, 'Hana', 'a chain of eight speeds')).status).toBe(401);
		// What they did stays theirs, and somebody else may have the name.
		await makePerson(database, app, 'Hana', 'look');
	});

	test('end after 12 hours without use, and after 14 days in any case', async () => {
		for (const late of [
			`used_at = now() - interval '12 hours 1 minute'`,
			`created_at = now() - interval '14 days 1 minute'`,
		]) {
			const cookie = cookieOf(await signIn(app, 'Cleo'));
			expect(await live(cookie)).toBe(true);
			await database.client.query(
				`UPDATE session SET ${late} WHERE id = (SELECT max(session.id) FROM session JOIN actor ON actor.id = actor_id WHERE name = 'Cleo')`,
			);
			expect(await live(cookie)).toBe(false);
		}
	});

	test('of others cannot be ended', async () => {
		const { body } = await anna.call<Session[]>('GET', '/sessions');
		expect((await ben.call('POST', `/sessions/${body[0]!.id}/ended`)).status).toBe(404);
	});

	test('ask for the password again before access is changed, once it was given over 10 minutes ago', async () => {
		await database.client.query('ALTER TABLE session DISABLE TRIGGER session_is_recorded');
		await database.client.query(`UPDATE session SET proved_at = now() - interval '11 minutes'`);
		await database.client.query('ALTER TABLE session ENABLE TRIGGER session_is_recorded');
		const wanted = { name: 'Ivo', role: 'look' };
		const refused = await anna.call<RefusalBody>('POST', '/people', wanted);
		expect([refused.status, refused.body.again]).toEqual([403, true]);
		expect((await anna.call('POST', '/me/again', { password: 'not the right one' })).status).toBe(422);
		expect((await anna.call('POST', '/me/again', { password: PASSWORD })).status).toBe(200);
		expect((await anna.call('POST', '/people', wanted)).status).toBe(201);
		// Work goes on meanwhile.
		expect((await ben.call('GET', '/items')).status).toBe(200);
	});
});

describe('people', () => {
	test('somebody who manages is always left', async () => {
		const { body } = await anna.call<People>('GET', '/people');
		const own = body.people.find(({ name }) => name === 'Anna')!;
		for (const change of [{ role: 'work' }, { left: true }]) {
			const { status, body: refused } = await anna.call<RefusalBody>('PATCH', `/people/${own.id}`, change);
			expect([status, refused.message]).toEqual([
				409,
				'Anna is the only one left who manages. Give somebody else that role first.',
			]);
		}
	});

	test('of two who take the role from each other at once, one is left', async () => {
		const jo = await makePerson(database, app, 'Jo', 'manage');
		const { people } = (await anna.call<People>('GET', '/people')).body;
		const idOf = (whose: string) => people.find(({ name }) => name === whose)!.id;
		const answers = await Promise.all([
			anna.call('PATCH', `/people/${idOf('Jo')}`, { role: 'work' }),
			jo.call('PATCH', `/people/${idOf('Anna')}`, { role: 'work' }),
		]);
		const { rows } = await database.client.query(
			`SELECT name FROM actor WHERE kind = 'person' AND role = 'manage' AND ended_at IS NULL`,
		);
		expect(rows.length).toBeGreaterThanOrEqual(1);
		expect(answers.some(({ status }) => status === 200)).toBe(true);
		// Whoever is left gives it back.
		const lead = rows.some(({ name }) => name === 'Anna') ? 'Anna' : 'Jo';
		const now = callingWith(app, lead, { cookie: cookieOf(await signIn(app, lead)) });
		await now.call('PATCH', `/people/${idOf('Anna')}`, { role: 'manage' });
		anna = callingWith(app, 'Anna', { cookie: cookieOf(await signIn(app, 'Anna')) });
		await anna.call('PATCH', `/people/${idOf('Jo')}`, { left: true });
	});

	test('a second factor that is demanded makes who manages without one work, until it is on', async () => {
		expect((await anna.call('PUT', '/access', { secondFactor: true })).status).toBe(409);
		const kim = await makePerson(database, app, 'Kim', 'manage');
		const { body: made } = await kim.call<{ secret: string }>('POST', '/me/second-factor');
		const totp = new TOTP({ secret: Secret.fromBase32(made.secret) });
		await kim.call('PUT', '/me/second-factor', { secret: made.secret, code: totp.generate() });
		expect((await kim.call('PUT', '/access', { secondFactor: true })).status).toBe(200);
		const { body: me } = await anna.call<Me>('GET', '/me');
		expect([me.role, me.secondFactorWanted]).toEqual(['work', true]);
		expect((await anna.call<RefusalBody>('GET', '/people')).body.message).toContain('second factor');
		expect((await kim.call('POST', '/me/second-factor/off')).status).toBe(409);
		expect((await kim.call('PUT', '/access', { secondFactor: false })).status).toBe(200);
		expect((await anna.call('GET', '/people')).status).toBe(200);
	});

	test('two of one name are not, and a name that is no text is refused', async () => {
		expect((await anna.call('POST', '/people', { name: 'BEN', role: 'look' })).status).toBe(409);
		for (const name of ['', 'x'.repeat(81), 'a\u0000b', '   '])
			expect((await anna.call('POST', '/people', { name, role: 'look' })).status).toBe(422);
		expect((await anna.call('POST', '/people', { name: 'Lea', role: 'king' })).status).toBe(422);
	});
});

test('a token is made, used, seen to be used, ends, and is revoked at once', async () => {
	const token = await makeToken(app, anna, 'Stock planning', 'work');
	expect((await token.call('GET', '/items')).status).toBe(200);
	const named = await token.call<{ changes: { by: string }[] }>('PATCH', '/items/D-1', {
		unit: 'boxes',
		seen: { code: 'D-1', name: 'Bell, brass', unit: '', retired: false },
	});
	expect(named.body.changes[0]!.by).toBe('Stock planning (token)');
	const of = async () =>
		(await anna.call<{ id: number; name: string; used: string | null }[]>('GET', '/tokens')).body.find(
			({ name }) => name === 'Stock planning',
		);
	expect((await of())!.used).not.toBeNull();
	expect((await anna.call('POST', `/tokens/${(await of())!.id}/revoked`)).status).toBe(200);
	expect((await token.call('GET', '/items')).status).toBe(401);
	expect(await of()).toBeUndefined();
	const short = await makeToken(app, anna, 'Short', 'look');
	await database.client.query(`UPDATE token_proof SET ends_at = now()`);
	expect((await short.call('GET', '/items')).status).toBe(401);
});

test('two people at twenty items at once: each change is under the name of who made it', async () => {
	const lena = await makePerson(database, app, 'Lena', 'work');
	const codes = Array.from({ length: 20 }, (_, i) => `P-${i}`);
	await Promise.all(
		codes.map((code) => ben.call('POST', '/items', { code, name: code, text: '1\n2\n3\n4\n5' })),
	);
	const change = (who: Signed, code: string) =>
		who.call<{ name: string; changes: { by: string }[] }>('PATCH', `/items/${code}`, {
			name: `of ${who.name}`,
			seen: { code, name: code, unit: '', retired: false },
		});
	await Promise.all(
		codes.map(async (code) => {
			const answers = await Promise.all([change(ben, code), change(lena, code)]);
			expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
			const won = answers.find(({ status }) => status === 200)!.body;
			expect(won.changes[0]!.by).toBe(won.name.slice(3));
		}),
	);
});

test('500 wrong sign-ins at once are refused, most without being looked at, while health answers', async () => {
	const attempts = Array.from({ length: 500 }, (_, i) => signIn(app, `flood ${i}`));
	const health = await fetch(`${app.url}/api/v1/health`);
	expect(health.status).toBe(200);
	const statuses = (await Promise.all(attempts)).map(({ status }) => status);
	expect([...new Set(statuses)].every((status) => [401, 429, 503].includes(status))).toBe(true);
	await database.client.query('DELETE FROM sign_in_failure');
	await until(async () => (await signIn(app, 'Cleo')).status === 200, 'a sign-in after the flood');
});
