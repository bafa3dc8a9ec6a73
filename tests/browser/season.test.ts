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
	app = await startApp(database.url, { demo: false });
	page = await openPage(app);
});
afterAll(async () => {
	await page?.close();
	await app?.stop();
	await database?.drop();
});

// Means of the years: 100, 110, 130.
const YEARS = [
	[78, 121, 142, 59],
	[90, 130, 155, 65],
	[103, 158, 180, 79],
];
const TABLE = ['Year\tQ1\tQ2\tQ3\tQ4', ...YEARS.map((year, i) => `${2023 + i}\t${year.join('\t')}`)].join(
	'\n',
);
const part = async (id: string) => (await page.find(`[data-season-part="${id}"]`)).click();
const index = async (season: number) =>
	Number((await (await page.find(`[data-index="${season}"]`)).getAttribute('value'))!.replace('−', '-'));
const number = (text: string) => Number(text.replace(/\u202f/g, '').replace('−', '-'));
const candidates = async () =>
	(
		await app.call<{ lineUp: { candidates: { method: string; [key: string]: unknown }[] } }>(
			'GET',
			'/items/W1',
		)
	).body.lineUp.candidates;

test('three years of quarters, years down and quarters across, are brought in and looked at', async () => {
	await page.open('/bring-in');
	await page.fill('textarea', TABLE);
	await page.reads('[data-layout]', /one item, cycles down and seasons across/);
	await page.reads('[data-reading-result]', /12 figures in 12 quarters, Q1 2023 to Q4 2025/);
	await page.fill('form#bring-in label:nth-of-type(1) input', 'W1');
	await page.fill('form#bring-in label:nth-of-type(2) input', 'Wheel, front');
	await page.fill('form#bring-in label:nth-of-type(3) input', 'pieces');
	await (await page.find('button[form="bring-in"]')).click();
	await page.reads('h1', /W1\s*Wheel, front/);
	await workOn(app, 'W1');
	await page.open('/items/W1?view=season&candidate=c');
	await page.reads('[data-look]', /season/i);
});

test('indices are taken by two rules and compared, each figure spelled out', async () => {
	await part('indices');
	await page.reads('[data-index-table]', /2023.*2024.*2025/s);
	await page.choose('[aria-label="What figures are compared with"]', 'ratio-to-cycle-mean');
	// By hand: 103 ÷ 130 = 0.7923.
	await (await page.find('[data-cell="2 0"]')).click();
	await page.reads('[data-index-sentence]', /Q1 2025: ratio = 103 ÷ 130 = 0\.7923/);
	await page.keys(Key.ARROW_RIGHT);
	await page.reads('[data-index-sentence]', /Q2 2025: ratio = 158 ÷ 130 = 1\.2154/);
	await page.press('put them on a level');
	await page.reads('[aria-label="Line-up"]', /Indices × last cycle/);
	const byCycle = await index(1);
	expect(byCycle).toBeCloseTo((78 / 100 + 90 / 110 + 103 / 130) / 3, 3);
	await (await page.find('[data-candidate="d"] button, [data-candidate="c1"] button')).click();
	await page.press('duplicate');
	await page.choose('[aria-label="What figures are compared with"]', 'ratio-to-moving-average');
	await until(async () => Math.abs((await index(1)) - byCycle) > 0.005, 'other indices');
	await page.reads('[data-line-up="window"]', /Compared over the same \d+ quarters?/);
	await page.reads('[data-saving]', /^saved$/);
	const byRule = (await candidates()).filter(({ method }) => method === 'seasonal-index');
	expect(byRule.map(({ index }) => (index as { rule: string }).rule).sort()).toEqual([
		'ratio-to-cycle-mean',
		'ratio-to-moving-average',
	]);
	await page.expectAccessible();
});

