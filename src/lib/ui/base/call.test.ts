import { expect, test, vi } from 'vitest';
import { call, CallError, messageOf } from './call';

/** A server that answers once, and what it was asked. */
function server(status: number, body: string) {
	const fetch = vi.fn(async () => new Response(body, { status }));
	vi.stubGlobal('fetch', fetch);
	return () => {
		const [address, init] = fetch.mock.calls[0] as unknown as [string, RequestInit];
		return { address, ...init };
	};
}

test('places of a path are filled in as an address takes them, and the body is JSON', async () => {
	const asked = server(200, '{"version":4}');
	const wish = { version: 3, candidates: [], hidden: [] };
	expect(await call('PUT /items/[code]/line-up', { code: 'a/b ü' }, wish)).toEqual({ version: 4 });
	expect(asked()).toMatchObject({
		address: '/api/v1/items/a%2Fb%20%C3%BC/line-up',
		method: 'PUT',
		body: JSON.stringify(wish),
		headers: { 'content-type': 'application/json' },
		keepalive: false,
	});
});

test('what only asks has no body; a call made while leaving may outlive the page', async () => {
	const asked = server(200, '[]');
	await call('GET /items', {}, undefined, { leaving: true });
	expect(asked()).toMatchObject({ address: '/api/v1/items', method: 'GET', keepalive: true });
	expect(asked().body).toBeUndefined();
});

test('a refusal comes with its status, its sentence and what else it says', async () => {
	const body = { message: 'Somebody saved in between.', between: ['anna: left out May 2026'] };
	server(409, JSON.stringify(body));
	const refused = await call('GET /items/[code]', { code: 'x' }).catch((error: unknown) => error);
	expect(refused).toBeInstanceOf(CallError);
	expect(refused).toMatchObject({ status: 409, message: body.message, body });
});

test('an answer that is no JSON still comes to a sentence', async () => {
	server(502, '<html>');
	await expect(call('GET /items', {})).rejects.toMatchObject({
		status: 502,
		message: 'The server answered with 502.',
	});
});

test('a server that is not there is status 0, and says that nothing is lost', async () => {
	vi.stubGlobal('fetch', () => Promise.reject(new TypeError('failed')));
	const failure = await call('GET /items', {}).catch((error: unknown) => error);
	expect(failure).toMatchObject({ status: 0, body: null });
	expect(messageOf(failure)).toMatch(/cannot be reached.*Nothing is lost/);
	expect(messageOf('odd')).toBe('odd');
});
