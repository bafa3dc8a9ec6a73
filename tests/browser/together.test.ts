import { By, Key, until as untilDriver } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Item } from '../../src/lib/wire/items';
import { type App, startApp, until, workOn } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { openPage, type Page } from '../support/page';

/** Two people on one item, a server that goes away, and items that change their name. */

let database: TestDatabase;
let app: App;
let page: Page;
const JAN = 2024 * 12;

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	page = await openPage(app);
	for (const code of ['T-1', 'T-2', 'T-3', 'T-4']) {
		const text = Array.from(
			{ length: 30 },
			(_, i) =>
				`${2024 + Math.floor(i / 12)}-${String((i % 12) + 1).padStart(2, '0')};${i === 7 ? '' : 100 + ((i * 13) % 17)}`,
		).join('\n');
		await app.call('POST', '/items', { code, name: `Pannier ${code}`, text });
		await workOn(app, code);
	}
});
afterAll(async () => {
	await page?.close();
	await app?.stop();
	await database?.drop();
});

const load = async (code: string) => (await app.call<Item>('GET', `/items/${code}`)).body;
/** What somebody else does meanwhile. */
const elsewhere = async (code: string, ...entries: object[]) =>
	app.call('POST', `/items/${code}/layers`, { seen: (await load(code)).layers.newest, entries });

describe('two people on one item', () => {
	test('one corrects a figure, the other changes a rule: what came in between is shown, and both are saved', async () => {
		await page.open('/items/T-1?view=demand&candidate=a');
		const last = JAN + 29;
		const over = (await load('T-1')).series.values.at(-1)!;
		await elsewhere('T-1', { kind: 'correction', period: last, setting: { to: 372, over } });
		await page.choose('[aria-label="Bench"] select', 'interpolate');
		await page.reads(
			'[role="alert"]',
			/Somebody else adjusted its figures since you opened it.*Nothing of either is lost/s,
		);
		await page.reads('[data-between]', new RegExp(`tester: Jun 2026 corrected from ${over} to 372`));
		expect((await load('T-1')).layers.layers.gapRule).toBe('skip');
		await page.expectAccessible();
		await page.press('Save mine over theirs');
		await page.reads('[data-saving]', /^saved$/);
		const { layers } = (await load('T-1')).layers;
		expect([layers.gapRule, layers.corrections[last]]).toEqual(['interpolate', { to: 372, over }]);
		// The naive forecast is the figure that the other one corrected.
		await page.open('/items/T-1?view=ahead&candidate=a');
		await page.reads('[data-ahead="1"]', /372/);
	});

	test('what was corrected since it was looked at is not adopted unseen', async () => {
		await page.open('/items/T-2?view=ahead&candidate=a');
		const before = await page.reads('[data-ahead="1"]', /Jul 2026\s+\d/);
		const over = (await load('T-2')).series.values.at(-1)!;
		await elsewhere('T-2', { kind: 'correction', period: JAN + 29, setting: { to: 999, over } });
		await page.fill('[aria-label="Why this one"]', 'as every month');
		await page.press('Adopt for 10 ahead');
		await page.reads('[role="alert"]', /was changed since you opened it.*Check it again before you adopt/s);
		await page.reads('[data-between]', /Jun 2026 corrected from \d+ to 999/);
		expect((await load('T-2')).adoptedCount).toBe(0);
		await page.press('Show it with what came in');
		await page.reads('[data-ahead="1"]', /999/);
		expect(before).not.toContain('999');
		// What was typed is still there.
		await page.press('Adopt for 10 ahead');
		await page.reads('[data-adopted]', /Adopted: Naive.*“as every month”/s);
		expect((await load('T-2')).adopted!.steps[0]!.mean).toBe(999);
	});
});

