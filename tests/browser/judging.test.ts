import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { type App, startApp, until, workOn } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { openPage, type Page } from '../support/page';
import type { Item } from '../../src/lib/wire/items';

let database: TestDatabase;
let app: App;
let page: Page;

const SHAPE = [0.6, 0.7, 1, 1.2, 1.4, 1.3, 1.2, 1.1, 0.9, 0.9, 0.8, 0.9];
const VALUES = Array.from({ length: 60 }, (_, t) =>
	Math.round((300 + 2 * t) * SHAPE[t % 12]! + ((t * 7919) % 41) - 20),
);
const bringIn = (code: string) =>
	app.call('POST', '/items', {
		code,
		name: 'Pannier clip',
		unit: 'pieces',
		text: VALUES.join('\n'),
		choices: { frequency: 'month', first: '2021-11' },
	});
const load = async (code: string) => (await app.call<Item>('GET', `/items/${code}`)).body;
const rows = () => page.driver.findElements({ css: '[data-candidate]' });
const mean = (list: number[]) => list.reduce((a, b) => a + b, 0) / list.length;

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url, { demo: false });
	await bringIn('J-1');
	await bringIn('J-2');
	await workOn(app, 'J-2');
	page = await openPage(app);
});
afterAll(async () => {
	await page?.close();
	await app?.stop();
	await database?.drop();
});

describe('an item that nobody has worked on', () => {
	test('opens with a mix, the method that explains it and the yardstick, and nothing is saved by looking', async () => {
		await page.open('/items/J-1');
		await page.reads(
			'[data-line-up="proposed"]',
			/A combination of \d+ methods, weighted by their trial errors/,
		);
		const names = await Promise.all((await rows()).map((row) => row.getText()));
		expect(names).toHaveLength(3);
		expect(names[0]).toMatch(/^Combination of \d+/m);
		expect(names.join('\n')).toContain('Naive');
		await page.reads('[data-members]', /\d+ %.*\d+ %/);
		await page.reads(
			'[data-line-up="says"]',
			/In a trial on 36 past months its average error was \d+ % below/,
		);
		await page.reads('[data-saving]', /^proposed$/);
		expect((await load('J-1')).lineUp).toMatchObject({ version: 0, candidates: [] });
		await page.expectAccessible();
	});

	test('shows all that was tried; a row of it joins the line-up, which is saved then', async () => {
		await page.press('Propose');
		await page.reads('[data-proposal="says"]', /methods (did equally well|was clearly better)/);
		const relativeError = await page.driver.executeScript<number[]>(
			`return [...document.querySelectorAll('[data-tried-row] td:nth-child(2)')].map((cell) => Number(cell.textContent.replace(',', '.')))`,
		);
		expect(relativeError.length).toBeGreaterThan(8);
		expect(relativeError).toEqual([...relativeError].sort((a, b) => a - b));
		await page.expectAccessible();
		await (await page.find('[data-tried-row="seasonal-naive"] button')).click();
		await until(async () => (await rows()).length === 4, 'four rows');
		await until(async () => (await load('J-1')).lineUp.version === 1, 'it to be saved');
		const { candidates, hidden } = (await load('J-1')).lineUp;
		expect(candidates.filter(({ id }) => !hidden.includes(id)).at(-1)!.method).toBe('seasonal-naive');
		// Opened again it is the line-up that was saved, parts and all.
		await page.open('/items/J-1');
		await until(async () => (await rows()).length === 4, 'four rows again');
		expect(await page.driver.findElements({ css: '[data-line-up="proposed"]' })).toHaveLength(0);
	});

	test('its mix is adopted as it is shown', async () => {
		await bringIn('J-3');
		// A look at the trial on the way changes nothing of what is adopted.
		await page.open('/items/J-3?view=trial');
		await page.reads('[data-trial="says"]', /In a trial on 36 past months/);
		await (await page.find('#tab-ahead')).click();
		const shown = (await page.reads('[data-ahead="1"]', /Nov 2026\s+\d/)).match(/[\d.]+(?=\s)/g)!;
		await page.press('Adopt for 12 ahead');
		await page.reads('[data-adopted]', /Adopted: Combination of \d+/);
		const { adopted, lineUp } = await load('J-3');
		expect(shown).toContain(adopted!.steps[0]!.mean.toFixed(1));
		expect(lineUp.version).toBe(1);
	});
});

test('methods are found by typing, and Enter adds the one on top', async () => {
	await page.open('/items/J-2?candidate=a');
	await page.press('+ Candidate');
	await page.find('[data-offer]');
	await page.keys('double smoo', Key.ENTER);
	await until(async () => (await rows()).length === 4, 'four rows');
	await page.press('+ Candidate');
	await page.find('[data-offer]');
	await page.keys('nothing like it');
	await page.reads('[data-offers]', /No method has that name/);
	await page.keys(Key.ESCAPE);
	expect(await page.driver.findElements({ css: '[data-offer]' })).toHaveLength(0);
	await page.press('Undo');
	// Opened anew while it is still being saved, the page would take up what this one had and meet it on the server.
	await page.reads('[data-saving]', /^saved$/);
});

