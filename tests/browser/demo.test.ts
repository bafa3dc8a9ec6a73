import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { type App, startApp, until, workOn } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { openPage, type Page } from '../support/page';

let database: TestDatabase;
let app: App;
let page: Page;

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url, { demo: true });
	page = await openPage(app);
});
afterAll(async () => {
	await page?.close();
	await app?.stop();
	await database?.drop();
});

const rows = () => page.driver.findElements({ css: '[role="option"]' });

test('the items are listed, those that need attention first, with the reason in words', async () => {
	await page.open('/items');
	await page.reads('main', /36 in all, \d+ to look at/);
	await page.reads('[role="option"]', /no forecast adopted yet/);
	await page.reads('[data-newest="month"]', /Oct 2026: 27 of 28 in, \d+ of 25 inside their range/);
	await page.expectAccessible();
});

test('filter, sort and keys lead to an item', async () => {
	await page.fill('input[aria-label="Filter the items"]', 'chain guard');
	await page.reads('[role="option"]', /30-402/);
	expect(await rows()).toHaveLength(1);
	await page.fill('input[aria-label="Filter the items"]', 'no such thing');
	await page.reads('[role="listbox"]', /No item fits/);
	await page.press('Show all 36');
	await page.press('MAD');
	await page.open('/items');
	// From the moment the page is there, wherever the focus is, and after a dialog was closed.
	await page.keys('?');
	await page.find('dialog[open]');
	await page.keys(Key.ESCAPE);
	await until(async () => (await page.driver.findElements({ css: 'dialog[open]' })).length === 0);
	await page.keys(Key.ARROW_DOWN, Key.ARROW_DOWN, Key.ARROW_UP);
	const active = await page.find('[role="option"][aria-selected="true"]');
	const code = String(await active.getAttribute('id')).replace('row-', '');
	await page.keys(Key.ENTER);
	await page.reads('h1', new RegExp(code));
});

test('/ finds an item from anywhere, ? lists the keys', async () => {
	await page.open('/items/70-214');
	await page.keys('?');
	await page.reads('dialog[open]', /best constants for all candidates/);
	await page.expectAccessible();
	await page.keys(Key.ESCAPE);
	await page.open('/items/70-214');
	await page.keys('/');
	await page.keys('gel', Key.ENTER);
	await page.reads('[role="option"]', /50-210.*City saddle, gel/s);
});

test('the reading line follows keys and pointer and lists every candidate’s figure and error', async () => {
	await workOn(app, '70-214');
	await page.open('/items/70-214?view=working&candidate=c');
	await page.reads('[data-reading="period"]', /Nov 2026/);
	await page.reads('[data-reading="a"]', /433/);
	const strip = await page.find('[role="group"][aria-label^="Strip"]');
	await strip.sendKeys(Key.ARROW_LEFT);
	await page.reads('[data-reading="period"]', /Oct 2026/);
	await page.reads('[data-reading="actual"]', /433/);
	await page.reads('[data-reading="a"]', /486\.0\s*−53\.0/);
	const { width } = await strip.getRect();
	await page.driver
		.actions()
		.move({ origin: strip, x: Math.round(width * -0.2), y: -60 })
		.perform();
	await page.reads('[data-reading="period"]', /202[345]/);
});

test('the axis fits the figures or begins at zero, and the strip goes to its end', async () => {
	const pressed = async (name: string) => {
		const [button] = await page.driver.findElements({ xpath: `//button[normalize-space()="${name}"]` });
		return button!.getAttribute('aria-pressed');
	};
	expect(await pressed('lowest')).toBe('true');
	await page.press('zero');
	expect([await pressed('lowest'), await pressed('zero')]).toEqual(['false', 'true']);
	await page.press('end');
	expect([await pressed('all'), await pressed('end')]).toEqual(['false', 'true']);
	await page.press('SVG');
	const svg = await page.saved('70-214 strip.svg');
	expect(svg).toMatch(/^<svg/);
	await page.press('CSV');
	const figures = (await page.saved('70-214 strip.csv')).split('\r\n');
	expect(figures[0]).toBe('period,actual,Last actual,Average of 3,Simple smoothing');
	expect(figures[61]).toMatch(/^Nov 2026,,433,/);
});

test('the working is walked with the keys, first and last one press away, and taken away whole', async () => {
	await page.press('first');
	await page.reads('[data-working="fitted 2"]', /\d/);
	await (await page.find('[data-working="fitted 2"]')).click();
	await page.keys(Key.ARROW_DOWN);
	await page.reads('[data-working="sentence"]', /^Forecast = [\d.]+ \(the level of the period before\)$/);
	await page.keys(Key.ARROW_RIGHT);
	await page.reads('[data-working="sentence"]', /^Error = \d+ − [\d.]+ = −?[\d.]+$/);
	await page.keys(Key.END);
	await page.find('[data-working="error 60"]');
	await (await page.find('[aria-label="Working as CSV"]')).click();
	const lines = (await page.saved('70-214 Simple smoothing working.csv')).trim().split('\r\n');
	expect(lines).toHaveLength(4 + 60 + 12);
	expect(lines[0]).toBe('"70-214 Rear rack, alloy, Simple smoothing, α = 0.3"');
	expect(lines[1]).toBe(
		'period,Actual,Forecast,Error,Level,|Error|,Error²,% error,Running sum,MAD so far,Signal',
	);
	expect(lines[2]).toContain('ℓₜ = α·yₜ + (1 − α)·ℓₜ₋₁');
	expect(lines[75]).toMatch(/^2027-10,,\d/);
});

test('every demo item opens, is worked out, and nothing complains', async () => {
	const { body } = await app.call<{ items: { code: string }[] }>('GET', '/items');
	expect(body.items).toHaveLength(36);
	for (const { code } of body.items) {
		await page.open(`/items/${code}?view=ahead`);
		await page.reads('[data-line-up="says"]', /misses by|Nothing is compared/);
		await page.reads('[data-ahead="1"]', /\d/);
	}
	expect(await page.complaints()).toEqual([]);
});

test('dark stays dark over a reload', async () => {
	await page.open('/items');
	await page.press('Dark');
	await page.open('/items/40-051');
	expect(await page.driver.executeScript('return document.documentElement.classList.contains("dark")')).toBe(
		true,
	);
	await page.press('Light');
	expect(await page.driver.executeScript('return getComputedStyle(document.body).backgroundColor')).toBe(
		'rgb(251, 250, 246)',
	);
});

test('hostile names are shown as names', async () => {
	const name = `<img src=x onerror="document.title='broken'">`;
	await app.call('POST', '/items', { code: '<b>1</b>', name, text: '4\n5\n6' });
	await page.open(`/items/${encodeURIComponent('<b>1</b>')}`);
	await page.reads('h1', /<b>1<\/b>\s*<img src=x/);
	expect(await page.driver.getTitle()).toContain('<img src=x');
});
