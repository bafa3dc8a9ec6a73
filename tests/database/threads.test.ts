import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, afterEach, beforeAll, describe, expect, test } from 'vitest';
import { PATIENCE, Threads } from '../../src/lib/server/threads/threads';
import type { RefusalBody } from '../../src/lib/wire/service';
import { type App, startApp, until } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { emptyRows, farCell, farCells, manyKeys, manyRows } from '../made/hostile';

const WORK = fileURLToPath(new URL('../../build/work.js', import.meta.url));
const values = Array.from({ length: 20_000 }, (_, t) => 100 + (t % 24) + ((t * 7919) % 31));
/** Some seconds of arithmetic. */
const HEAVY = {
	series: { values, frequency: 'step', seasonLength: 24 },
	candidates: [{ id: 'a', method: 'holt-winters', season: 'additive', optimise: {} }],
	detail: 'summary',
};
const LIGHT = {
	series: { values: [4, 5, 6, 5], frequency: 'step' },
	candidates: [{ id: 'a', method: 'naive' }],
};
const bytes = (request: unknown) => Buffer.from(JSON.stringify(request));
const answerOf = (answer: Uint8Array) =>
	JSON.parse(new TextDecoder().decode(answer)) as { candidates: { ok: boolean }[] };

describe('threads', () => {
	let threads: Threads;
	const start = (count: number) => (threads = new Threads(WORK, count));
	afterEach(() => threads.close());
	const ask = (request: unknown, asker: Parameters<Threads['run']>[2] = { caller: 'one' }) =>
		threads.run('evaluateBody', bytes(request), asker);
	/** How a question ends that is expected to be refused. */
	const refusal = (question: Promise<unknown>) =>
		question.then(
			() => ({ status: 200, message: '' }),
			(error: { status: number; message: string }) => error,
		);

	test('answer, and refuse in words what they cannot', async () => {
		start(1);
		expect(answerOf(await ask(LIGHT)).candidates[0]!.ok).toBe(true);
		expect(await refusal(ask({ ...LIGHT, candidates: 7 }))).toMatchObject({
			status: 422,
			issues: [{ path: 'candidates', message: 'candidates are a list' }],
		});
		expect(await refusal(threads.run('evaluateBody', Buffer.from('{'), { caller: 'one' }))).toMatchObject({
			status: 422,
			message: 'The request is not JSON.',
		});
	});

	test('whoever hangs up stops what runs, and the next one gets a thread', async () => {
		start(1);
		const hangUp = new AbortController();
		const stopped = refusal(ask(HEAVY, { caller: 'one', signal: hangUp.signal }));
		const next = ask(LIGHT);
		hangUp.abort();
		expect(await stopped).toMatchObject({ status: 499 });
		expect(answerOf(await next).candidates[0]!.ok).toBe(true);
	});

	test('a newer question takes the place of an older one of the same name; another caller’s stays', async () => {
		start(2);
		const older = refusal(ask(HEAVY, { caller: 'one', question: 'dial' }));
		const other = refusal(ask(LIGHT, { caller: 'two', question: 'dial' }));
		const newer = ask(LIGHT, { caller: 'one', question: 'dial' });
		expect(await older).toMatchObject({
			status: 409,
			message: 'A newer question took the place of this one.',
		});
		expect((await other).status).toBe(200);
		expect(answerOf(await newer).candidates[0]!.ok).toBe(true);
	});

	test('callers take turns: one question does not wait behind another’s twenty', async () => {
		start(1);
		const order: string[] = [];
		const many = Array.from({ length: 20 }, () =>
			ask(LIGHT, { caller: 'many' }).then(() => order.push('many')),
		);
		const one = ask(LIGHT, { caller: 'one' }).then(() => order.push('one'));
		await Promise.all([...many, one]);
		expect(order.indexOf('one')).toBeLessThan(4);
	});

	test('what is too many waits nowhere: it is told to come again', async () => {
		start(1);
		const hangUp = new AbortController();
		const asked = Array.from({ length: 40 }, () =>
			refusal(ask(HEAVY, { caller: 'one', signal: hangUp.signal })),
		);
		const turnedAway = (await Promise.all(asked.slice(-7))).map(({ status, message }) => [status, message]);
		for (const [status, message] of turnedAway)
			expect([status, message]).toEqual([503, expect.stringMatching(/32 of your requests are waiting/)]);
		// Another caller still gets in line.
		const other = ask(LIGHT, { caller: 'two' });
		hangUp.abort();
		expect(answerOf(await other).candidates[0]!.ok).toBe(true);
	});

	test('who signed in and has used much time waits, while others go on; who is alone on their machine is not counted', async () => {
		threads = new Threads(WORK, 1, PATIENCE, 0.2);
		const greedy = { caller: 'greedy', limited: true };
		expect((await refusal(ask(HEAVY, greedy))).status).toBe(200);
		expect(await refusal(ask(LIGHT, greedy))).toMatchObject({
			status: 429,
			message: expect.stringMatching(/Wait \d+ seconds?;/) as string,
		});
		expect((await refusal(ask(LIGHT, { caller: 'other', limited: true }))).status).toBe(200);
		expect((await refusal(ask(HEAVY, { caller: 'alone' }))).status).toBe(200);
		expect((await refusal(ask(LIGHT, { caller: 'alone' }))).status).toBe(200);
		// Time forgives.
		await until(async () => (await refusal(ask(LIGHT, greedy))).status === 200, 'its turn again');
	});

	test('who mostly waited is told that the machine is busy; who took too long itself, to ask for less', async () => {
		threads = new Threads(WORK, 1, { ...PATIENCE, evaluateBody: 0.4 });
		const [first, second] = [refusal(ask(HEAVY, { caller: 'one' })), refusal(ask(LIGHT, { caller: 'two' }))];
		expect([(await first).status, (await first).message]).toEqual([
			422,
			expect.stringMatching(/Ask for less/),
		]);
		// It waited for the first one, and had no time of its own.
		const waited = await second;
		if (waited.status !== 200)
			expect([waited.status, waited.message]).toEqual([503, expect.stringMatching(/waited .* for its turn/)]);
		const crowd = Array.from({ length: 6 }, () => refusal(ask(HEAVY, { caller: 'many' })));
		const said = await Promise.all(crowd.map(async (each) => (await each).message));
		expect(said.some((message) => /waited .* for its turn/.test(message))).toBe(true);
		for (const message of said) expect(message).toMatch(/waited .* for its turn|Ask for less/);
	});

	test('a thread that dies takes nobody along, and its caller gets a sentence', async () => {
		start(2);
		await Promise.all([ask(LIGHT), ask(LIGHT)]);
		const [doomed, other] = [refusal(ask(HEAVY, { caller: 'one' })), ask(LIGHT, { caller: 'two' })];
		await other;
		await Promise.all(threads.threads.map((thread) => thread.terminate()));
		expect(await doomed).toMatchObject({
			status: 503,
			message: expect.stringMatching(/calculation failed and its process was started again/) as string,
		});
		expect(answerOf(await ask(LIGHT)).candidates[0]!.ok).toBe(true);
	});

	test('closed, everything that waits or runs is told so', async () => {
		start(1);
		const asked = Array.from({ length: 3 }, () => refusal(ask(HEAVY)));
		await threads.close();
		for (const { status, message } of await Promise.all(asked))
			expect([status, message]).toEqual([503, expect.stringMatching(/stopping/)]);
	});
});

