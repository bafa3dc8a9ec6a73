/**
 * A year of an analyst's mornings: new actuals of twelve items are pasted, and the list is worked through by keys. What the program
 * says of every closed period is held against a calculation of the test's own.
 */
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { seededNormal } from '../../src/core/numbers/random';
import type { AdoptedForecast } from '../../src/lib/wire/records';
import type { Item } from '../../src/lib/wire/items';
import type { ItemGrades } from '../../src/lib/wire/status';
import type { ItemWindow } from '../../src/lib/wire/list';
import { adoptionOf } from '../support/adopting';
import { type App, startApp, until } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { openPage, type Page } from '../support/page';

let database: TestDatabase;
let app: App;
let page: Page;

const KNOWN = 36;
const CODES = Array.from({ length: 12 }, (_, i) => `41-${String(100 + 10 * i)}`);
const BY_HAND = CODES[2]!;
const PROPOSED = CODES[5]!;
const month = (t: number) => `${2023 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')}`;
const ordinal = (t: number) => 2023 * 12 + t;
const draw = seededNormal(41);
/** Four years of each item, in whole pieces. */
const DEMAND = new Map(
	CODES.map((code, i) => [
		code,
		Array.from({ length: KNOWN + 12 }, () => Math.round(300 + 40 * i + 25 * draw())),
	]),
);

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	page = await openPage(app);
	for (const code of CODES) {
		const text = DEMAND.get(code)!
			.slice(0, KNOWN)
			.map((figure, t) => `${month(t)};${figure}`)
			.join('\n');
		await app.call('POST', '/items', { code, name: `Item ${code}`, unit: 'pieces', text });
		const { body } = await app.call<Item>('GET', `/items/${code}`);
		const candidate = { id: 'd', method: 'ses', constants: { alpha: 0.2 } };
		await app.call('PUT', `/items/${code}/line-up`, {
			version: 0,
			candidates: [{ id: 'a', method: 'naive' }, candidate],
		});
		const { status } = await app.call(
			'POST',
			`/items/${code}/adopted`,
			adoptionOf(body, candidate, { horizon: 6 }),
		);
		expect(status).toBe(201);
	}
});
afterAll(async () => {
	await page?.close();
	await app?.stop();
	await database?.drop();
});

/** What came in for a month, an item a row. */
const cameIn = (t: number) =>
	['item;month;demand', ...CODES.map((code) => `${code};${month(t)};${DEMAND.get(code)![t]}`)].join('\n');

/** A month as a program closes it: brought in, and every forecast updated. */
async function closeByProgram(t: number): Promise<void> {
	const brought = await fetch(`${app.url}/api/v1/bring-in`, {
		method: 'POST',
		body: `${JSON.stringify({ items: CODES.map((code) => ({ from: code, code, name: `Item ${code}`, unit: 'pieces' })) })}\n${cameIn(t)}`,
		headers: { 'content-type': 'application/octet-stream' },
	});
	expect(brought.status, await brought.text()).toBe(200);
	for (const code of CODES) {
		const { seen, layers } = (await app.call<Item>('GET', `/items/${code}`)).body;
		const carried = await app.call('POST', `/items/${code}/updated`, {
			seen,
			seenLayers: layers.newest,
			reason: '',
		});
		expect([code, carried.status]).toEqual([code, 201]);
	}
}

async function bringIn(t: number): Promise<void> {
	await page.open('/bring-in');
	await page.fill('textarea', cameIn(t));
	await page.reads('main', /12 items/);
	await page.press('Bring in 12 items');
	await page.reads('[data-brought]', /12 items \(0 new\), 12 figures added, 0 corrected/);
	await page.reads('[data-newest="month"]', /: 12 of 12 up to date, \d+ of 12 outside/);
}

/** Presses a key of the round and waits for the next item, or for the list after the last. */
async function press(key: string, after: string | undefined): Promise<void> {
	await page.keys(key);
	if (after) await page.reads('h1', new RegExp(`^${after}`));
	else await page.reads('[role="status"]', /That was the last one/);
}

/** Months that are closed by keys; the others by a program, which comes to the same. */
const BY_KEYS = [KNOWN + 4, KNOWN + 5, KNOWN + 6, KNOWN + 9];

