import { saySignIn } from '../../scripts/lib/access.mjs';
import { linkFor } from '../../scripts/lib/person-link.mjs';
import type { Role } from '../../src/lib/wire/access';
import { type App, startApp, until } from './app';
import type { TestDatabase } from './database';

export const PASSWORD = 'spokes and a bell';

/** The application, for people who sign in. */
export async function startForPeople(
	database: TestDatabase,
	{ env = {}, ...options }: Parameters<typeof startApp>[1] = {},
): Promise<App> {
	await saySignIn(database.ownerUrl, true);
	return startApp(database.url, { ...options, env: { ...env, VENTREL_SIGN_IN: 'on' } });
}

/** Somebody who is signed in, and what they call with. */
export interface Signed extends Pick<App, 'call' | 'url'> {
	name: string;
	headers: Record<string, string>;
}

/** The same application, called with other headers. */
export const callingWith = (app: App, name: string, headers: Record<string, string>): Signed => ({
	url: app.url,
	name,
	headers,
	call: (method, path, body, more = {}) => app.call(method, path, body, { ...headers, ...more }),
});

/** The key of a link for a person who is new. */
export async function invited(database: TestDatabase, name: string, role: Role): Promise<string> {
	await database.client.query('BEGIN');
	const key = await linkFor(database.client, { what: 'add', name, role });
	await database.client.query('COMMIT');
	return key;
}

/** The cookie of the session that an answer gives. */
export const cookieOf = (response: Response): string =>
	response.headers
		.getSetCookie()
		.map((cookie) => cookie.split(';')[0]!)
		.find((cookie) => /^(__Host-)?ventrel_session=./.test(cookie))!;

const post = (app: Pick<App, 'url'>, path: string, body: object, headers: Record<string, string> = {}) =>
	fetch(`${app.url}/api/v1${path}`, {
		method: 'POST',
		body: JSON.stringify(body),
		headers: { 'content-type': 'application/json', ...headers },
	});

/** Signs somebody in. @returns the answer */
export const signIn = (
	app: Pick<App, 'url'>,
	name: string,
	password = PASSWORD,
	more: { code?: string; headers?: Record<string, string> } = {},
): Promise<Response> =>
	post(app, '/sign-in', { name, password, ...(more.code && { code: more.code }) }, more.headers);

/** A person who has chosen a password by the link that invited them, signed in. */
export async function makePerson(
	database: TestDatabase,
	app: App,
	name: string,
	role: Role,
): Promise<Signed> {
	const key = await invited(database, name, role);
	const response = await post(app, '/invited', { key, password: PASSWORD });
	if (!response.ok) throw new Error(`${name}: ${await response.text()}`);
	return callingWith(app, name, { cookie: cookieOf(response) });
}

/** A token of a program, made by somebody who manages. */
export async function makeToken(app: App, by: Signed, name: string, role: Role): Promise<Signed> {
	const { body } = await by.call<{ token: string }>('POST', '/tokens', { name, role, days: 30 });
	return callingWith(app, name, { authorization: `Bearer ${body.token}` });
}

/** Milliseconds that a code of a second factor stands for. */
const STEP = 30_000;
/** Waits until codes of now and of the step before are good for a while yet, however slow the machine is. */
export const earlyInStep = (): Promise<void> =>
	until(() => Promise.resolve(Date.now() % STEP < STEP / 2), 'the beginning of a step');
