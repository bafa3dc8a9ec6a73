import {
	existsSync,
	mkdirSync,
	mkdtempSync,
	readdirSync,
	readFileSync,
	rmSync,
	writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, expect, test } from 'vitest';
import { saySignIn } from '../../scripts/lib/access.mjs';
import type { HappenedWindow } from '../../src/lib/wire/access';
import type { Waiting } from '../../src/lib/wire/bring-in';
import type { Item } from '../../src/lib/wire/items';
import { adoptionOf } from '../support/adopting';
import { type App, startApp, startWorker, until, type Worker } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';

/** Folders that programs which know nothing of Ventrel put files into and take files out of. */

let database: TestDatabase;
let app: App;
let worker: Worker | null = null;
let inbox: string;
let outbox: string;

beforeAll(async () => {
	inbox = mkdtempSync(join(tmpdir(), 'ventrel-inbox-'));
	outbox = join(inbox, '..', `${inbox.split('/').at(-1)}-out`);
	database = await makeDatabase();
	await saySignIn(database.ownerUrl, false, true);
	app = await startApp(database.url);
});
afterEach(async () => {
	await worker?.stop();
	worker = null;
});
afterAll(async () => {
	await app?.stop();
	await database?.drop();
	rmSync(inbox, { recursive: true, force: true });
	rmSync(outbox, { recursive: true, force: true });
});

const watch = async (settings: NodeJS.ProcessEnv = { VENTREL_INBOX: inbox }): Promise<Worker> =>
	(worker = await startWorker(database.url, settings));

const ITEMS = ['I-1', 'I-2', 'I-3'];
const month = (t: number) => `${2024 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')}`;
const figure = (item: number, t: number) => 100 + 20 * item + ((t * 7) % 13);
/** Lines of months, as a stock system writes them. */
const table = (from: number, to: number) =>
	[
		'article;month;issued',
		...ITEMS.flatMap((code, i) =>
			Array.from({ length: to - from }, (_, n) => `${code};${month(from + n)};${figure(i, from + n)}`),
		),
		'',
	].join('\n');
const lay = (name: string, content: string) => writeFileSync(join(inbox, name), content);
const lies = (folder: string) =>
	existsSync(join(inbox, folder))
		? readdirSync(join(inbox, folder)).filter((name) => !name.endsWith('.said.txt'))
		: [];
const said = (folder: string, name: string) => readFileSync(join(inbox, folder, `${name}.said.txt`), 'utf8');
const waiting = async () => (await app.call<Waiting[]>('GET', '/waiting')).body;
const load = async (code: string) => (await app.call<Item>('GET', `/items/${code}`)).body;

test('the first table of its make waits on the page, is brought in by hand, and then follows there', async () => {
	lay('issued-2024.csv', table(0, 12));
	await watch();
	await until(async () => lies('waiting').includes('issued-2024.csv'), 'the file to wait');
	const [file] = await waiting();
	expect(file).toMatchObject({
		name: 'issued-2024.csv',
		said: ['No table of this make was brought in yet.'],
	});
	expect(said('waiting', 'issued-2024.csv')).toContain('No table of this make');
	const content = await fetch(`${app.url}/api/v1/waiting/${file!.id}`);
	expect(await content.text()).toBe(table(0, 12));
	const items = ITEMS.map((code) => ({ from: code, code, name: `Part ${code}` }));
	const brought = await fetch(`${app.url}/api/v1/bring-in`, {
		method: 'POST',
		headers: { 'content-type': 'application/octet-stream' },
		body: `${JSON.stringify({ fileName: file!.name, items })}\n${table(0, 12)}`,
	});
	expect(brought.status).toBe(200);
	expect((await app.call('POST', `/waiting/${file!.id}/decided`, { taken: true })).body).toEqual([]);
	await until(async () => lies('done').includes('issued-2024.csv'), 'the file to follow');
	const waits = () => readdirSync(join(inbox, 'waiting'));
	await until(() => Promise.resolve(waits().length === 0), 'what was said of it to follow');
	expect((await app.call('POST', `/waiting/${file!.id}/decided`, { taken: true })).status).toBe(404);
});