test('line and indices are found together, before and after side by side, and undone', async () => {
	await part('line');
	await page.press('Find line and indices together');
	await page.reads('[data-line-row="slope"]', /slope/);
	const mse = await page.reads('[data-line-measure="mse"]', /MSE\s+[\d.]+\s+[\d.]+/);
	const [before, now] = mse.split(/\s+/).slice(1).map(number);
	expect(now).toBeLessThan(before!);
	expect(number((await (await page.find('[data-line-sum]')).getAttribute('data-line-sum'))!)).toBeCloseTo(
		4,
		12,
	);
	await (await page.find('[aria-label="Fix slope b a period"]')).click();
	await page.fill('[aria-label="slope b a period, fixed"]', '5');
	await until(
		async () =>
			Number(await (await page.find('[aria-label="slope b a period, fixed"]')).getAttribute('value')) === 5,
		'the slope as typed',
	);
	await page.reads('[data-season-line]', /beside what is fixed/);
	await page.press('Undo');
	await page.press('Undo');
	await page.find('[aria-label="slope b a period"]');
	await page.expectAccessible();
});

test('one index is typed over and held, another dragged by the keys; the others take up the sum', async () => {
	await (await page.find('[data-candidate] button[aria-pressed="false"] span[title^="Indices ×"]')).click();
	await part('indices');
	const second = await index(2);
	await page.fill('[data-index="1"]', '0.9');
	await until(async () => (await index(2)) < second, 'the others to give way');
	expect(await index(1)).toBe(0.9);
	const sum = await (await page.find('[data-index-sum]')).getAttribute('data-index-sum');
	expect(Number(sum)).toBeCloseTo(4, 12);
	const bar = await page.find('[role="slider"][aria-label^="Index of Q4"]');
	await bar.sendKeys(Key.ARROW_UP, Key.ARROW_UP);
	await page.find('[role="slider"][aria-label^="Index of Q4, fixed"]');
	await bar.sendKeys(Key.DELETE);
	await until(async () => !(await bar.getAttribute('aria-label'))!.includes('fixed'), 'the bar to be let go');
	// The sum is left as it is where that is wanted, and says so.
	await page.press('sum stays 4');
	await until(
		async () =>
			Math.abs(Number(await (await page.find('[data-index-sum]')).getAttribute('data-index-sum')) - 4) > 0.01,
		'another sum',
	);
	await page.press('sum stays 4');
});

test('backwards: a forecast is read as the index that it implies', async () => {
	await page.fill('[aria-label="Forecast to read backwards"]', '130');
	const text = await page.reads('[data-backwards]', /implies 130(\.0+)? ÷ [\d.]+ = [\d.]+/);
	const [, level, implied] = /÷ ([\d.]+) = ([\d.]+)/.exec(text)!.map(Number);
	expect(implied).toBeCloseTo(130 / level!, 3);
});

test('levels side by side: two scenarios and their blend, one in use, drawn and kept', async () => {
	await part('levels');
	await page.press('+ Level');
	await page.press('+ Level');
	await page.fill('[aria-label="Growth of level 3 in %"]', '10');
	const level = async (place: number) =>
		number(await page.text(`[data-scenario="${place}"] [data-scenario-level]`));
	await until(async () => Math.abs((await level(3)) - 143) < 0.1, 'last cycle grown by 10 %');
	expect(await level(1)).toBeCloseTo(130, 1);
	expect(await level(2)).toBeCloseTo(120, 1);
	await page.press('+ Blend of these');
	await page.fill('[aria-label="Weight of last cycle in level 4"]', '0');
	await until(async () => Math.abs((await level(4)) - (120 + 143) / 2) < 0.1, 'the blend');
	await (await page.find('[data-scenario="4"] input[type="radio"]')).click();
	await page.find('[data-scenario="4"][data-in-use="true"]');
	await page.reads('[aria-label="Line-up"]', /Indices × blend of 3/);
	await page.press('join');
	await until(
		async () => (await candidates()).filter(({ method }) => method === 'seasonal-index').length === 3,
		'a scenario as a candidate',
	);
	await page.expectAccessible();
	await page.press('Undo');
});

