import { isIP } from 'node:net';
import type { Cookies, RequestEvent } from '@sveltejs/kit';
import { type For } from '../../wire/access';
import { type Call, CALLS } from '../../wire/calls';
import { pageFor } from '../../wire/pages';
import { type Caller, callerOf, signInIsOn, thisMachine } from '../access/caller';
import { digestOf } from '../access/keys';
import type { From } from '../access/signing-in';
import { NOBODY_SIGNS_IN, Refusal } from '../refusal';
import { ownOrigins } from './origin-check';

/** Who stands before a route, and whom it is for. */

const SESSION_DAYS = 14;
const KNOWN_DAYS = 180;
const KNOWN = 'ventrel_known';
const DAY = 86_400;

/** Whether the request came under a name of ours that is reached by https, so that cookies go nowhere else. */
export const isSecure = (headers: Headers): boolean =>
	ownOrigins(process.env).some(
		({ protocol, host }) => protocol === 'https:' && host === headers.get('host')?.toLowerCase(),
	);

/** A cookie of this prefix is taken from this host alone, whatever its neighbours set. */
const sessionName = (headers: Headers): string =>
	isSecure(headers) ? '__Host-ventrel_session' : 'ventrel_session';

/** Hands a browser its session; that it once had one stays known when the session has ended. */
export function giveSession(
	{ cookies, request: { headers } }: Pick<RequestEvent, 'cookies' | 'request'>,
	key: string,
): void {
	const options = { path: '/', httpOnly: true, sameSite: 'lax', secure: isSecure(headers) } as const;
	cookies.set(sessionName(headers), key, { ...options, maxAge: SESSION_DAYS * DAY });
	cookies.set(KNOWN, digestOf(key).toString('hex'), { ...options, maxAge: KNOWN_DAYS * DAY });
}

export const takeSession = ({
	cookies,
	request: { headers },
}: Pick<RequestEvent, 'cookies' | 'request'>): void =>
	cookies.delete(sessionName(headers), { path: '/', secure: isSecure(headers) });

/** The key that a request shows: of a token, else of a session. */
function keyOf(headers: Headers, cookies: Cookies): string | null {
	const shown = headers.get('authorization');
	if (shown !== null) return /^Bearer ([\w-]{20,100})$/i.exec(shown)?.[1] ?? '';
	return cookies.get(sessionName(headers)) ?? null;
}

/** Addresses of this machine may be written as of the newer protocol. */
const plain = (address: string) => address.replace(/^::ffff:/i, '');

/** Where a request comes from. What a proxy says of that is believed of the one that VENTREL_PROXY names. */
export function addressOf(headers: Headers, socket: string): string {
	const last = headers.get('x-forwarded-for')?.split(',').at(-1)?.trim() ?? '';
	const proxy = process.env.VENTREL_PROXY;
	return proxy && plain(socket) === plain(proxy) && isIP(last) !== 0 ? plain(last) : plain(socket);
}

const browserOf = (headers: Headers): string => {
	const agent = headers.get('user-agent') ?? '';
	const name = /(Firefox|Edg|OPR|Chrome|Safari|curl)\/[\d.]*/.exec(agent)?.[1] ?? 'a program';
	const system = /(Windows|Mac OS X|Android|iPhone|iPad|Linux)/.exec(agent)?.[1];
	return [{ Edg: 'Edge', OPR: 'Opera', Chrome: 'Chromium' }[name] ?? name, system]
		.filter(Boolean)
		.join(' on ');
};

/** Where somebody signs in from. */
export function fromOf({ request: { headers }, cookies, locals }: RequestEvent): From {
	const known = cookies.get(KNOWN) ?? '';
	return {
		address: locals.address,
		browser: browserOf(headers),
		known: /^[0-9a-f]{64}$/.test(known) ? known : null,
	};
}

/** Who asks; null where nobody is signed in. */
export async function callerOfRequest(
	{ request, cookies, locals }: RequestEvent,
	workspaceId: number,
): Promise<Caller | null> {
	const { headers } = request;
	if (!signInIsOn())
		return thisMachine(
			workspaceId,
			`${locals.address} ${headers.has('sec-fetch-site') ? 'browser' : 'program'}`,
		);
	const key = keyOf(headers, cookies);
	return key ? callerOf(key) : null;
}

/** Whom a route is for, as its call or page declares; null where there is no such call. */
export function declaredFor(route: string | null, method: string): { who: For; fresh?: boolean } | null {
	if (route === null) return null;
	if (!route.startsWith('/api/v1/')) {
		const who = pageFor(route);
		return who && { who };
	}
	const key = `${method === 'HEAD' ? 'GET' : method} ${route.slice('/api/v1'.length)}`;
	return Object.hasOwn(CALLS, key) ? (CALLS as Record<string, Call>)[key]! : null;
}

/** The person who asks, by a session of theirs. @throws Refusal where it is a program, or nobody signs in */
export function personOf({ caller }: App.Locals): Caller & { id: number; session: number } {
	if (caller?.kind === 'machine') throw new Refusal(409, NOBODY_SIGNS_IN);
	if (!caller || caller.session === null)
		throw new Refusal(403, 'This is for people who are signed in; a token is for programs.');
	return caller as Caller & { id: number; session: number };
}