describe('a server that is gone', () => {
	test('leaving the page asks, and what was changed is shown again when it is opened', async () => {
		await page.open('/items/T-3?view=signal&candidate=c');
		const port = Number(new URL(app.url).port);
		await app.stop('SIGKILL');
		const dial = await page.find('[data-candidate="c"] [type="range"]');
		await dial.click();
		await page.keys(Key.HOME, ...new Array<string>(27).fill(Key.ARROW_RIGHT));
		await page.reads(
			'[role="alert"]',
			/cannot be reached just now.*It is saved in this browser, also when the page is closed/s,
		);
		// Within the application it asks in our words; staying stays.
		await (await page.driver.findElement(By.linkText('Items'))).click();
		const asked = await page.driver.wait(untilDriver.alertIsPresent());
		expect(await asked.getText()).toMatch(
			/not saved on the server yet, only in this browser\. Leave anyway\?/,
		);
		await asked.dismiss();
		await page.reads('[data-candidate="c"]', /0\.27/);
		// The tab goes without a word; the server comes back; the item is opened again.
		await page.driver.get('about:blank');
		app = await startApp(database.url, { port });
		await page.open('/items/T-3?view=signal&candidate=c');
		await page.reads('[data-candidate="c"]', /0\.27/);
		await page.reads('[data-saving]', /^saved$/);
		const { lineUp } = await load('T-3');
		expect(lineUp.candidates.find(({ id }) => id === 'c')!.constants).toEqual({ alpha: 0.27 });
		// Once saved, it is not taken up a second time.
		await app.call('PUT', '/items/T-3/line-up', {
			version: lineUp.version,
			candidates: [{ id: 'z', method: 'drift' }],
		});
		await page.open('/items/T-3');
		await page.reads('[data-candidate="z"]', /Drift/);
	});
});

describe('the name of an item', () => {
	test('is changed with a reason, on record, and the address goes along', async () => {
		await page.open('/items/T-4?view=ahead&candidate=a');
		await page.press('settings…');
		await page.fill('#naming-code', 'T-4/b');
		await page.fill('#naming-name', 'Pannier, waterproof');
		await page.fill('#naming-unit', 'pairs');
		await page.fill('#naming-reason', 'sold in pairs now');
		await page.expectAccessible();
		await page.press('Save');
		await page.reads('h1', /T-4\/b\s*Pannier, waterproof/);
		await until(
			async () => (await page.driver.getCurrentUrl()).includes('/items/T-4%2Fb?view=ahead'),
			'the new address',
		);
		await page.press('settings…');
		await page.reads('[data-changes]', /tester: was called T-4 Pannier T-4, “sold in pairs now”/);
		await page.keys(Key.ESCAPE);
		await page.open('/items/T-4');
		await page.reads('h1', /Pannier, waterproof/);
	});

	test('a code that is taken is refused in words, and what was typed stays', async () => {
		await page.press('settings…');
		await page.fill('#naming-code', 'T-1');
		await page.press('Save');
		await page.reads('[role="alert"]', /code T-1 is taken by Pannier T-1/);
		expect(await (await page.find('#naming-code')).getAttribute('value')).toBe('T-1');
		await page.keys(Key.ESCAPE);
	});

	test('retired it is off the list, and is found and brought back', async () => {
		await page.press('settings…');
		await page.press('Retire it');
		await page.reads('main', /– retired/);
		await page.open('/items');
		await page.reads('main', /3 in all/);
		const codes = async () =>
			Promise.all((await page.driver.findElements(By.css('[role="option"]'))).map((row) => row.getText()));
		expect((await codes()).some((text) => text.includes('T-4/b'))).toBe(false);
		await page.press('retired (1)');
		await page.reads('[role="option"]', /T-4\/b.*– retired/s);
		await page.expectAccessible();
		await (await page.find('[role="option"]')).click();
		await page.press('settings…');
		await page.press('Bring it back');
		await page.reads('main', /no forecast adopted/);
		expect((await load('T-4%2Fb')).retiredAt).toBeNull();
		// What the server refused, or was not there for, the browser notes by itself.
		expect((await page.complaints()).filter((text) => !/Failed to load resource/.test(text))).toEqual([]);
	});
});
