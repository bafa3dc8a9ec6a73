import { afterEach, expect, test, vi } from 'vitest';
import { call, CallError } from './call';
import { onProofWanted, type Proof } from './proving';

/** A server that answers in turn. */
function server(...answers: [number, object][]) {
	const fetch = vi.fn(async () => {
		const [status, body] = answers.shift()!;
		return new Response(JSON.stringify(body), { status });
	});
	vi.stubGlobal('fetch', fetch);
	return fetch;
}
let forget = () => {};
const asked: Proof[] = [];
const proving = (given: boolean) => {
	asked.length = 0;
	forget = onProofWanted((what) => {
		asked.push(what);
		return Promise.resolve(given);
	}) as () => void;
};
afterEach(() => {
	forget();
});

const ENDED: [number, object] = [401, { message: 'Sign in first.' }];
const AGAIN: [number, object] = [403, { message: 'Give your password again.', again: true }];

test('a call that comes back for a sign-in is made again once somebody signed in', async () => {
	proving(true);
	const fetch = server(ENDED, [200, { version: 2 }]);
	const sent = { version: 1, candidates: [], hidden: [] };
	expect(await call('PUT /items/[code]/line-up', { code: 'x' }, sent)).toEqual({ version: 2 });
	expect(asked).toEqual(['sign in']);
	expect(fetch.mock.calls[0]).toEqual(fetch.mock.calls[1]);
});

test('of several that come back at once it is asked once', async () => {
	proving(true);
	server(ENDED, ENDED, ENDED, [200, {}], [200, {}], [200, {}]);
	await Promise.all([call('GET /items', {}), call('GET /newest', {}), call('GET /overview', {})]);
	expect(asked).toEqual(['sign in']);
});

test('who cancels is told what was refused', async () => {
	proving(false);
	server(AGAIN);
	const wanted = { name: 'Ben', role: 'look' } as const;
	await expect(call('POST /people', {}, wanted)).rejects.toMatchObject({ status: 403 });
	expect(asked).toEqual(['password']);
});

test('a role that may not is asked for nothing, and neither is a wrong password', async () => {
	proving(true);
	server([403, { message: 'This is for the role “work”.' }], ENDED);
	await expect(call('GET /items', {})).rejects.toBeInstanceOf(CallError);
	await expect(
		call('POST /sign-in', {}, { name: 'x', password: 'y' }, { proves: true }),
	).rejects.toMatchObject({ status: 401 });
	expect(asked).toEqual([]);
});