test('ten files, the worker killed in between: each comes in once and whole, in whatever order', async () => {
	const names = Array.from({ length: 10 }, (_, i) => `issued-${month(12 + i)}.csv`);
	for (const [i, name] of names.entries()) lay(name, table(12 + i, 13 + i));
	lay('still-coming.csv.part', 'half');
	for (let kill = 0; lies('done').length < 11; kill++) {
		const own = await watch();
		const before = lies('done').length;
		await until(
			async () => lies('done').length > before + (kill % 3) || lies('done').length >= 11,
			'files to be taken',
		);
		await own.stop('SIGKILL');
	}
	expect(lies('.').filter((name) => name.endsWith('.csv') || name.endsWith('.part'))).toEqual([
		'still-coming.csv.part',
	]);
	expect(said('done', names[3]!)).toMatch(/3 items: 3 figures in, 0 corrected, 0 there already/);
	for (const [i, code] of ITEMS.entries()) {
		const { series } = await load(code);
		expect([code, series.values]).toEqual([code, Array.from({ length: 22 }, (_, t) => figure(i, t))]);
	}
	const { rows } = await database.client.query(
		`SELECT max(revision)::integer AS revisions, (SELECT count(*)::integer FROM data_change JOIN actor ON actor.id = data_change.created_by AND kind = 'inbox') AS changes FROM actual`,
	);
	expect(rows[0]).toEqual({ revisions: 1, changes: 10 });
	const { body } = await app.call<HappenedWindow>('GET', '/happened?about=figures');
	expect(body.events[0]).toMatchObject({ by: 'inbox', kind: 'brought in' });
});

test('what lies there again is not brought in again; what cannot be read waits; what is too large is refused', async () => {
	const before = (await load('I-1')).seen;
	lay('issued-2025-01.csv', table(12, 13));
	lay('notes.csv', 'dear all;\nsee you tomorrow\n');
	lay('huge.csv', 'x'.repeat(16_000_001));
	await watch();
	await until(
		async () =>
			lies('done').includes('issued-2025-01 2.csv') &&
			lies('waiting').includes('notes.csv') &&
			lies('refused').includes('huge.csv'),
		'all of them to be decided',
	);
	expect((await load('I-1')).seen).toBe(before);
	expect(said('refused', 'huge.csv')).toMatch(/read at once/);
	const notes = (await waiting()).find(({ name }) => name === 'notes.csv')!;
	expect(notes.said.length).toBeGreaterThan(0);
	await app.call('POST', `/waiting/${notes.id}/decided`, { taken: false });
	await until(async () => lies('refused').includes('notes.csv'), 'what was put away');
});

test('a figure that differs is a correction, and stays one', async () => {
	lay('corrected.csv', table(20, 21).replace(`;${figure(0, 20)}\n`, ';999\n'));
	await watch();
	await until(async () => lies('done').includes('corrected.csv'), 'the correction');
	expect((await load('I-1')).series.values[20]).toBe(999);
	expect(said('done', 'corrected.csv')).toMatch(/1 corrected, 2 there already/);
});

test('where no folder is watched, nothing acts for one', async () => {
	await saySignIn(database.ownerUrl, false, false);
	lay('issued-late.csv', table(22, 23));
	await watch();
	await until(async () => existsSync(join(inbox, 'issued-late.csv')), 'the file to lie');
	expect((await load('I-1')).series.values.length).toBe(22);
	await saySignIn(database.ownerUrl, false, true);
	await until(async () => lies('done').includes('issued-late.csv'), 'the file once it is allowed');
});

test('after each round final forecasts lie in the outbox, once', async () => {
	mkdirSync(outbox, { recursive: true });
	const adopt = async (code: string) => {
		const wanted = adoptionOf(await load(code), { id: 'a', method: 'naive' }, { horizon: 3 });
		expect((await app.call('POST', `/items/${code}/adopted`, wanted)).status).toBe(201);
	};
	await adopt('I-1');
	await adopt('I-2');
	await watch({ VENTREL_OUTBOX: outbox });
	await until(async () => readdirSync(outbox).some((name) => name.endsWith('.csv')), 'the first round');
	const [first] = readdirSync(outbox);
	const lines = readFileSync(join(outbox, first!), 'utf8').trimEnd().split('\r\n');
	expect(lines[0]).toBe('code,name,unit,frequency,period,computed,final,reason,method,adopted,by');
	expect(lines).toHaveLength(1 + 2 * 3);
	expect(lines[1]).toMatch(/^I-1,Part I-1,,month,2025-12,\d+,\d+,,Naive,/);
	await adopt('I-3');
	const whole = () => readdirSync(outbox).filter((name) => name.endsWith('.csv'));
	await until(async () => whole().length === 2, 'the second round');
	expect(readFileSync(join(outbox, whole().sort()[1]!), 'utf8')).toContain('\r\nI-3,');
});
