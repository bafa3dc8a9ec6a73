import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Item } from '../../src/lib/wire/items';
import type { Places } from '../../src/lib/wire/list';
import { labelOf } from '../../src/lib/wire/labels';
import { adoptionOf } from '../support/adopting';
import { type App, everyItem, startApp, startWorker, until, type Worker } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { openPage, type Page } from '../support/page';

/** Many items: the list in windows, what is ticked, sweeps, and what is adopted together. */

let database: TestDatabase;
let app: App;
let worker: Worker;
let page: Page;
const COUNT = 430;
const codeOf = (i: number) => `P-${String(i).padStart(3, '0')}`;

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	worker = await startWorker(database.url);
	const items = Array.from({ length: COUNT }, (_, i) => codeOf(i));
	const head = JSON.stringify({
		items: items.map((code, i) => ({ from: code, code, name: `Pedal ${i}`, unit: 'pairs' })),
	});
	const lines = items.flatMap((code, i) =>
		Array.from(
			{ length: 30 },
			(_, t) =>
				`${code},${['Flat', 'Clip', 'Cage'][i % 3]},${2024 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')},${100 + i + Math.round(40 * Math.sin((t * Math.PI) / 6)) + ((t * 7919 * (i + 1)) % 13)}`,
		),
	);
	const response = await fetch(`${app.url}/api/v1/bring-in`, {
		method: 'POST',
		body: `${head}\nitem,Family,month,demand\n${lines.join('\n')}\n`,
		headers: { 'content-type': 'application/octet-stream' },
	});
	expect(response.status).toBe(200);
	await until(async () => (await everyItem(app)).every(({ status }) => status !== null), 'the status of all');
	page = await openPage(app);
});
afterAll(async () => {
	await page?.close();
	await worker?.stop();
	await app?.stop();
	await database?.drop();
});

const rows = () => page.driver.findElements(By.css('[role="option"]'));
const firstCode = async () =>
	(await (await page.find('[role="option"]')).getAttribute('id'))!.replace('row-', '');
const query = async () => new URL(await page.driver.getCurrentUrl()).searchParams;

describe('the list', () => {
	test('its end is there as soon as one scrolls to it, and its middle', async () => {
		await page.open('/items?sort=code');
		await page.reads('[data-list="count"]', /430 in all, 430 to check/);
		await page.keys(Key.END);
		await page.find(`#row-${codeOf(COUNT - 1)}`);
		await page.driver.executeScript(`document.querySelector('[role="listbox"]').scrollTop = 44 * 215`);
		await page.find(`#row-${codeOf(216)}`);
		expect((await rows()).length).toBeLessThan(60);
		await page.expectAccessible();
	});

	test('what is asked for stands in the address, goes back with it, and is kept by a name', async () => {
		await page.open('/items');
		await page.choose('select[aria-label="By label"]', '1');
		await until(async () => (await query()).get('label') !== null, 'the label in the address');
		await page.reads('[data-list="count"]', /14[34] shown/);
		await page.press('item');
		await page.fill('input[aria-label="Filter the items"]', 'pedal 4');
		await until(async () => (await query()).get('find') === 'pedal 4', 'the words in the address');
		const asked = await query();
		expect([asked.get('sort'), asked.get('label')]).toEqual(['code', expect.stringMatching(/^Family=/)]);
		const { count } = (await app.call<Places>('GET', `/places?${asked}`)).body;
		await page.reads('[data-list="count"]', new RegExp(`${count} shown`));
		await page.choose('select[aria-label="By a figure"]', 'size');
		await page.fill('input[aria-label="demand from"]', '150');
		await page.press('show');
		await until(async () => (await query()).get('size') === '150..', 'the range in the address');
		await page.press('save this view');
		await page.fill('input[aria-label="Name of the view"]', 'larger pedals');
		await page.press('save');
		await page.find('select[aria-label="Saved views"]');
		await page.open('/items');
		await page.choose('select[aria-label="Saved views"]', 'larger pedals');
		await until(async () => (await query()).get('size') === '150..', 'the kept view');
		expect(String(await query())).toBe(
			String(new URLSearchParams(`${asked}&size=150..`.replace('&sort=code&size', '&size') + '&sort=code')),
		);
		await page.press('delete “larger pedals”');
		await until(
			async () => (await page.driver.findElements(By.css('select[aria-label="Saved views"]'))).length === 0,
		);
	});

	test('groups by label lead to their items', async () => {
		await page.open('/items?why=look');
		await page.press('groups of these');
		await page.reads('[data-groups="count"]', /3 groups of 430 items/);
		await page.expectAccessible();
		await page.reads('[data-group="Clip"]', /Clip\s+143\s+143/);
		await page.press('Clip', '[data-group="Clip"]');
		await page.reads('[data-list="count"]', /143 shown/);
		expect((await query()).get('label')).toBe('Family=Clip');
	});

	test('a round goes on beyond what was at hand', async () => {
		await page.open('/items?sort=code');
		await page.driver.executeScript(`document.querySelector('[role="listbox"]').scrollTop = 0`);
		await page.find(`#row-${codeOf(0)}`);
		await page.keys(...new Array<string>(6).fill(Key.PAGE_DOWN), Key.ENTER);
		await page.reads('[data-place]', /all items: \d+ of 430/);
		const code = /P-(\d+)/.exec(await page.text('h1'))![1]!;
		await page.keys(']');
		await page.reads('h1', new RegExp(codeOf(Number(code) + 1)));
	});
});

