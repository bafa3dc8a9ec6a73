import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import writeWorkbook from 'write-excel-file/universal';
import type { Item } from '../../src/lib/wire/items';
import { type App, everyItem, startApp, until } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { openPage, type Page } from '../support/page';

let database: TestDatabase;
let app: App;
let page: Page;
let folder: string;
beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	page = await openPage(app);
	folder = mkdtempSync(join(tmpdir(), 'ventrel-tables-'));
});
afterAll(async () => {
	await page.close();
	await app.stop();
	await database.drop();
	rmSync(folder, { recursive: true, force: true });
});

const BOX = 'textarea';
const paste = (text: string) =>
	page.driver.executeScript(
		`const box = document.querySelector('${BOX}'); box.focus(); box.select();
		const data = new DataTransfer(); data.setData('text/plain', arguments[0]);
		box.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));`,
		text,
	);
const upload = async (name: string, content: string | Uint8Array) => {
	const path = join(folder, name);
	writeFileSync(path, content);
	await page.driver.findElement(By.css('input[type=file]')).sendKeys(path);
};
const items = () => everyItem(app);
const MONTHS = Array.from(
	{ length: 24 },
	(_, m) => `${2024 + Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')}`,
);
const wide = (count: number, months: string[], figure: (i: number, m: number) => number | string) =>
	[
		`Code\tDescription\t${months.join('\t')}`,
		...Array.from(
			{ length: count },
			(_, i) => `H-${i}\tPart ${i}\t${months.map((_m, m) => figure(i, m)).join('\t')}`,
		),
	].join('\n');
const figure = (i: number, m: number) => 100 + ((i * 31 + m * 17) % 90);

test('hundreds of items come in at once; one is left out, one is renamed', async () => {
	await page.open('/bring-in');
	await paste(wide(300, MONTHS, figure));
	expect(await page.reads('[data-layout]', /300 items down, months across/)).toBeTruthy();
	expect(await page.text('[data-taken]')).toBe('300 of 300 items taken');
	await (await page.find('[aria-label="Take H-1"]')).click();
	await page.fill('[aria-label="Name of H-2"]', 'Bell, brass');
	await page.reads('[data-taken]', /299 of 300/);
	await page.press('Bring in 299 items');
	expect(await page.reads('[data-brought]', /Brought in/)).toMatch(
		/299 items \(299 new\), 7\s176 figures added, 0 corrected/,
	);
	const kept = await items();
	expect(kept).toHaveLength(299);
	expect(kept.find(({ code }) => code === 'H-2')!.name).toBe('Bell, brass');
	expect(kept.some(({ code }) => code === 'H-1')).toBe(false);
});

test('labels: a column of them comes in, the list is narrowed to some, and one is typed', async () => {
	await page.open('/bring-in');
	await paste(
		[
			`Item\tFamily\tSite\t${MONTHS.join('\t')}`,
			...['LB-1 Brakes North', 'LB-2 Brakes South', 'LB-3 Lights South', 'LB-4 Lights North'].map(
				(line, i) => `${line.replaceAll(' ', '\t')}\t${MONTHS.map((_month, m) => figure(i, m)).join('\t')}`,
			),
		].join('\n'),
	);
	await page.reads('[data-incoming="LB-2"]', /new item, 24 months.*Brakes · South/s);
	// A column that is no label after all is left out by a press at its head.
	await page.choose('[aria-label="Column 3 is"]', 'ignored');
	await page.reads('[data-doubt="ignored-columns"]', /“Site” is left out/);
	await page.press('“Site” labels items');
	await page.reads('[data-incoming="LB-2"]', /Brakes · South/);
	await page.press('Bring in 4 items');
	await page.reads('[data-brought]', /4 items \(4 new\)/);

	await page.open('/items');
	const by = async (label: string) => {
		const choice = await page.find('[aria-label="By label"]');
		const options = await choice.findElements(By.css('option'));
		for (const option of options) if ((await option.getText()).startsWith(label)) await option.click();
	};
	await by('Lights (2)');
	await page.reads('h1 + span', /, 2 shown/);
	await by('South');
	await page.reads('h1 + span', /, 1 shown/);
	expect(new URL(await page.driver.getCurrentUrl()).searchParams.getAll('label')).toEqual([
		'Family=Lights',
		'Site=South',
	]);
	await page.driver.navigate().refresh();
	await page.reads('h1 + span', /, 1 shown/);
	await page.reads('#row-LB-3', /LB-3/);
	await (await page.find('[data-wanted="Site"]')).click();
	await page.reads('h1 + span', /, 2 shown/);

	const { body } = await app.call<Item>('GET', '/items/LB-3');
	expect(body.labels).toEqual([
		['Family', 'Lights'],
		['Site', 'South'],
	]);
});

