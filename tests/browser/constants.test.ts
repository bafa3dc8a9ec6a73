import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { type App, startApp, until, workOn } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { openPage, type Page } from '../support/page';

let database: TestDatabase;
let app: App;
let page: Page;

const SHAPE = [0.6, 0.7, 1, 1.2, 1.4, 1.3, 1.2, 1.1, 0.9, 0.9, 0.8, 0.9];
const VALUES = Array.from({ length: 60 }, (_, t) =>
	Math.round((300 + 3 * t) * SHAPE[t % 12]! + ((t * 7919) % 31) - 15),
);

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url, { demo: false });
	const choices = { frequency: 'month', first: '2020-01' };
	await app.call('POST', '/items', {
		code: 'P1',
		name: 'Pannier clip',
		unit: 'pieces',
		text: VALUES.join('\n'),
		choices,
	});
	await app.call('POST', '/items', {
		code: 'P2',
		name: 'New clip',
		text: VALUES.slice(0, 14).join('\n'),
		choices,
	});
	await workOn(app, 'P1');
	await workOn(app, 'P2');
	page = await openPage(app);
});
afterAll(async () => {
	await page?.close();
	await app?.stop();
	await database?.drop();
});

const offer = async (id: string) => {
	await page.press('+ Candidate');
	await (await page.find(`[data-offer="${id}"]`)).click();
};
/** The value of a dial of the chosen candidate. */
const dial = async (name: string) => {
	const slider = await page.find(`[aria-label="Holt-Winters ×, ${name}"]`);
	return Number(await slider.getAttribute('value'));
};
const terrain = () => page.find('[data-terrain]');

test('methods are offered with when they fit, and those that cannot run with the reason', async () => {
	await page.open('/items/P2');
	await page.press('+ Candidate');
	await page.reads(
		'[data-offer="holt-winters"]',
		/needs 2 whole cycles \(24 periods\) to begin; this series has 14/,
	);
	expect(await (await page.find('[data-offer="holt-winters"]')).getAttribute('aria-disabled')).toBe('true');
	await page.open('/items/P1?view=constants');
	await page.press('+ Candidate');
	await page.reads(
		'[data-offer="holt-winters"]',
		/the season of 12 explains \d+ %, its season grows with the level; demand climbs/,
	);
	await page.reads('[data-offer="ses"]', /leaves out the season of 12/);
	await (await page.find('[data-offer="holt-winters"]')).click();
	await page.reads('[aria-label="Line-up"]', /Holt-Winters ×/);
	await page.expectAccessible();
});

test('the terrain has the candidate on it: dragged, moved by keys, and put into a valley', async () => {
	await until(async () => (await (await terrain()).getAttribute('data-terrain')) === 'alpha beta', 'the map');
	const before = [await dial('level constant'), await dial('trend constant')];
	const map = await terrain();
	const { width, height } = await map.getRect();
	const at = (x: number, y: number) => ({
		origin: map,
		x: Math.round(width * (x - 0.5)),
		y: Math.round(height * (0.5 - y)),
	});
	await page.driver
		.actions()
		.move(at(0.2, 0.2))
		.press()
		.move(at(0.5, 0.6))
		.move(at(0.7, 0.4))
		.release()
		.perform();
	await until(async () => Math.abs((await dial('level constant')) - 0.7) < 0.02, 'α to follow');
	expect(Math.abs((await dial('trend constant')) - 0.4)).toBeLessThan(0.02);
	await map.sendKeys(Key.ARROW_LEFT, Key.ARROW_LEFT, Key.ARROW_DOWN);
	await until(async () => Math.abs((await dial('level constant')) - 0.68) < 0.02, 'α to step');
	// Each key pressed is one step of undo, and so is one drag.
	for (let key = 0; key < 3; key++) await page.press('Undo');
	await until(async () => Math.abs((await dial('level constant')) - 0.7) < 0.02, 'the end of the drag');
	expect(Math.abs((await dial('trend constant')) - 0.4)).toBeLessThan(0.02);
	await page.press('Undo');
	await until(async () => (await dial('level constant')) === before[0], 'what was before the drag');
	expect(await dial('trend constant')).toBe(before[1]);
	await (await page.find('[data-valley="0"]')).click();
	const said = await page.reads('[data-valley="0"]', /α ([\d.]+), β ([\d.]+)/);
	const [, alpha, beta] = /α ([\d.]+), β ([\d.]+)/.exec(said)!;
	await until(
		async () => Math.abs((await dial('level constant')) - Number(alpha)) < 0.006,
		'α in the valley',
	);
	expect(Math.abs((await dial('trend constant')) - Number(beta))).toBeLessThan(0.006);
});