describe('small bodies that ask for a lot', () => {
	let database: TestDatabase;
	let app: App;
	let spool: string;
	beforeAll(async () => {
		database = await makeDatabase();
		spool = mkdtempSync(join(tmpdir(), 'ventrel-test-spool-'));
		app = await startApp(database.url, { spool });
		await app.call('POST', '/items', { code: 'S-1', name: 'Bell', text: '4\n5\n6' });
	});
	afterAll(async () => {
		await app?.stop();
		await database?.drop();
		rmSync(spool, { recursive: true, force: true });
	});
	const table = (content: BodyInit, code = '') =>
		new Blob([
			`${JSON.stringify({ items: [{ from: code, code: 'S-2', name: 'x' }] })}\n`,
			content as BlobPart,
		]);
	const post = (path: string, body: BodyInit, type: string, signal?: AbortSignal) =>
		fetch(`${app.url}/api/v1${path}`, {
			method: 'POST',
			body,
			headers: { 'content-type': type },
			...(signal && { signal }),
		});
	const TABLE = 'application/octet-stream';
	const JSON_TYPE = 'application/json';

	/** Others are served while a question is open: asked again and again, until it is answered. */
	async function servedMeanwhile(question: Promise<Response>): Promise<Response> {
		let open = true;
		const answered = question.finally(() => (open = false));
		let served = 0;
		while (open) {
			expect((await app.call('GET', '/items/S-1')).status).toBe(200);
			expect((await app.call('GET', '/health')).status).toBe(200);
			served++;
		}
		expect(served).toBeGreaterThan(0);
		return answered;
	}

	test.each<[string, string, () => BodyInit, string, RegExp]>([
		[
			'a span of a thousand million',
			'/evaluate',
			() =>
				JSON.stringify({
					series: { values: [1, 2, 3], frequency: 'step' },
					candidates: [{ id: 'a', method: 'moving-average', span: 1e9 }],
				}),
			JSON_TYPE,
			/span is at most 20\s000/,
		],
		[
			'a workbook with a figure in its last cell',
			'/bring-in',
			() => table(farCell() as unknown as BodyInit),
			TABLE,
			/1\s048\s576 rows/,
		],
		[
			'a workbook of figures far apart',
			'/bring-in',
			() => table(farCells() as unknown as BodyInit),
			TABLE,
			/at most 2\s000\s000 cells/,
		],
		[
			'a workbook of empty rows',
			'/bring-in',
			() => table(emptyRows() as unknown as BodyInit),
			TABLE,
			/at most 400\s000/,
		],
		[
			'JSON of thousands of keys',
			'/items',
			() => JSON.stringify({ code: 'S-3', name: 'x', text: manyKeys() }),
			JSON_TYPE,
			/at most 2\s000\s000 cells/,
		],
		[
			'eight megabytes of a figure a line',
			'/items',
			() => JSON.stringify({ code: 'S-3', name: 'x', text: manyRows() }),
			JSON_TYPE,
			/at most 400\s000/,
		],
		[
			'years of arithmetic',
			'/evaluate',
			() => JSON.stringify({ ...HEAVY, trial: { origins: 19_000, horizon: 500, refit: true } }),
			JSON_TYPE,
			/steps of arithmetic, and one request may take 1\s000\s000\s000/,
		],
		[
			'an answer of millions of figures',
			'/evaluate',
			() =>
				JSON.stringify({
					...HEAVY,
					detail: 'full',
					candidates: Array.from({ length: 90 }, (_, i) => ({ id: `c${i}`, method: 'naive' })),
				}),
			JSON_TYPE,
			/figures, and one may hold 2\s000\s000/,
		],
	])('%s', async (_name, path, body, type, message) => {
		const answer = await servedMeanwhile(post(path, body(), type));
		const said = (await answer.json()) as RefusalBody;
		expect([answer.status, `${said.message} ${JSON.stringify(said.issues)}`]).toEqual([
			422,
			expect.stringMatching(message),
		]);
	});

	test('a body that is larger than any call is refused, and the server goes on', async () => {
		const answer = await post('/evaluate', `{"series":"${'x'.repeat(5_000_000)}"}`, JSON_TYPE);
		expect([answer.status, ((await answer.json()) as RefusalBody).message]).toEqual([
			413,
			expect.stringMatching(/larger than the 4\s000\s000 bytes/),
		]);
	});

	test('an answer of megabytes is written apart, is compressed on its way and comes whole, with others served meanwhile', async () => {
		const request = {
			...HEAVY,
			detail: 'full',
			candidates: Array.from({ length: 8 }, (_, i) => ({ id: `c${i}`, method: 'ses' })),
		};
		const answer = await servedMeanwhile(post('/evaluate', JSON.stringify(request), JSON_TYPE));
		const text = await answer.text();
		expect([answer.status, answer.headers.get('content-encoding')]).toEqual([200, 'gzip']);
		expect(text.length).toBeGreaterThan(5_000_000);
		expect((JSON.parse(text) as { candidates: unknown[] }).candidates).toHaveLength(8);
	});

	test('whoever hangs up stops the arithmetic: the threads are free again at once', async () => {
		const hangUps = Array.from({ length: 6 }, () => new AbortController());
		const lost = hangUps.map(({ signal }) =>
			post('/evaluate', JSON.stringify(HEAVY), JSON_TYPE, signal).catch(() => null),
		);
		// By then they stand in line.
		await app.call('GET', '/health');
		for (const each of hangUps) each.abort();
		expect(await Promise.all(lost)).toEqual(lost.map(() => null));
		const answer = await post('/evaluate', JSON.stringify(LIGHT), JSON_TYPE);
		expect(answer.status).toBe(200);
	});

	test('a newer question of a browser stops its older one', async () => {
		const named = { 'content-type': JSON_TYPE, 'ventrel-question': 'dial' };
		const older = fetch(`${app.url}/api/v1/evaluate`, {
			method: 'POST',
			body: JSON.stringify(HEAVY),
			headers: named,
		});
		await app.call('GET', '/health');
		const newer = await fetch(`${app.url}/api/v1/evaluate`, {
			method: 'POST',
			body: JSON.stringify(LIGHT),
			headers: named,
		});
		expect(newer.status).toBe(200);
		expect((await older).status).toBe(409);
	});

	test('uploads that wait hold no connection, lie in the spool, and leave nothing there', async () => {
		// The place of one file at a time is taken by somebody else.
		await database.client.query('SELECT pg_advisory_lock(721406, (SELECT min(id)::integer FROM workspace))');
		const hangUp = new AbortController();
		const rows = Array.from(
			{ length: 2000 },
			(_, i) =>
				`u${i % 50};${2024 + Math.floor(i / 600)}-${String(1 + (Math.floor(i / 50) % 12)).padStart(2, '0')};${i}`,
		).join('\n');
		const waiting = Array.from({ length: 15 }, () =>
			post('/bring-in/stream', `{}\n${rows}`, TABLE, hangUp.signal)
				.then((answer) => answer.text())
				.catch(() => null),
		);
		const spooled = () => readdirSync(spool).flatMap((folder) => readdirSync(join(spool, folder)));
		await until(async () => spooled().length === 15, 'all uploads in the spool');
		const { rows: held } = await database.client.query(
			`SELECT count(*)::integer AS held FROM pg_stat_activity
			WHERE datname = current_database() AND pid <> pg_backend_pid() AND state <> 'idle'`,
		);
		expect(held[0].held).toBeLessThan(3);
		expect((await app.call('GET', '/items')).status).toBe(200);
		hangUp.abort();
		await Promise.all(waiting);
		await database.client.query('SELECT pg_advisory_unlock_all()');
		await until(async () => spooled().length === 0, 'an empty spool');
	});
});