test('from any page a key and a few letters lead to an item, by code, name or label', async () => {
	const at = (path: string) =>
		until(async () => (await page.driver.getCurrentUrl()).startsWith(app.url + path), `the page ${path}`);
	await page.open('/bring-in');
	await page.keys('/');
	const field = await page.find('[aria-label="Find an item"]');
	await field.sendKeys('south ligh');
	await page.reads('#found-items', /^LB-3/);
	await field.sendKeys(Key.ENTER);
	await at('/items/LB-3');

	await page.keys('/');
	await field.sendKeys('lb');
	await page.reads('#found-items', /LB-1.*LB-4/s);
	await field.sendKeys(Key.ARROW_DOWN, Key.ARROW_DOWN, Key.ARROW_UP);
	expect(await field.getAttribute('aria-activedescendant')).toBe('found-1');
	await field.sendKeys(Key.ENTER);
	await at('/items/LB-2');

	await page.keys('/');
	await field.sendKeys('part');
	await page.reads('#found-items', /all 298 in the list/);
	await field.sendKeys(Key.ARROW_UP, Key.ENTER);
	await at('/items?find=part');
	await field.sendKeys('nothing so');
	await page.reads('#found-items', /No item has “nothing so”/);
	await field.sendKeys(Key.ESCAPE);
	await until(
		async () => (await page.driver.findElements(By.css('#found-items'))).length === 0,
		'the list to go',
	);
});

test('more actuals: what is new, what differs with the old figure beside it, what is the same', async () => {
	await page.open('/bring-in');
	await paste(
		wide(3, [...MONTHS.slice(12), '2026-01'], (i, m) => (i === 0 && m === 0 ? 999 : figure(i, m + 12))),
	);
	await page.reads('[data-comparison]', /H-0 is here already/);
	expect(await page.text('[data-comparison]')).toMatch(/1 new, 1 differs, 11 the same\.[^]*Jan 2025:[^]*999/);
	expect(await page.text('[data-incoming="H-1"]')).toMatch(/new item, 13 months/);
	await page.press('Bring in 3 items');
	expect(await page.reads('[data-brought]', /Brought in/)).toMatch(
		/3 items \(1 new\), 15 figures added, 1 corrected/,
	);
	await page.open('/items/H-0?view=demand');
	expect(await (await page.find('[data-figure="12"]')).getAttribute('value')).toBe('999');
});

test('what a part was taken for is changed on the table, and the preview follows', async () => {
	await page.open('/bring-in');
	await paste(
		'Rack by year\n\n\tQ1\tQ2\tQ3\tQ4\tAll\n2023\t1\t2\t3\t4\t10\n2024\t5\t6\t7\t8\t26\n\n* by hand',
	);
	await page.reads('[data-layout]', /cycles down and seasons across/);
	expect(await page.reads('[data-reading-result]', /8 figures/)).toMatch(/Q1 2023 to Q4 2024; from 1 to 8/);
	await page.choose('[aria-label="Row 5 is"]', 'ignored');
	await page.reads('[data-reading-result]', /4 figures in 4 quarters, Q1 2023 to Q4 2023/);
	await page.press('read it again');
	await page.reads('[data-reading-result]', /8 figures/);
	await page.expectAccessible();
});