test('other constants make another map, another criterion other valleys', async () => {
	await page.choose('[aria-label="Constant upwards"]', 'gamma');
	await until(
		async () => (await (await terrain()).getAttribute('data-terrain')) === 'alpha gamma',
		'the other map',
	);
	const byMse = await page.reads('[data-valley="0"]', /α [\d.]+, γ [\d.]+/);
	await page.choose('[aria-label="Criterion"]', 'mad');
	await until(async () => (await page.text('[data-valley="0"]')) !== byMse, 'other valleys');
	await page.choose('[aria-label="Criterion"]', 'mse');
});

test('a constant can be held, the others searched within bounds, and all of it undone', async () => {
	const before = await dial('trend constant');
	await (await page.find('[aria-label="Fix trend constant"]')).click();
	await page.fill('[aria-label="level constant, highest searched"]', '0.25');
	await page.fill('[aria-label="level constant, lowest searched"]', '0.9');
	await page.reads(
		'[data-constants="says"] [role="alert"]',
		/The lowest α searched is not above the highest/,
	);
	await page.fill('[aria-label="level constant, lowest searched"]', '0.2');
	await (
		await page.find('[aria-label="Bench"] #bench-view')
	)
		.findElement({ xpath: './/button[.="best constants"]' })
		.click();
	await until(async () => (await dial('level constant')) >= 0.2 - 1e-9, 'a search within bounds');
	expect(await dial('level constant')).toBeLessThanOrEqual(0.25);
	expect(await dial('trend constant')).toBeCloseTo(before, 9);
	await page.press('Undo');
	await until(async () => (await dial('level constant')) < 0.2, 'the constants before');
});

test('steadiness is said in a sentence, under the best constants through time', async () => {
	await page.reads('[data-steadiness]', /^(Steady (throughout, )?since|Two settings|Not steady: since) /);
	await page.find('[aria-label="Best constants at each origin"]');
});

test('a twin beside it starts otherwise, and both starts are in sight', async () => {
	await page.press('duplicate');
	await page.choose('[aria-label="Line-up"] select:has(option[value="first-cycle"])', 'first-cycle');
	await page.reads('[aria-label="Line-up"]', /scored, from Jan 2021/);
	await page.reads('[data-start]', /scored, from/);
	const starts = await Promise.all(
		(await page.driver.findElements({ css: '[data-start]' })).map((line) => line.getText()),
	);
	expect(
		starts.some((text) =>
			/starts from the first cycles taken apart: [\d.\u202f]+, −?[\d.]+ a period\s+\d+ months scored, from Jan 2020/.test(
				text,
			),
		),
	).toBe(true);
});

test('all are scored from the period that is typed, and a wrong one is refused in words', async () => {
	await page.fill('[aria-label="First scored period"]', '2022-07');
	await page.reads('[data-line-up="window"]', /same 30 months, Jul 2022 – Dec 2024/);
	await page.fill('[aria-label="First scored period"]', '2030-01');
	await page.reads('[aria-label="Line-up"] [role="alert"]', /between 2020-01 and 2024-12/);
	await page.driver
		.findElement({ xpath: '//*[@aria-label="Line-up"]//button[normalize-space()="all"]' })
		.click();
	await page.reads('[data-line-up="window"]', /same 4\d months/);
});

