import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Forecast } from '../../src/lib/wire/records';
import type { Item } from '../../src/lib/wire/items';
import type { ItemGrades } from '../../src/lib/wire/status';
import type { Sweep } from '../../src/lib/wire/sweeps';
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
	await page.reads('main', /36 in all, \d+ to check/);
	await page.reads('[role="option"]', /no forecast adopted/);
	await page.reads(
		'[data-newest="month"]',
		/Oct 2026: 27 of 28 up to date, \d+ of \d+ outside their range \(about \d+ expected\)/,
	);
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
	await until(
		async () => (await page.driver.findElements({ css: 'dialog[open]' })).length === 0,
		'the dialog to close',
	);
	await page.keys(Key.ARROW_DOWN, Key.ARROW_DOWN, Key.ARROW_UP);
	const active = await page.find('[role="option"][aria-selected="true"]');
	const code = String(await active.getAttribute('id')).replace('row-', '');
	await page.keys(Key.ENTER);
	await page.reads('h1', new RegExp(code));
});

test('/ finds an item from anywhere, ? explains terms, found by typing, and lists the keys', async () => {
	await page.open('/items/70-214');
	await page.keys('?');
	await page.reads('[data-help]', /naive\s+The last actual repeated\./);
	await page.fill('input[aria-label="Find a term"]', 'wape');
	await page.reads('[data-help]', /^WAPE\s+Σ .*share of demand\.$/s);
	await page.expectAccessible();
	await page.press('Keys', 'dialog[open]');
	await page.reads('[data-help="keys"]', /best constants for all candidates/);
	await page.expectAccessible();
	await page.keys(Key.ESCAPE);
	await page.open('/items/70-214');
	await page.keys('/');
	await page.keys('gel');
	await page.reads('#found-items', /50-210.*City saddle, gel/s);
	await page.keys(Key.ENTER);
	await page.reads('h1', /50-210/);
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
	expect(
		await page.driver.executeScript(
			`const drawing = new DOMParser().parseFromString(arguments[0], 'image/svg+xml');
			return [drawing.documentElement.localName, drawing.querySelector('parsererror') === null]`,
			svg,
		),
	).toEqual(['svg', true]);
	await page.press('CSV');
	const figures = (await page.saved('70-214 strip.csv')).split('\r\n');
	expect(figures[0]).toBe('period,actual,Naive,Moving average of 3,Simple exponential smoothing');
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
	const lines = (await page.saved('70-214 Simple exponential smoothing working.csv')).trim().split('\r\n');
	expect(lines).toHaveLength(4 + 60 + 12);
	expect(lines[0]).toBe('"70-214 Rear rack, alloy, Simple exponential smoothing, α = 0.3"');
	expect(lines[1]).toBe(
		'period,Actual,Forecast,Error,Level,"|Error|",Error²,% error,Running sum,MAD so far,Signal',
	);
	expect(lines[2]).toContain('ℓₜ = α·yₜ + (1 − α)·ℓₜ₋₁');
	expect(lines[75]).toMatch(/^2027-10,,\d/);
});

test('every demo item opens, is calculated, and nothing complains', async () => {
	const { body } = await app.call<{ items: { code: string }[] }>('GET', '/items');
	expect(body.items).toHaveLength(36);
	for (const { code } of body.items) {
		await page.open(`/items/${code}?view=ahead`);
		await page.reads('[data-line-up="says"]', /has the smallest (MAD|RMSE)|Nothing is compared/);
		await page.reads('[data-ahead="1"]', /\d/);
	}
	expect(await page.complaints()).toEqual([]);
});