test('a doubt is settled with one press', async () => {
	await page.open('/bring-in');
	await paste('03/04/2024;1\n04/04/2024;2\n05/04/2024;4\n06/04/2024;3');
	await page.reads('[data-doubt="date-order"]', /read with the day first; none of them shows which/);
	await page.reads('[data-reading-result]', /Apr 2024 to .*Periods: dates, day first/);
	await (await page.find('[data-doubt="date-order"] button')).click();
	await page.reads('[data-reading-result]', /Mar 2024 to .*Jun 2024.*Periods: dates, month first/);
});

test('the next table of a make is read as the last one was, and its items tell what nothing else does', async () => {
	await page.open('/bring-in');
	const issues = (months: string[]) =>
		[
			'Stock no.;Zone;' + months.join(';'),
			...['V1', 'V2', 'V3'].map(
				(code, i) => `${code};${4 + (i % 2)};${months.map((_, m) => figure(i, m)).join(';')}`,
			),
		].join('\n');
	await paste(issues(MONTHS.slice(0, 12)));
	await page.reads('[data-layout]', /3 items down/);
	await page.choose('select[aria-label="Column 2 is"]', 'label');
	await (await page.find('button[form="bring-in"]')).click();
	await until(async () => (await items()).some(({ code }) => code === 'V3'), 'the items');
	await page.open('/bring-in');
	await paste(issues(MONTHS.slice(0, 13)));
	await page.reads('[data-known="last-table"]', /^Read in the same way as/);
	// A row of codes that could be weeks, and no period anywhere.
	await paste('V1;V2;V3\n41;52;47');
	await page.reads('[data-known="known-items"]', /Row 1 has the codes or names of items that are here/);
	await page.press('read it without that');
	await until(
		async () => (await page.driver.findElements(By.css('[data-known="known-items"]'))).length === 0,
		'read without',
	);
	expect(await page.complaints()).toEqual([]);
});

test('the figures of a period are entered in the list, by keyboard and paste', async () => {
	await page.open('/items?find=V');
	await page.press('enter figures');
	await page.reads('[data-entry-period]', /Jan 2026|[A-Z][a-z]{2} 20\d\d/);
	const fields = () => page.driver.findElements(By.css('input[id^=entry-]'));
	await until(async () => (await fields()).length > 2, 'the fields');
	await (await fields())[0]!.click();
	await page.keys('1204', Key.ENTER, '31', Key.ENTER);
	await page.reads('[data-entry-count]', /^2 figures entered/);
	await page.driver.executeScript(
		`const field = document.activeElement; const data = new DataTransfer(); data.setData('text/plain', '17\\n(4)');
		field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));`,
	);
	await page.reads('[data-entry-pasted]', /taken/);
	await page.expectAccessible();
	const period = await page.text('[data-entry-period]');
	const entered = Number(/^(\d+) figure/.exec(await page.text('[data-entry-count]'))![1]);
	await page.press(`Bring in ${entered} figures`);
	await page.reads('p[role=status]', new RegExp(`^${entered} figures of ${period} brought in`));
	await page.press('close');
	expect(await page.complaints()).toEqual([]);
});

