import { existsSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { saySignIn } from '../../scripts/lib/access.mjs';
import type { Item } from '../../src/lib/wire/items';
import { type App, startApp, startWorker, until, type Worker } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { openPage, type Page } from '../support/page';

/** What an analyst sees of the folder that is watched, and of what is kept. */

let database: TestDatabase;
let app: App;
let worker: Worker;
let page: Page;
let inbox: string;

beforeAll(async () => {
	inbox = mkdtempSync(join(tmpdir(), 'ventrel-inbox-'));
	database = await makeDatabase();
	await saySignIn(database.ownerUrl, false, true);
	app = await startApp(database.url);
	worker = await startWorker(database.url, { VENTREL_INBOX: inbox });
	page = await openPage(app);
});
afterAll(async () => {
	await page?.close();
	await worker?.stop();
	await app?.stop();
	await database?.drop();
	rmSync(inbox, { recursive: true, force: true });
});

const lies = (folder: string) => (existsSync(join(inbox, folder)) ? readdirSync(join(inbox, folder)) : []);
const table = (months: readonly string[]) =>
	[
		'part;month;issued',
		...months.flatMap((month, i) => [`A-1;${month};${4 + i}`, `B-2;${month};${7 + i}`]),
		'',
	].join('\n');

test('a file that waits is looked at and brought in on the page, and the next of its make comes in by itself', async () => {
	writeFileSync(join(inbox, 'issued.csv'), table(['2026-08', '2026-09']));
	await until(async () => lies('waiting').includes('issued.csv'), 'the file to wait');
	await page.open('/bring-in');
	await page.reads('[data-waiting]', /issued\.csv.*No table of this make was brought in yet/s);
	await page.expectAccessible();
	await page.press('look at it');
	await page.reads('[data-file]', /issued\.csv/);
	await page.press('Bring in 2 items');
	await until(
		async () => (await page.driver.findElements(By.css('[data-waiting]'))).length === 0,
		'nothing to wait',
	);
	await until(async () => lies('done').includes('issued.csv'), 'the file to follow');
	writeFileSync(join(inbox, 'issued-oct.csv'), table(['2026-10']));
	await until(async () => lies('done').includes('issued-oct.csv'), 'the next one');
	const { series } = (await app.call<Item>('GET', '/items/A-1')).body;
	expect(series.values).toEqual([4, 5, 4]);
});

test('one that is not wanted is put away', async () => {
	writeFileSync(join(inbox, 'notes.csv'), 'dear all;\nsee you tomorrow\n');
	await until(async () => lies('waiting').includes('notes.csv'), 'the file to wait');
	await page.open('/bring-in');
	await page.reads('[data-waiting]', /notes\.csv/);
	await page.press('put away');
	await until(async () => lies('refused').includes('notes.csv'), 'the file to follow');
});

test('Settings say how large what is kept is, until when, and that there is no nightly copy', async () => {
	await page.open('/settings');
	await page.reads('[data-backup="none"]', /no nightly copy.*VENTREL_BACKUP/s);
	await page.reads('[data-kept]', /figures\s+[\d.]+ MB/);
	await page.reads(
		'[data-kept]',
		/raw texts.*on record for good, byte for byte: [\d.]+ MB of text, compressed/s,
	);
	await page.expectAccessible();
	await page.fill('[aria-label="Days that rows of a sweep are kept"]', '30');
	await until(
		async () => (await app.call<{ sweepDays: number }>('GET', '/kept')).body.sweepDays === 30,
		'the days to be saved',
	);
	await page.open('/happened');
	await page.reads('[data-happened]', /set how long rows of sweeps are kept: 30 days/);
	expect(await page.complaints()).toEqual([]);
});

test('everything is taken away by a press, and what happened says so', async () => {
	await page.open('/settings');
	await page.press('Download the archive');
	const day = new Date().toISOString().slice(0, 10);
	expect((await page.saved(`ventrel-everything-${day}.zip`)).slice(0, 2)).toBe('PK');
	await page.open('/happened');
	await page.reads('[data-happened]', /took everything away/);
	expect(await page.complaints()).toEqual([]);
});