test('constants on a bound say what it means', async () => {
	await offer('ses');
	const simple = await page.driver.findElement({
		xpath: '(//*[@aria-label="Simple exponential smoothing, level constant"])[last()]',
	});
	await simple.sendKeys(Key.END);
	await page.reads('[data-bound]', /^α: At 1 the forecast repeats the last actual: the naive forecast\./);
	await page.find('[data-terrain="alpha"]');
	await page.expectAccessible();
});

test('the working of every part is spelled out, periods to come too, and found by a key', async () => {
	await (
		await page.driver.findElement({
			xpath: '//button[starts-with(@id,"candidate-")][contains(.,"Holt-Winters")]',
		})
	).click();
	await page.press('Working');
	await page.find('[aria-label="Go to period"]');
	await page.keys('g');
	await page.keys('2021-05', Key.ENTER);
	const level = await page.find('[data-working="level 17"]');
	await level.click();
	await page.reads(
		'[data-working="sentence"]',
		/^Level = [\d.]+ × \d+ ÷ [\d.]+ \+ [\d.]+ × \([\d.]+ [+−] .*\) = [\d.]+$/,
	);
	await page.keys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
	await page.reads(
		'[data-working="sentence"]',
		/^Season = [\d.]+ × \d+ ÷ [\d.]+ \+ [\d.]+ × [\d.]+ = [\d.]+$/,
	);
	await page.keys('g');
	await page.keys('2025-12', Key.ENTER);
	await (await page.find('[data-working="fitted 72"]')).click();
	await page.reads('[data-working="sentence"]', /^Forecast = \([\d.]+ \+ 12 × [\d.]+\) × [\d.]+ = [\d.]+$/);
	await (await page.find('[aria-label="Working as XLSX"]')).click();
	expect((await page.saved('P1 Holt-Winters × working.xlsx')).slice(0, 2)).toBe('PK');
	await page.expectAccessible();
});

test('level and level with trend are drawn on the strip when asked', async () => {
	const drawn = () =>
		page.driver.findElements({ css: '[aria-label="Reading line"] button[aria-pressed="true"]' });
	expect(await drawn()).toHaveLength(0);
	await page.press('level');
	await page.press('level with trend');
	expect(await drawn()).toHaveLength(2);
	const strip = await page.find('[role="group"][aria-label^="Strip"]');
	await strip.sendKeys(Key.ARROW_LEFT);
	await page.reads('[data-reading-state="level"]', /\d/);
	expect(await page.complaints()).toEqual([]);
});

test('the line-up comes back as it was left, held constants and all', async () => {
	await page.reads('[data-saving]', /^saved$/);
	/** Every constant of the line-up, and of the chosen one what is held and within which bounds it is searched. */
	const status = () =>
		page.driver.executeScript<string[]>(`
			const all = (css) => [...document.querySelectorAll(css)];
			return [
				...all('[data-candidate] [type="range"]').map((dial) => dial.ariaLabel + ' ' + dial.ariaValueText),
				...all('[aria-label^="Fix "]').map((box) => box.ariaLabel + ' ' + box.checked),
				...all('[aria-label$=" searched"]').map((field) => field.ariaLabel + ' ' + field.value),
			]`);
	const { body } = await app.call<{ lineUp: { candidates: { id: string; method: string }[] } }>(
		'GET',
		'/items/P1',
	);
	const { id } = body.lineUp.candidates.find(({ method }) => method === 'holt-winters')!;
	await page.open(`/items/P1?view=constants&candidate=${id}`);
	await (await page.find('[aria-label="Fix trend constant"]')).click();
	await page.press('best constants', '#bench-view');
	await page.find('[data-candidate] [aria-label="found by search"]');
	await page.reads('[data-saving]', /^saved$/);
	const before = await status();
	expect(before).toContain('Fix trend constant true');
	await page.open(`/items/P1?view=constants&candidate=${id}`);
	await page.reads('[aria-label="Line-up"]', /Holt-Winters ×/);
	await until(async () => (await status()).join() === before.join(), 'everything as it was left');
});