test('a workbook: its sheets can be chosen between, and its bytes are kept', async () => {
	const data = [
		[{ value: 'Month' }, { value: 'Bell' }],
		...MONTHS.map((month, m) => [
			{ value: new Date(`${month}-01T00:00:00Z`), type: Date, format: 'mm/yyyy' },
			{ value: 40 + m },
		]),
	];
	const sheets = [
		{ sheet: 'Bells', data },
		{ sheet: 'Lamps', data: [[{ value: 'Lamp' }], [{ value: 7 }], [{ value: 8 }], [{ value: 9 }]] },
	];
	const bytes = new Uint8Array(await (await writeWorkbook(sheets).toBlob()).arrayBuffer());
	await page.open('/bring-in');
	await upload('shelf.xlsx', bytes);
	await page.reads('[data-reading-result]', /24 figures in 24 months, Jan 2024 to Dec 2025/);
	await page.driver.executeScript(
		`const s = [...document.querySelectorAll('label')].find((l) => l.textContent.includes('sheet')).querySelector('select'); s.value = 'Lamps'; s.dispatchEvent(new Event('change', { bubbles: true }))`,
	);
	await page.reads('[data-reading-result]', /3 figures/);
	await page.fill('form#bring-in label:nth-of-type(1) input', 'lamp-1');
	await (await page.find('button[form="bring-in"]')).click();
	await until(async () => (await items()).some(({ code }) => code === 'lamp-1'), 'the lamp');
	const raw = await fetch(`${app.url}/api/v1/items/lamp-1/raw`);
	expect(new Uint8Array(await raw.arrayBuffer())).toEqual(bytes);
});

describe('a file too large to be shown', () => {
	const COUNT = 12_000;
	const rows = () => {
		const parts = ['item,month,pieces\n'];
		for (let i = 0; i < COUNT; i++)
			parts.push(
				MONTHS.concat(MONTHS.map((month) => month.replace(/^202/, '203')))
					.map((month, m) => `big-${i},${month},${figure(i, m)}\n`)
					.join(''),
			);
		return parts.join('');
	};

	test('is sent, tells how far it is, and can be stopped: nothing is stored', async () => {
		const before = (await items()).length;
		await page.open('/bring-in');
		await upload('all.csv', rows());
		await page.reads('[data-reading-result], [data-layout]', /item/);
		await (await page.find('button[form="bring-in"]')).click();
		await page.reads('[data-progress]', /sending|reading|storing/);
		await page.press('stop');
		expect(await page.reads('[data-refusal]', /Stopped/)).toBe('Stopped. Nothing was stored.');
		expect((await items()).length).toBe(before);
	});

	test('is tried whole first, then brought in', async () => {
		await page.press('try all of it first');
		await until(
			async () => /Nothing is stored yet/.test(await page.text('[data-streamed]').catch(() => '')),
			'the trial',
			60_000,
		);
		expect(await page.text('[data-streamed]')).toMatch(
			/All of it can be read: 576\s000 rows, 12\s000 items \(12\s000 new\), 576\s000 figures added/,
		);
		await (await page.find('button[form="bring-in"]')).click();
		await until(
			async () => /Brought in/.test(await page.text('[data-streamed]').catch(() => '')),
			'the file',
			60_000,
		);
		expect((await items()).filter(({ code }) => code.startsWith('big-'))).toHaveLength(COUNT);
	}, 150_000);
});