describe('what is ticked', () => {
	test('by the keyboard, a range, all; and something is done to all of them', async () => {
		await page.open('/items?sort=code');
		await page.find(`#row-${codeOf(0)}`);
		await page.keys(' ');
		await page.reads('[data-ticked]', /1 item selected/);
		const { driver } = page;
		await driver
			.actions()
			.keyDown(Key.SHIFT)
			.sendKeys(Key.ARROW_DOWN, Key.ARROW_DOWN)
			.keyUp(Key.SHIFT)
			.perform();
		await page.reads('[data-ticked]', /3 items selected/);
		await page.expectAccessible();
		await page.keys(Key.ESCAPE);
		await until(async () => (await driver.findElements(By.css('[data-ticked]'))).length === 0, 'no tick');
		await driver.actions().keyDown(Key.CONTROL).sendKeys('a').keyUp(Key.CONTROL).perform();
		await page.reads('[data-ticked]', /430 items selected/);
		await page.keys(Key.HOME, ' ');
		await page.reads('[data-ticked]', /429 items selected/);
		await page.choose('select[aria-label="Change all that are selected"]', 'label');
		await page.fill('input[aria-label="What the label is of"]', 'Planner');
		await page.fill('input[aria-label="The label"]', 'Maud');
		await page.press('set for 429 items');
		await page.reads('[role="status"]', /429 items: Planner is Maud/);
		const labelled = (await everyItem(app)).filter(({ labels }) => labelOf(labels, 'Planner') === 'Maud');
		expect(labelled.map(({ code }) => code)).toEqual(
			(await everyItem(app)).map(({ code }) => code).filter((code) => code !== codeOf(0)),
		);
	});

	test('a range across what was never in sight', async () => {
		await page.open('/items?sort=code');
		const mark = (code: string) => page.find(`#row-${code} .tick-mark`);
		await (await mark(codeOf(2))).click();
		await page.driver.executeScript(`document.querySelector('[role="listbox"]').scrollTop = 44 * 400`);
		const far = await mark(codeOf(405));
		await page.driver.actions().keyDown(Key.SHIFT).click(far).keyUp(Key.SHIFT).perform();
		await page.reads('[data-ticked]', /404 items selected/);
	});
});