test('dark stays dark over a reload', async () => {
	await page.open('/items');
	await page.press('Dark colours');
	await page.open('/items/40-051');
	expect(await page.driver.executeScript('return document.documentElement.classList.contains("dark")')).toBe(
		true,
	);
	await page.press('Light colours');
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

test('the record: each closed period beside what was said, a forecast laid over what came, calculated again', async () => {
	await page.open('/items/10-240?view=record');
	await page.reads('[data-record-says]', /MAD [\d.]+ over 25 months, \d+ % below naive’s/);
	await page.reads('[data-record-says]', /In 2 months the figure was changed or rounded: that/);
	const newest = await page.driver.findElements({ css: '[data-grade]' });
	expect(newest).toHaveLength(25);
	expect(await newest[0]!.getText()).toMatch(/^Oct 2026\s+706\s/);
	await page.press('CSV', '#bench-view');
	const lines = (await page.saved('10-240 record.csv')).trim().split('\r\n');
	expect(lines).toHaveLength(26);
	const { grades } = (await app.call<ItemGrades>('GET', '/items/10-240/grades')).body;
	expect(lines.at(-1)!.split(',').slice(1, 4).map(Number)).toEqual([
		grades.at(-1)!.actual,
		grades.at(-1)!.mean,
		grades.at(-1)!.final,
	]);
	await page.press('signal', '#bench-view');
	await page.find('[aria-label^="Tracking signal since it was adopted"] canvas');
	await page.press('adopted (25)');
	await page.press('on the strip', '[data-record]');
	await page.reads('[data-reading="record"]', /adopted after Sep 2026\s+[\d.]+/);
	await page.press('calculate again', '[data-record]');
	await page.reads(
		'[data-record]',
		/calculated again from the figures as they were then: every figure is the same/,
	);
	await page.press('earlier ones');
	await until(async () => (await page.driver.findElements({ css: '[data-record]' })).length === 25);
	await page.expectAccessible();
});

test('from a filter through its items: the place is shown, one is hidden and the next opens', async () => {
	await page.open('/items');
	await page.press('to check');
	// The first row is the same with and without the filter.
	const count = await page.reads('[data-list="count"]', /, \d+ shown/);
	const waiting = Number(/(\d+) shown/.exec(count)![1]);
	await until(async () => (await rows()).length === waiting);
	expect(waiting).toBeGreaterThanOrEqual(4);
	expect(waiting).toBeLessThanOrEqual(9);
	await page.keys(Key.HOME, Key.ENTER);
	await page.reads('[data-place]', new RegExp(`to check: 1 of ${waiting}`));
	await page.keys(']');
	await page.reads('[data-place]', new RegExp(`to check: 2 of ${waiting}`));
	await page.keys('[');
	await page.reads('[data-place]', new RegExp(`to check: 1 of ${waiting}`));
	await page.expectAccessible();
	await page.press('Hide and next p');
	await page.fill('input[aria-label="Why it is hidden"]', 'waits for the new catalogue');
	await page.press('Hide and next');
	await page.reads('[data-place]', new RegExp(`to check: 2 of ${waiting}`));
	await page.reads('[data-status]', /Before: 70-214 hidden/);
	await page.open('/items?why=hidden');
	await until(async () => (await rows()).length === 2);
	await page.open('/items/70-214');
	await page.reads('[data-status]', /hidden by tester.*“waits for the new catalogue”, until its next actual/);
	await page.press('Show it again');
	await page.reads('[data-status]', /◆ no forecast adopted – propose one/);
});

test('what drifts is proposed again on the spot, and all that drift as a sweep', async () => {
	await page.open('/items/30-112');
	await page.press('Propose again');
	await page.reads('main', /Combination of \d/);
	await page.open('/items');
	await page.press('propose again for 1 biased');
	// Nobody works at sweeps here; it is begun for those that drift.
	await page.reads('main', /Proposals\s+1 item: biased/);
	expect((await app.call<Sweep[]>('GET', '/sweeps')).body[0]).toMatchObject({ kind: 'propose', items: 1 });
});

test('an item of three months takes the season of its group, and says whose it is', async () => {
	await page.open('/items/40-090?view=season');
	await page.reads('main', /3 months are too few to show a season\. The other items of “Lights” have one/);
	await page.reads('[data-steps]', /1 Compare the candidates\. 2 Choose one\. 3 Check Ahead\. 4 Adopt\./);
	await page.press('Indices');
	await page.choose('select[aria-label="Whose season"]', 'own');
	await page.reads('main', /The index of \w+ cannot be told/);
	await page.choose('select[aria-label="Whose season"]', 'group');
	await page.reads('main', /It follows the season of “Lights”\./);
	await page.expectAccessible();
});

test('forecasts to hand over: all or some, long or across, as CSV and JSON', async () => {
	await page.open('/hand-over');
	await page.reads('[data-hand-over="count"]', /33 items; \d have no forecast/);
	await page.press('JSON');
	const all = JSON.parse(await page.saved('forecasts.json')) as Forecast[];
	expect(all).toHaveLength(33);
	const tube = all.find(({ code }) => code === '10-101')!;
	expect(tube.steps[0]!.period).toBe('2026-11');
	expect(tube.steps.every(({ final }) => final % 50 === 0)).toBe(true);
	expect(tube.total.final).toBe(tube.steps.reduce((sum, { final }) => sum + final, 0));
	await page.fill('input[aria-label="Filter the items"]', 'inner tube');
	await page.reads('[data-hand-over="count"]', /^2 items/);
	await page.press('periods across');
	await page.press('CSV');
	const [head, ...lines] = (await page.saved('forecasts.csv')).trim().split('\r\n');
	expect(head).toMatch(/^code,name,unit,figures,Nov 2026,Dec 2026,.*,sum$/);
	expect(lines).toHaveLength(8);
	expect(lines[0]).toMatch(/^10-101,.*,final forecast,2450,/);
	await page.expectAccessible();
});

test('an item prints on one page of A4 or Letter, without what can be pressed', async () => {
	await page.open('/items/40-051?view=ahead');
	await page.reads('[data-ahead="1"]', /Nov 2026/);
	const { driver } = page;
	const pages = async (paperWidth: number, paperHeight: number) => {
		const command = { paperWidth, paperHeight, preferCSSPageSize: false };
		const chromium = driver as unknown as {
			sendAndGetDevToolsCommand(name: string, asked: object): Promise<{ data: string }>;
		};
		const { data } = await chromium.sendAndGetDevToolsCommand('Page.printToPDF', command);
		return /\/Count (\d+)/.exec(Buffer.from(data, 'base64').toString('latin1'))?.[1];
	};
	expect([await pages(8.27, 11.69), await pages(8.5, 11)]).toEqual(['1', '1']);
	await driver.executeScript(`dispatchEvent(new Event('beforeprint'))`);
	const paper = await driver.executeScript<string>(`return document.querySelector('.printed').textContent`);
	for (const words of [
		'40-051 Headlight, dynamo',
		'Moving average of 4',
		'sum of 12',
		'Record, the latest periods',
		'Oct 2026',
		/Demand in \w+ is forecast for 12 months, Nov 2026 – Oct 2027, by Moving average of 3, which is not adopted\./,
		/The 95 % range is where 95 of 100 actuals should lie/,
		/(No figure was c|C)hanged by hand/,
	])
		expect(paper.replace(/\s+/g, ' ')).toMatch(words);
	expect(
		await driver.executeScript(
			`return document.querySelectorAll('.printed :is(button, input, select)').length`,
		),
	).toBe(0);
	const drawn = (what: string) =>
		driver.executeScript<number>(`return document.querySelectorAll('.printed svg ${what}').length`);
	expect([await drawn('path'), await drawn('text'), await drawn('parsererror')]).toEqual([
		expect.toSatisfy((count) => count > 10),
		expect.toSatisfy((count) => count > 10),
		0,
	]);
	await driver.executeScript(`dispatchEvent(new Event('afterprint'))`);
	expect(await page.complaints()).toEqual([]);
});

test('the first adoption of a visit is asked for, and says that it is for good', async () => {
	// By itself, not as one of a list that is gone through.
	await page.driver.executeScript('sessionStorage.clear()');
	await page.open('/items/70-214?view=ahead');
	await page.driver.executeScript('sessionStorage.removeItem("ventrel-adopts")');
	await page.find('[data-candidate]');
	await page.keys('a');
	await page.reads('dialog[open]', /becomes the forecast of 70-214 for 12 months\..*on record for good/s);
	await page.expectAccessible();
	await page.press('Cancel', 'dialog[open]');
	await until(async () => (await page.driver.findElements({ css: 'dialog[open]' })).length === 0);
	expect((await app.call<Item>('GET', '/items/70-214')).body.adopted).toBeNull();
	await page.keys('a');
	await page.press('Adopt', 'dialog[open]');
	await until(async () => (await app.call<Item>('GET', '/items/70-214')).body.adopted !== null, 'the record');
	await page.reads('#bench-view', /Adopted: .* by tester/);
	await page.reads('[data-saving]', /^saved$/);
	// Whoever adopted once knows.
	await page.keys('a');
	await until(
		async () => (await app.call<Item>('GET', '/items/70-214')).body.adoptedCount === 2,
		'the second record',
	);
});

test('a line says what can be done on a page, until it is closed for good', async () => {
	await page.open('/sweeps');
	await page.reads('[data-first-visit]', /one thing to many items in the background/);
	await (await page.find('[aria-label="Close this line for good"]')).click();
	await page.open('/sweeps');
	await page.find('h1');
	expect(await page.driver.findElements({ css: '[data-first-visit]' })).toEqual([]);
});

test('the demo says that it is one, and is cleared; what is one’s own stays', async () => {
	await app.call('POST', '/items', { code: 'OWN', name: 'My own', text: '2024-01;3\n2024-02;4\n2024-03;5' });
	await page.open('/items');
	await page.reads('[data-demo-line]', /Demo data\.\s+Bring in your own table\s+or\s+clear the demo/);
	await page.press('clear the demo');
	await page.reads('dialog[open]', /leave the list.*can be brought back/s);
	await page.press('Clear the demo', 'dialog[open]');
	await until(async () => {
		const left = await page.text('main');
		return left.includes('My own') && !left.includes('Brake cable');
	}, 'the demo to be gone');
	expect(await page.driver.findElements({ css: '[data-demo-line]' })).toEqual([]);
	await page.open('/items?why=retired');
	await until(async () => (await rows()).length > 10, 'the retired ones');
});
