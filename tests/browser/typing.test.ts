import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Item } from '../../src/lib/wire/items';
import { type App, startApp, until, workOn } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { openPage, type Page } from '../support/page';

let database: TestDatabase;
let app: App;
let page: Page;

const MONTHS = Array.from(
	{ length: 36 },
	(_, t) => `${2022 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')}`,
);
const values = MONTHS.map(
	(_, t) => 1200 + 12 * t + 2400 * Math.sin((2 * Math.PI * t) / 12) ** 2 + ((t * 37) % 23) + 0.5,
);

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	page = await openPage(app);
	const text = MONTHS.map((month, t) => `${month};${values[t]!.toFixed(1)}`).join('\n');
	await app.call('POST', '/items', { code: 'Q-1', name: 'Quick link', text, unit: 'boxes' });
	await workOn(app, 'Q-1');
});
afterAll(async () => {
	await page?.close();
	await app?.stop();
	await database?.drop();
});

const load = async (code: string) => (await app.call<Item>('GET', `/items/${code}`)).body;
const corrections = async () => (await load('Q-1')).layers.layers.corrections;
/** The correction of the last period but so many, as it was saved. */
const corrected = async (back: number) => {
	const { series } = await load('Q-1');
	return (await corrections())[series.first + series.values.length - 1 - back]?.to;
};
const cell = (back: number) => `[data-figure="${35 - back}"]`;

describe('a figure that is typed', () => {
	test('means the same wherever it is typed, and the field says what it understood', async () => {
		await page.open('/items/Q-1?view=demand');
		const field = await page.find(cell(0));
		await field.click();
		await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '1,204');
		await page.reads('[data-understood]', /^= 1\u202f204$/);
		await field.sendKeys(Key.ENTER);
		await until(async () => (await corrected(0)) === 1204, 'the figure');
		await app.call('PUT', '/items/Q-1/line-up', {
			version: (await load('Q-1')).lineUp.version,
			candidates: [
				{
					id: 'i',
					method: 'seasonal-index',
					season: 'additive',
					index: { rule: 'ratio-to-moving-average' },
					level: { rule: 'given', value: 1000 },
				},
			],
		});
		await page.open('/items/Q-1?view=season&candidate=i');
		await page.press('Levels');
		await page.fill('[aria-label="Level 1 as typed"]', '1,204');
		await until(async () => {
			const [candidate] = (await load('Q-1')).lineUp.candidates;
			return (candidate as unknown as { level: { value: number } }).level.value === 1204;
		}, 'the level');
	});

	test('is edited in place as it is shown: signs, thin spaces and all', async () => {
		await page.press('Indices');
		const index = '[data-index="1"]';
		const shown = await (await page.find(index)).getAttribute('value');
		expect(shown).toMatch(/^−?\d/);
		await page.fill(index, '−1\u202f234.5');
		await until(async () => {
			const [candidate] = (await load('Q-1')).lineUp.candidates;
			return (candidate as unknown as { index: { held?: number[] } }).index.held?.[0] === -1234.5;
		}, 'the index');
	});

	test('is refused in words where it is none, stays in the field, and Escape puts the one before back', async () => {
		await page.open('/items/Q-1?view=demand');
		const field = await page.find(cell(1));
		const before = await field.getAttribute('value');
		await field.click();
		await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '1,5', Key.ENTER);
		await page.reads(
			'[data-refused]',
			/“1,5” is not a figure with a decimal point\. Type 1\.5, or change the decimal mark/,
		);
		expect(await field.getAttribute('value')).toBe('1,5');
		await page.expectAccessible();
		await field.sendKeys(Key.ESCAPE);
		expect(await field.getAttribute('value')).toBe(before);
		expect(await corrected(1)).toBeUndefined();
	});

	test('goes by the decimal mark of the reader, and so do tables, axes and sentences', async () => {
		await (await page.find('[aria-label^="Decimal point"]')).click();
		await page.find('[aria-label^="Decimal comma"]');
		const field = await page.find(cell(1));
		expect(await field.getAttribute('value')).toMatch(/^\d\u202f\d{3},5$/);
		await field.click();
		await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '1.204,25', Key.ENTER);
		await until(async () => (await corrected(1)) === 1204.25, 'the figure');
		// It is this browser's from here on.
		await page.open('/items/Q-1?view=working');
		await page.find('[aria-label^="Decimal comma"]');
		await page.reads('[data-measure="mape"]', /\d,\d/);
		expect(await page.text('main')).not.toMatch(/\d\.\d/);
		await (await page.find('[aria-label^="Decimal comma"]')).click();
		await page.reads('[data-measure="mape"]', /\d\.\d/);
	});
});

