import { expect, test, vi } from 'vitest';
import { meaningOf } from './database/database';
import { refusalOf, route } from './http/http';
import { log } from './log';

const failed = (message: string, code?: string) => Object.assign(new Error(message), code && { code });

test.each([
	['Client has encountered a connection error and is not queryable', undefined, 'unreachable'],
	['Connection terminated unexpectedly', undefined, 'unreachable'],
	['terminating connection due to administrator command', '57P01', 'unreachable'],
	['could not extend file: No space left on device', '53100', 'full'],
	['write ENOSPC', 'ENOSPC', 'full'],
	['canceling statement due to lock timeout', '55P03', 'busy'],
	['sorry, too many clients already', '53300', 'busy'],
	['invalid input syntax', '22P02', 'bad data'],
	['something of ours', undefined, null],
])('%s (%s): %s', (message, code, meaning) => expect(meaningOf(failed(message, code))).toBe(meaning));

test('a full disk is called a full disk', () => {
	vi.spyOn(log, 'warn').mockImplementation(() => undefined);
	const refusal = refusalOf(failed('No space left on device', '53100'))!;
	expect([refusal.status, refusal.message]).toEqual([503, expect.stringMatching(/^The disk is full/)]);
});

test('a caller that hangs up is no fault of the database, and not logged as one', async () => {
	const warned = vi.spyOn(log, 'warn').mockImplementation(() => undefined);
	warned.mockClear();
	const answer = route('GET /progress', () => {
		throw failed('aborted', 'ECONNRESET');
	});
	const event = (aborted: boolean) =>
		({ locals: { hangUp: aborted ? AbortSignal.abort() : new AbortController().signal } }) as never;
	expect((await answer(event(true))).status).toBe(499);
	expect(warned).not.toHaveBeenCalled();
	expect((await answer(event(false))).status).toBe(503);
	expect(warned).toHaveBeenCalledOnce();
});
