import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { formatPeriod } from '../../src/core/series/period';
import type { HappenedWindow } from '../../src/lib/wire/access';
import type { Forecast } from '../../src/lib/wire/records';
import { type App, everyItem, startWorker, type Worker } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { makePerson, makeToken, type Signed, startForPeople } from '../support/people';

/** The worked month of the documentation, as its reader runs it: against a server where people sign in, with a token. */

const SCRIPT = fileURLToPath(new URL('../../docs/examples/month.mjs', import.meta.url));
let database: TestDatabase;
let app: App;
let worker: Worker;
let anna: Signed;
let program: Signed;
let folder: string;

beforeAll(async () => {
	folder = mkdtempSync(join(tmpdir(), 'ventrel-month-'));
	database = await makeDatabase();
	app = await startForPeople(database, { demo: true });
	worker = await startWorker(database.url);
	anna = await makePerson(database, app, 'Anna', 'manage');
	program = await makeToken(app, anna, 'Month by night', 'work');
});
afterAll(async () => {
	await worker?.stop();
	await app?.stop();
	await database?.drop();
	rmSync(folder, { recursive: true, force: true });
});

/** What a program says and ends with. */
async function run(command: string, args: string[], env: NodeJS.ProcessEnv = {}) {
	const child = spawn(command, args, { cwd: folder, env: { ...process.env, ...env } });
	let said = '';
	child.stdout.on('data', (text) => (said += text));
	child.stderr.on('data', (text) => (said += text));
	const [code] = (await once(child, 'close')) as [number];
	return { code, said };
}
const token = () => program.headers.authorization!.replace('Bearer ', '');

/** Nov 2026 of each item of months, as a stock system would write it. */
async function monthTable(): Promise<string> {
	const rows = await everyItem({ ...app, call: program.call });
	const due = rows.filter(({ frequency, sum, shown }) => frequency === 'month' && !sum && shown);
	const lines = due.map(({ code, shown }) => {
		const period = formatPeriod('month', shown!.last + 1);
		return `${code};${period};${Math.round(shown!.adopted?.next ?? 40)}`;
	});
	return ['item;month;demand', ...lines].join('\n');
}

test('by a script: a table comes in, what is well is updated, the rest is listed with its reasons, forecasts are fetched', async () => {
	const table = await monthTable();
	writeFileSync(join(folder, 'nov-2026.csv'), table);
	const before = Number(
		(await database.client.query('SELECT count(*) AS n FROM adopted_forecast')).rows[0].n,
	);
	const first = await run(process.execPath, [SCRIPT, 'nov-2026.csv'], { VENTREL: app.url, TOKEN: token() });
	expect(first.said).toMatch(/^\d+ figures in, \d+ forecasts updated\. To check:\n/);
	expect(first.code).toBe(0);
	const [, added, updated] = /^(\d+) figures in, (\d+) forecasts/.exec(first.said)!.map(Number) as number[];
	expect(added).toBe(table.split('\n').length - 1);
	expect(updated).toBeGreaterThan(15);
	expect(first.said).toMatch(/^70-214 no-forecast$/m);
	const after = Number((await database.client.query('SELECT count(*) AS n FROM adopted_forecast')).rows[0].n);
	expect(after - before).toBe(updated);
	const forecasts = JSON.parse(readFileSync(join(folder, 'forecasts.json'), 'utf8')) as Forecast[];
	expect(forecasts.find(({ code }) => code === '10-240')!.adopted.by).toBe('Month by night (token)');
	// Run again, nothing is done again.
	const again = await run(process.execPath, [SCRIPT, 'nov-2026.csv'], { VENTREL: app.url, TOKEN: token() });
	expect(again.code).toBe(0);
	const last = Number((await database.client.query('SELECT count(*) AS n FROM adopted_forecast')).rows[0].n);
	expect(last).toBe(after);
	const { body } = await anna.call<HappenedWindow>('GET', '/happened?about=forecasts');
	expect(body.events[0]).toMatchObject({ by: 'Month by night (token)', kind: 'sweep: adopt' });
});

test('a token that may only look is told so, and changes nothing', async () => {
	const looks = await makeToken(app, anna, 'Looks', 'look');
	const refused = await run(process.execPath, [SCRIPT, 'nov-2026.csv'], {
		VENTREL: app.url,
		TOKEN: looks.headers.authorization!.replace('Bearer ', ''),
	});
	expect([refused.code, refused.said]).toEqual([1, expect.stringMatching(/is for the role “work”/)]);
});

test('by curl: every line that the documentation shows', async () => {
	const page = readFileSync(new URL('../../docs/http.md', import.meta.url), 'utf8');
	const shown = /## A month by curl[\s\S]*?```sh\n([\s\S]*?)```/.exec(page)![1]!;
	writeFileSync(join(folder, 'nov.csv'), await monthTable());
	const { code, said } = await run('bash', ['-euc', shown], { VENTREL: app.url, TOKEN: token() });
	expect([code, said]).toEqual([0, expect.stringMatching(/"stored":true/)]);
	expect(said).toMatch(/"working":0/);
	expect(said).toMatch(/"kind":"update"/);
	expect(said).toMatch(/"final":/);
});