describe('holding back', () => {
	const mad = (id: string) => page.text(`[data-candidate="${id}"] [data-measure="mad"]`);

	test('one cycle is in the holdout, and both readings of it are in the line-up', async () => {
		await page.open('/items/J-2?candidate=a');
		await page.press('one cycle');
		await page.reads(
			'[data-line-up="window"]',
			/Over the 12 months in the holdout, all forecast at the end of Oct 2025/,
		);
		const ahead = mean(VALUES.slice(48).map((value) => Math.abs(value - VALUES[47]!)));
		await until(async () => (await mad('a')).includes(ahead.toFixed(1)), `MAD of ${ahead.toFixed(1)}`);
		await page.reads(
			'[data-line-up="says"]',
			/smallest MAD: [\d.]+ pieces a month.*(12 months of the holdout|clear difference|may be chance)/s,
		);
		await page.press('step by step');
		const steps = mean(VALUES.slice(48).map((value, h) => Math.abs(value - VALUES[47 + h]!)));
		await until(async () => (await mad('a')).includes(steps.toFixed(1)), `MAD of ${steps.toFixed(1)}`);
		await page.expectAccessible();
	});

	test('the handle on the strip moves the cut by the keys', async () => {
		const handle = await page.find('[role="slider"][aria-label^="Cut"]');
		expect(await handle.getAttribute('aria-valuenow')).toBe('12');
		await page.driver.executeScript('arguments[0].focus()', handle);
		await page.keys(Key.ARROW_LEFT);
		await page.reads('[data-line-up="window"]', /13 months in the holdout/);
		await page.keys(Key.END);
		await page.reads('[data-line-up="window"]', /Compared over the same/);
	});

	test('nothing is adopted from a part of the history', async () => {
		await page.fill('[aria-label="Periods of the holdout"]', '7');
		await page.reads('[data-line-up="window"]', /7 months in the holdout/);
		await (await page.find('#tab-ahead')).click();
		await page.reads('[data-held-back]', /constants come from the others alone/);
		await page.press('Set the holdout to 0 to adopt');
		await page.reads('#bench-view', /Adopt for 12 ahead/);
	});
});

describe('a trial', () => {
	test('is seen step by step for all candidates, its origins on the strip', async () => {
		await page.open('/items/J-2?view=trial&candidate=a');
		await page.reads(
			'[data-trial="says"]',
			/In a trial on 36 past months, 1 to 12 ahead, the average error of Naive was as large as naive’s/,
		);
		// Naive one and twelve months ahead, from 36 and 25 origins.
		const missed = (step: number) =>
			mean(
				VALUES.flatMap((value, t) =>
					t - step >= 23 && t - step < 59 ? [Math.abs(value - VALUES[t - step]!)] : [],
				),
			);
		await page.reads(
			'[data-trial="table"]',
			new RegExp(
				`MAD ${missed(1).toFixed(1)} .* ${missed(12).toFixed(1)}\\n`
					.replaceAll('.', '\\.')
					.replace('\\.*', '.*'),
			),
		);
		await until(
			async () => (await page.driver.findElements({ css: '[data-origin]' })).length === 36,
			'36 origins on the strip',
		);
		await page.expectAccessible();
		await page.press('CSV', '#bench-view');
		const file = await page.saved('J-2 trial.csv');
		expect(file.split('\r\n')).toHaveLength(14);
		expect(Number(file.split('\r\n')[1]!.split(',')[1])).toBeCloseTo(missed(1), 9);
	});

	test('constants are refitted at each origin on demand, and the line-up compares by it', async () => {
		await page.press('trial', '[aria-label="Line-up"]');
		await page.reads('[data-line-up="window"]', /Trial on 36 past months, 1 to 12 ahead/);
		await page.press('best constants for all'.replace('best', 'Best'));
		await (await page.find('#candidate-c')).click();
		const held = await page.reads(
			'[data-trial="says"]',
			/the average error of Simple exponential smoothing was/,
		);
		await page.press('refitted at each origin');
		await until(async () => {
			const [again] = await page.driver.findElements({
				xpath: '//button[normalize-space()="refitted at each origin"]',
			});
			return (await again?.getAttribute('aria-pressed')) === 'true';
		}, 'another trial');
		await page.reads(
			'[data-trial="says"]',
			/In a trial on 36 past months, 1 to 12 ahead, the average error of Simple exponential smoothing was/,
		);
		await page.press('today’s constants');
		await page.reads('[data-trial="says"]', new RegExp(held.slice(0, 70)));
	});
});

test('the next periods together are said with what to have in stock', async () => {
	// The page is not left, so that what was changed before is saved by one who is still there.
	await (await page.find('#candidate-a')).click();
	await page.press('Ahead');
	await page.reads(
		'[data-together="sum"]',
		new RegExp(`Forecast for the next 3 months together: .*${String(3 * VALUES[59]!).slice(-3)}`),
	);
	const stock = await page.reads(
		'[data-together="stock"]',
		/A stock of .* pieces covers .* with 95 % probability/,
	);
	await page.fill('[aria-label="Service level, %"]', '50');
	await page.reads('[data-together="stock"]', /with 50 % probability/);
	await page.fill('[aria-label="Periods together"]', '1');
	await page.reads('[data-together="sum"]', /Forecast for the next month: /);
	expect(await page.text('[data-together="stock"]')).not.toBe(stock);
	expect(await page.complaints()).toEqual([]);
});