describe('a column', () => {
	const paste = (css: string, text: string) =>
		page.driver.executeScript(
			`const [css, text] = arguments; const data = new DataTransfer(); data.setData('text/plain', text);
			const field = document.querySelector(css); field.focus();
			field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))`,
			css,
			text,
		);

	test('pasted into Demand fills downwards after a preview, in one step that is undone at once', async () => {
		await page.open('/items/Q-1?view=demand');
		const before = Object.keys(await corrections()).length;
		await paste(cell(2), '2001,5\r\n2002\r\n\r\n2004');
		await page.reads(
			'[data-pasted]',
			/Pasted from Oct 2024 down: 3 figures change, 1 of them after the last period, 1 blank/,
		);
		await page.reads('[data-pasted]', /Nov 2024.*2\u202f002/s);
		expect(Object.keys(await corrections()).length).toBe(before);
		await page.expectAccessible();
		await page.press('Fill in');
		await until(async () => (await corrected(2)) === 2001.5 && (await corrected(1)) === 2002, 'the column');
		await page.reads('[data-reading="period"]', /Feb 2025/);
		await page.press('Undo');
		await until(async () => Object.keys(await corrections()).length === before, 'what was there before');
	});

	test('that cannot be read is refused with its line', async () => {
		await paste(cell(2), '12\nmany');
		await page.reads('[data-pasted]', /Line 2: The field holds “many”.*Nothing was filled in/);
		await page.press('all right');
	});

	test('of any table goes to the clipboard as figures', async () => {
		await page.open('/items/Q-1?view=ahead');
		await (await page.find('[aria-label="Copy Periods to come"]')).click();
		await page.reads('[aria-label="Copy Periods to come"]', /copied/);
		await page.open('/bring-in');
		const box = await page.find('[aria-label="The table, pasted"]');
		await box.click();
		await box.sendKeys(Key.chord(Key.CONTROL, 'v'));
		await page.reads('[data-reading-result], [data-doubt], [data-reading-problem]', /./);
		const text = String(await box.getAttribute('value'));
		expect(text.split('\n')[0]).toBe('period\tcomputed\tfinal forecast\tlow 95 %\thigh 95 %\twhy changed');
		expect(text.split('\n')[1]).toMatch(/^Jan 2025\t-?\d+(\.\d+)?\t/);
	});
});

describe('one window', () => {
	test('row, sentence and Signal say the same, and name what they are over', async () => {
		await app.call('PUT', '/items/Q-1/line-up', {
			version: (await load('Q-1')).lineUp.version,
			candidates: [
				{ id: 'a', method: 'moving-average', span: 12 },
				{ id: 'b', method: 'average' },
			],
		});
		await page.open('/items/Q-1?view=signal&candidate=b');
		const row = await page.reads('[data-candidate="b"] [data-measure="signal"]', /\d/);
		const over = /same (\d+ months)/.exec(await page.text('[data-line-up="window"]'))![1]!;
		await page.reads(
			'[data-signal="says"]',
			new RegExp(`Over the ${over} compared the signal stands at \\${row.trim()},`),
		);
	});

	test('each over its own periods is a choice, marked as not comparable', async () => {
		await page.press('own', '[aria-label="Line-up"]');
		await page.reads('[data-line-up="window"]', /own periods: not comparable/);
		await page.reads('[data-line-up="says"]', /Nothing is compared\./);
		expect(await page.driver.findElements(By.css('[title="the smallest"]'))).toHaveLength(0);
		await page.reads('[data-signal="says"]', /Over its own 35 months/);
		await page.press('all', '[aria-label="Line-up"]');
		await page.reads('[data-line-up="window"]', /Compared over the same/);
	});

	test('candidates that share no period are shown over their own, and that is said', async () => {
		await app.call('POST', '/items', {
			code: 'Q-3',
			name: 'Three months',
			text: '2024-10;5\n2024-11;7\n2024-12;6',
		});
		await workOn(app, 'Q-3');
		await page.open('/items/Q-3?view=signal&candidate=a');
		await page.reads('[data-line-up="window"]', /They share no period/);
		await page.reads('[data-candidate="a"] [data-measure="mad"]', /1\.50/);
	});

	test('a method added twice comes with other constants; one that cannot differ says that it is there', async () => {
		await page.open('/items/Q-1?candidate=a');
		for (const times of [1, 2]) {
			await page.press('+ Candidate');
			await (await page.find('[data-offer="ses"]')).click();
			await until(
				async () => (await page.driver.findElements(By.css('[data-candidate]'))).length === 2 + times,
				`candidate ${2 + times}`,
			);
		}
		await page.reads('[data-saving]', /^saved$/);
		const added = (await load('Q-1')).lineUp.candidates.filter(({ method }) => method === 'ses');
		const [one, other] = added.map((candidate) => JSON.stringify({ ...candidate, id: '' }));
		expect(one).not.toBe(other);
		await page.press('+ Candidate');
		await page.reads('[data-offer="average"]', /Already in the line-up/);
	});
});

describe('Bring in', () => {
	const field = (nth: number) => `form#bring-in label:nth-of-type(${nth}) input`;
	const table = MONTHS.slice(0, 12).map((month, t) => `${month};${20 + t}`);

	test('what is typed while the table cannot be read is there when it can', async () => {
		await page.open('/bring-in');
		await page.fill(field(1), 'K-77');
		await page.fill('[aria-label="The table, pasted"]', 'nothing to read here');
		await page.reads('[data-reading-problem]', /no figure below/);
		await page.fill(field(2), 'Key ring');
		await page.fill('[aria-label="The table, pasted"]', table.join('\n'));
		await page.reads('[data-reading-result]', /12 figures/);
		expect(await (await page.find(field(1))).getAttribute('value')).toBe('K-77');
		expect(await (await page.find(field(2))).getAttribute('value')).toBe('Key ring');
		await (await page.find('button[form="bring-in"]')).click();
		await page.reads('h1', /K-77\s*Key ring/);
	});

	test('a table is drawn and brought in without a code: one that is free is made from its name', async () => {
		for (const code of ['key-ring', 'key-ring-2']) {
			await page.open('/items');
			await page.driver.executeScript('sessionStorage.clear()');
			await page.open('/bring-in');
			await page.fill('[aria-label="The table, pasted"]', table.join('\n'));
			await page.reads('[data-reading-result]', /12 figures/);
			await page.find('canvas, [data-chart]');
			await page.fill(field(2), 'Kéy ring');
			await page.reads('section[aria-labelledby="item-title"]', new RegExp(`as ${code},`));
			await (await page.find('button[form="bring-in"]')).click();
			await page.reads('h1', new RegExp(`${code}\\s*Kéy ring`));
		}
	});
});