test('indices and level are frozen, and the screen says what they missed', async () => {
	await page.press('frozen');
	await page.reads(
		'[data-frozen]',
		/stay as they stood at the end of 2025-Q4; no cycle has become complete since/,
	);
	await page.press('Undo');
	await page.reads('[data-frozen]', /last at the end of Q4 2025/);
});

test('each season from its own past, by an inner method of its own', async () => {
	await part('each');
	await page.press('+ forecast each from its own past');
	const next = async () =>
		Number(await (await page.find('[data-own-season="Q1"]')).getAttribute('data-own-next'));
	await until(
		async () => Math.abs((await next()) - (78 + 90 + 103) / 3) < 1e-9,
		'the mean of all first quarters',
	);
	await page.choose('[data-season-each] [aria-label="Inner method"]', 'linear-trend');
	await until(async () => Math.abs((await next()) - (271 / 3 + 25)) < 1e-6, 'the line through them');
	await page.expectAccessible();
});

test('candidates are combined, weighed, and one of them leaves the combination when removed', async () => {
	await page.press('+ Candidate');
	await (await page.find('[data-offer="combination"]')).click();
	await page.reads('[data-members]', /weighted/);
	const members = async () =>
		(await candidates()).find(({ method }) => method === 'combination')?.of as string[];
	await until(async () => (await members())?.length > 2, 'the combination to be kept');
	const before = await members();
	await (await page.find('[aria-label="Combine Moving average of 3"]')).click();
	await page.choose('[aria-label="How the candidates are weighted"]', 'inverse-mse');
	await page.reads('[aria-label="Line-up"]', /Combination of \d by MSE/);
	await until(async () => (await members()).length === before.length - 1, 'one less');
	await (await page.find('[data-candidate] button span[title="Simple exponential smoothing"]')).click();
	await page.press('remove');
	await until(async () => (await members()).length === before.length - 2, 'the removed one to leave');
	await page.press('Undo');
	await until(async () => (await members()).length === before.length - 1, 'it to be back');
	await page.expectAccessible();
});

test('the season is taken out, its inner constants searched and seen in Constants', async () => {
	await page.press('+ Candidate');
	await (await page.find('[data-offer="deseasonalised"]')).click();
	await page.reads('[aria-label="Line-up"]', /Deseasonalised . Simple exponential smoothing/);
	await page.press('best constants');
	const kept = async () => (await candidates()).find(({ method }) => method === 'deseasonalised');
	await until(async () => Object.hasOwn((await kept())?.inner ?? {}, 'optimise'), 'the search to be kept');
	await (await page.find('#tab-constants')).click();
	await until(
		async () => (await (await page.find('[data-terrain]')).getAttribute('data-terrain')) === 'alpha',
		'the curve of the inner constant',
	);
	await page.choose('[data-candidate] [aria-label="Inner method"]', 'moving-average');
	await page.reads('[aria-label="Line-up"]', /Deseasonalised . Moving average of 3/);
	await (await page.find('#tab-working')).click();
	await page.reads('#bench-view', /Deseasonalised/);
});

test('the indices on their blend are adopted and taken away', async () => {
	await (await page.find('[data-candidate] button span[title^="Indices × blend"]')).click();
	await (await page.find('#tab-ahead')).click();
	await page.press('Adopt for 4 ahead');
	await page.reads('[data-adopted]', /Adopted: Indices × blend of 3/);
	const { body } = await app.call<{ adopted: { id: number; steps: { mean: number }[] } }>('GET', '/items/W1');
	expect(body.adopted.steps).toHaveLength(4);
	const { body: again } = await app.call('GET', `/items/W1/adopted/${body.adopted.id}`);
	expect(again).toEqual({ sameData: true, sameFigures: true });
	await (await page.find('#tab-working')).click();
	await (await page.find('[aria-label="Working as CSV"]')).click();
	const file = await page.saved('W1 Indices × blend of 3 working.csv');
	expect(file).toMatch(/Index/);
	expect(await page.complaints()).toEqual([]);
});