describe('a sweep', () => {
	test('runs while one looks, is there after a reload, and says what it comes to', async () => {
		await page.open('/items?sort=code&find=pedal+1');
		await page.find(`#row-${codeOf(1)}`);
		await page.driver.actions().keyDown(Key.CONTROL).sendKeys('a').keyUp(Key.CONTROL).perform();
		await page.press('propose for each');
		await page.reads('h1', /Proposals/);
		await page.driver.navigate().refresh();
		await page.reads('[data-sweep-state]', /\d+ of 169 done|done/);
		await page.reads('[data-sweep-state]', /^done$/);
		await page.reads('[data-sweep-says]', /169 proposals/);
		await page.expectAccessible();
		await page.press('Sweeps');
		await page.reads('[data-sweep]', /Proposals\s+169 items: “pedal 1”\s+tester/);
		await page.expectAccessible();
	});

	test('ticked ones are adopted together under one reason, and the list shows it', async () => {
		await page.press('Proposals');
		await page.reads('h1', /Proposals/);
		await page.press('item');
		await page.find(`[data-row="${codeOf(1)}"]`);
		await (await page.find(`[aria-label="Select ${codeOf(1)}"]`)).click();
		await (await page.find(`[aria-label="Select ${codeOf(10)}"]`)).click();
		await page.fill('input[aria-label="Reason for adopting"]', 'the first of many');
		await page.press('adopt 2 selected');
		await page.reads('[role="status"]', /2 forecasts were adopted\./);
		await page.reads(`[data-row="${codeOf(10)}"]`, /adopted ·/);
		for (const code of [codeOf(1), codeOf(10)])
			expect((await app.call<Item>('GET', `/items/${code}`)).body.adopted).toMatchObject({
				reason: 'the first of many',
			});
		await page.reads('[data-sweep-says]', /169 proposals; 2 adopted/);
		await page.press('what was adopted');
		await page.reads('h1', /Adopting/);
		await page.reads('body', /“the first of many”/);
		await page.find(`[data-row="${codeOf(10)}"]`);
		expect(await page.driver.findElements(By.css('[data-row] input'))).toEqual([]);
		await page.open('/items?method=none&sort=code');
		await page.reads('[data-list="count"]', /428 shown/);
		expect(await firstCode()).toBe(codeOf(0));
	});

	test('updated: what nothing came in for says so; stopped, it says what is not done', async () => {
		await page.open('/items?find=pedal+10');
		await page.find('[role="option"]');
		await page.driver.actions().keyDown(Key.CONTROL).sendKeys('a').keyUp(Key.CONTROL).perform();
		await page.press('update');
		await page.reads('h1', /Updating/);
		await page.reads('[data-sweep-says]', /not possible, each with its reason/);
		await page.choose('select[aria-label="Which rows"]', 'refused');
		await page.reads(`[data-row="${codeOf(10)}"]`, /There are no new actuals since its forecast was adopted/);
		await page.reads(`[data-row="${codeOf(100)}"]`, /Nothing is adopted for it yet/);

		await page.open('/items');
		await page.find('[role="option"]');
		await page.driver.actions().keyDown(Key.CONTROL).sendKeys('a').keyUp(Key.CONTROL).perform();
		await page.press('propose for each');
		await page.reads('[data-sweep-state]', /of 430 done/);
		await page.press('stop');
		await page.reads('[data-sweep-state]', /stopped by tester: \d+ done, \d+ not/);
		expect(await page.complaints()).toEqual([]);
	});
});

describe('a group as one', () => {
	test('opens like an item, is adopted, and shared among its items', async () => {
		const codes = [0, 1, 2, 3, 4].map((i) => codeOf(i + 50));
		await app.call('POST', '/several', { items: { codes }, change: { label: { of: 'Set', is: 'Tour' } } });
		// All but the last have a forecast.
		for (const code of codes.slice(0, 4)) {
			const { body } = await app.call<Item>('GET', `/items/${code}`);
			const { status } = await app.call(
				'POST',
				`/items/${code}/adopted`,
				adoptionOf(body, { id: 'a', method: 'naive' }, { horizon: 12 }),
			);
			expect(status).toBe(201);
		}
		await page.open('/groups?by=Set');
		await page.press('group total', '[data-group="Tour"]');
		await page.reads('h1', /Tour\s*group total/);
		await page.reads('[data-sum]', /Σ 5 items: Tour, in pairs/);
		await page.reads(
			'[data-sum-says]',
			/forecasts is [\d.]+ \(of 4 of 5; the others have no forecast for it\)\.$/,
		);
		await page.find('[data-reading="its-items"]');
		await page.expectAccessible();
		await page.keys('a');
		await page.reads('[data-sum-says]', /; [\d.]+ is adopted for the group\.$/);
		await page.reads('[data-sum-closer]', /^1 of its 5 items has no forecast, \S+ first\./);
		await page.choose('select[aria-label="Shared by"]', 'cycle');
		await page.reads('[data-share-warning]', /items were forecast 21 % worse in tests/);
		await page.choose('select[aria-label="Shared by"]', 'forecasts');
		await page.press('Share among them');
		await page.reads('h1', /A forecast shared/);
		await page.reads(
			'[data-sweep-says]',
			/4 items have their share; 1 item not possible.*its items sum to [\d.]+\. 10 periods are shared\.$/s,
		);
		await page.expectAccessible();
		await page.press('adopt all 4');
		await until(async () => {
			const { body } = await app.call<Item>('GET', `/items/${codes[3]}`);
			return body.adopted!.steps[0]!.changeReason !== null;
		}, 'the share of the last of them');
		await page.press('Tour, whose forecast is shared');
		await page.reads('[data-sum-says]', /forecasts is ([\d.]+) .*; \1 is adopted for the group\.$/);

		const { body: last } = await app.call<Item>('GET', `/items/${codes[4]}`);
		const naive = adoptionOf(last, { id: 'a', method: 'naive' }, { horizon: 12 });
		expect((await app.call('POST', `/items/${codes[4]}/adopted`, naive)).status).toBe(201);
		await page.open('/items/Tour');
		await page.reads(
			'[data-sum-closer]',
			/^(In a trial on \d+ past months the .* (plan the group by|missed by the same)|\d+ past months to compare them on)/,
		);
	});
});