test('twelve months are closed, four of them by keys: updated, one changed by hand, one proposal taken', async () => {
	for (let t = KNOWN; t < KNOWN + 12; t++) {
		if (!BY_KEYS.includes(t)) {
			await closeByProgram(t);
			continue;
		}
		await bringIn(t);
		await page.press('See all items');
		await page.press('item');
		await until(async () => (await page.driver.findElements({ css: '[role="option"]' })).length === 12);
		await page.keys(Key.HOME, Key.ENTER);
		for (const [i, code] of CODES.entries()) {
			await page.reads('h1', new RegExp(`^${code}`));
			await page.reads('[data-place]', new RegExp(`all items: ${i + 1} of 12`));
			const after = CODES[i + 1];
			if (t === KNOWN + 4 && code === BY_HAND) {
				await page.press('Ahead');
				await page.find('[data-ahead="1"]');
				const [, , third] = await page.driver.findElements({ css: '[data-ahead] input' });
				await third!.click();
				await third!.sendKeys(Key.chord(Key.CONTROL, 'a'), '500', Key.ENTER);
				await page.fill('input[aria-label="Why figures are changed"]', 'a fair in the town');
				await page.press('Say why');
				await page.reads('[data-ahead="3"]', /by hand a fair in the town/);
				await page.driver.executeScript('document.activeElement.blur()');
				await press('a', after);
			} else if (t === KNOWN + 5 && code === BY_HAND) {
				// From beside the figures it is updated just so, and stays in sight.
				await page.press('Ahead');
				await page.fill('input[aria-label="Why this one"]', 'nothing new');
				await page.press('Update', 'form:has(input[aria-label="Why this one"])');
				await page.reads('[data-adopted]', /nothing new/);
				await page.driver.executeScript('document.activeElement.blur()');
				await press(']', after);
			} else if (t === KNOWN + 6 && code === PROPOSED) {
				await page.press('Propose');
				await page.press('Add to the line-up');
				await page.reads('[data-line-up="says"]', /./);
				await page.driver.executeScript('document.activeElement.blur()');
				await press('a', after);
			} else await press('c', after);
		}
	}
	expect(await page.complaints()).toEqual([]);
}, 400_000);

/** The forecast in force for a month: of the newest record that was made before it. */
function inForce(records: readonly AdoptedForecast[], t: number) {
	const before = records.filter(({ origin }) => origin < ordinal(t)).sort((a, b) => b.id - a.id);
	return before
		.map((record) => ({ record, step: record.steps.find(({ period }) => period === ordinal(t)) }))
		.find(({ step }) => step !== undefined)!;
}

test('every grade is what a calculation of the test’s own says', async () => {
	let graded = 0;
	for (const code of CODES) {
		const records = (await app.call<AdoptedForecast[]>('GET', `/items/${code}/adopted`)).body;
		expect(records).toHaveLength(13);
		const { grades } = (await app.call<ItemGrades>('GET', `/items/${code}/grades`)).body;
		const demand = DEMAND.get(code)!;
		expect(grades.map(({ period }) => period)).toEqual(
			Array.from({ length: 12 }, (_, i) => ordinal(KNOWN + i)),
		);
		// Simple exponential smoothing from the first actual, by hand.
		let level = demand[0]!;
		for (let t = 1; t < KNOWN + 12; t++) {
			if (t >= KNOWN) {
				const grade = grades[t - KNOWN]!;
				const { record, step } = inForce(records, t);
				expect([grade.record, grade.step]).toEqual([record.id, 1]);
				expect(grade.error).toBeCloseTo(demand[t]! - step!.mean, 9);
				expect(grade.finalError).toBeCloseTo(demand[t]! - step!.final, 9);
				expect(grade.naive).toBe(demand[t - 1]);
				if (record.method === 'ses') expect(grade.mean).toBeCloseTo(level, 9);
				graded++;
			}
			level += 0.2 * (demand[t]! - level);
		}
		// The row of the list: over the newest run alone.
		const run = grades.at(-1)!.run;
		const errors = grades.filter((grade) => grade.run === run).map(({ finalError }) => finalError);
		const row = (await app.call<ItemWindow>('GET', '/items')).body.items.find((each) => each.code === code)!;
		expect(row.status!.score!.count).toBe(errors.length);
		expect(row.status!.score!.mad).toBeCloseTo(
			errors.reduce((sum, error) => sum + Math.abs(error), 0) / errors.length,
			9,
		);
		expect(row.status!.score!.bias).toBeCloseTo(errors.reduce((a, b) => a + b, 0) / errors.length, 9);
	}
	expect(graded).toBe(144);
	// The figure that was changed by hand went along while it was ahead, and is told apart.
	const changed = (await app.call<ItemGrades>('GET', `/items/${BY_HAND}/grades`)).body.grades.filter(
		({ final, mean }) => final !== mean,
	);
	expect(changed.map(({ period, final }) => [period, final])).toEqual([[ordinal(KNOWN + 7), 500]]);
	const runs = new Set(
		(await app.call<ItemGrades>('GET', `/items/${PROPOSED}/grades`)).body.grades.map(({ run }) => run),
	);
	expect(runs.size).toBe(2);
});