describe('Demand: adjusted without losing it', () => {
	test('a figure is typed over the actual, the next one appended, with Enter alone; what came in stays beside it', async () => {
		await page.open('/items/H-5?view=demand');
		const field = await page.find('[data-figure="22"]');
		await field.click();
		await page.keys('350', Key.ENTER);
		await page.keys('251', Key.ENTER);
		await page.keys('215', Key.ENTER);
		await page.reads(
			'[data-position="22"] [data-what="corrected"]',
			new RegExp(`came in as ${figure(5, 22)}`),
		);
		await page.reads('[data-position="24"] [data-what="corrected"]', /typed in/);
		await page.reads('[data-legend]', /3 corrected/);
		await page.reads('body', /adjusted: 3 corrected/);
		await page.press('Undo');
		await page.reads('[data-legend]', /2 corrected/);
		await page.press('Redo');
		await page.reads('[data-legend]', /3 corrected/);
	});

	test('what is no figure is refused in place', async () => {
		await (await page.find('[data-figure="20"]')).click();
		await page.keys('many', Key.ENTER);
		await page.reads('[data-refused]', /holds “many”, which is not a figure\. Type one such as 1204\.5/);
		await page.keys(Key.ESCAPE);
	});

	test('periods are dragged out of the strip and put back, an event is pinned, gaps get a rule', async () => {
		const canvas = await page.find('section[aria-label="Strip"] canvas');
		const drag = () =>
			page.driver
				.actions()
				.move({ origin: canvas, x: -200, y: 0 })
				.keyDown(Key.SHIFT)
				.press()
				.move({ origin: canvas, x: -120, y: 0 })
				.release()
				.keyUp(Key.SHIFT)
				.perform();
		await drag();
		const left = Number(/(\d+) left out/.exec(await page.reads('[data-legend]', /left out/))![1]);
		expect(left).toBeGreaterThan(1);
		await drag();
		await until(async () => !/left out/.test(await page.text('[data-legend]')), 'the periods back');
		await drag();
		await page.fill('[aria-label="Event in Nov 2025"]', 'trade fair');
		await page.reads('[data-legend]', /1 event/);
		await page.choose('[aria-label="What missing figures become"]', 'interpolate');
		await page.expectAccessible();
	});

	test('a layer is switched off and on, and all of it is there after a reload, with who and when', async () => {
		await page.press('3 corrected');
		await until(
			async () => !/corrected/.test(await page.text('[data-legend]')),
			'the corrections to be switched off',
		);
		await page.press('3 corrected');
		await page.reads('[data-legend]', /3 corrected/);
		await page.reads('[aria-label="Line-up"]', /\bsaved\b/);
		await page.open('/items/H-5?view=demand');
		await page.reads('[data-legend]', /left out[^]*3 corrected[^]*1 event/);
		await page.driver.findElement(By.xpath('//button[starts-with(normalize-space(), "on record")]')).click();
		expect(await page.reads('[data-record]', /tester/)).toMatch(
			/Nov 2025 corrected from|event in Nov 2025: trade fair/,
		);
	});

	test('the rate per day is worked on, totals come back, and the adopted forecast says what it used', async () => {
		const label = await page.driver.findElement(By.xpath('//label[contains(., "rate per day")]/input'));
		await label.click();
		await page.reads('body', /worked as a rate per day/);
		await page.press('Working');
		await page.reads('#bench-view', /Rate a day/);
		await page.press('Ahead');
		await page.press('Adopt for 8 ahead');
		await page.reads('[data-adopted]', /Adopted.*worked as a rate per day/s);
		const { body } = await app.call<{ layersUsed: string[] }[]>('GET', '/items/H-5/adopted');
		expect(body[0]!.layersUsed).toEqual(expect.arrayContaining(['3 corrected', 'worked as a rate per day']));
	});

	test('taken away as CSV', async () => {
		await page.press('Demand');
		await (
			await page.find('#bench-view')
		)
			.findElement(By.xpath('.//button[normalize-space()="CSV"]'))
			.click();
		expect(await page.saved('H-5 demand.csv')).toMatch(/^Period,H-5,as it came in[^]*2025-11,350/);
	});
});

test('Season: the look in words with its figures, the length set by hand and back', async () => {
	const wave = Array.from(
		{ length: 48 },
		(_, m) =>
			`${2020 + Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')};${Math.round(200 + m + 60 * Math.sin(m / 1.91) + ((m * 29) % 11))}`,
	).join('\n');
	await app.call('POST', '/items', { code: 'W-1', name: 'Wave', text: wave });
	await page.open('/items/W-1?view=season');
	await page.reads('[data-statement="season"]', /A season of 12 months: it explains \d+ %/);
	await page.reads('[data-statement="peaks"]', /Highest in/);
	await page.press('seasons');
	await page.reads('#bench-view h3', /Each season across the cycles/);
	await page.expectAccessible();
	await page.fill('[aria-label="Season length"]', '6');
	await page.reads('[data-statement="season"]', /No season of 6 months was found: it explains/);
	await page.press('the item’s own again (12)');
	await page.reads('[data-statement="season"]', /A season of 12 months/);
	expect(await page.complaints()).toEqual([]);
});
