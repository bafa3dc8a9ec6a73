import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { VIEWS } from '../../src/lib/ui/base/view-names';
import type { Item } from '../../src/lib/wire/items';
import { adoptionOf } from '../support/adopting';
import { type App, startApp, until } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { openPage, type Page } from '../support/page';

/** Demand of every size, by the month, with a season, a climb and noise that are the same for all. */
const SIZES = [1e-6, 0.003, 1, 412, 65_000, 4_600_000, 3e9, 1e12];
const LONG = {
	name: 'Luggage carrier for the rear wheel, extra long, powder-coated, with spring clamp and reflector',
	unit: 'thousand boxes of twelve',
};
const month = (t: number) => `${2021 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')}`;
const valueAt = (size: number, t: number) =>
	size * (1 + 0.01 * t + 0.3 * Math.sin((2 * Math.PI * t) / 12) + 0.05 * Math.sin(7.3 * t * t));
const codeOf = (size: number) => `S-${SIZES.indexOf(size)}`;

/** Six candidates, and one that is made from two of them. */
const LINE_UP = [
	{ id: 'a', method: 'naive' },
	{ id: 'b', method: 'moving-average', span: 3 },
	{ id: 'c', method: 'ses', constants: { alpha: 0.3 } },
	{ id: 'd', method: 'holt-winters', season: 'additive', constants: { alpha: 0.3, beta: 0.1, gamma: 0.1 } },
	{
		id: 'e',
		method: 'seasonal-index',
		season: 'additive',
		index: { rule: 'ratio-to-moving-average' },
		level: { rule: 'last-cycle' },
		scenarios: [{ rule: 'last-cycle' }, { rule: 'cycle-average', cycles: 2 }],
	},
	{ id: 'f', method: 'combination', of: ['c', 'd'], weights: 'equal' },
];

let database: TestDatabase;
let app: App;
let page: Page;

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	page = await openPage(app);
	const codes = SIZES.map(codeOf);
	const rows = Array.from({ length: 48 }, (_, t) =>
		[month(t), ...SIZES.map((size) => Number(valueAt(size, t).toPrecision(7)))].join('\t'),
	);
	const items = codes.map((code) => ({ from: code, code, ...LONG }));
	const brought = await fetch(`${app.url}/api/v1/bring-in`, {
		method: 'POST',
		body: [JSON.stringify({ items }), ['period', ...codes].join('\t'), ...rows].join('\n'),
		headers: { 'content-type': 'application/octet-stream' },
	});
	expect(brought.status, await brought.text()).toBe(200);
	for (const code of codes) {
		const { body } = await app.call<Item>('GET', `/items/${code}`);
		const { version } = body.lineUp;
		await app.call('PUT', `/items/${code}/line-up`, { candidates: LINE_UP, hidden: [], version });
		const adopted = await app.call('POST', `/items/${code}/adopted`, adoptionOf(body, LINE_UP[3]!));
		expect(adopted.status, JSON.stringify(adopted.body)).toBe(201);
	}
});
afterAll(async () => {
	await page?.close();
	await app?.stop();
	await database?.drop();
});

/**
 * What cannot be read on the page as it stands: texts that lie on each other, and texts cut off that neither scroll nor
 * say all of themselves when pointed at.
 */
const unreadable = () =>
	page.driver.executeScript<string[]>(`
		const wrong = [];
		const shown = [...document.querySelectorAll('main *')].filter((element) =>
			[...element.childNodes].some((node) => node.nodeType === 3 && node.data.trim() !== '') &&
			!element.closest('.sr-only, svg, option') && element.checkVisibility());
		const within = (a, b) => ({ left: Math.max(a.left, b.left), top: Math.max(a.top, b.top), right: Math.min(a.right, b.right), bottom: Math.min(a.bottom, b.bottom) });
		const clips = new Map([[document.body, { left: -Infinity, top: -Infinity, right: Infinity, bottom: Infinity }]]);
		/** What is left of the page by everything that clips an element, found once. */
		const clipOf = (box) => {
			if (!clips.has(box)) {
				const around = clipOf(box.parentElement);
				clips.set(box, getComputedStyle(box).overflow === 'visible' ? around : within(around, box.getBoundingClientRect()));
			}
			return clips.get(box);
		};
		/** The part of an element's text that is to be seen. */
		const seen = (element) => {
			const range = document.createRange();
			range.selectNodeContents(element);
			return within(range.getBoundingClientRect(), clipOf(element));
		};
		const boxes = shown.map((element) => ({ element, ...seen(element) })).filter(({ left, right, top, bottom }) => right - left > 1 && bottom - top > 1)
			.sort((a, b) => a.top - b.top);
		const under = (element) => element.closest('.sticky, [data-refused]');
		for (let i = 0; i < boxes.length; i++) {
			for (let k = i + 1; k < boxes.length; k++) {
				const [a, b] = [boxes[i], boxes[k]];
				if (b.top >= a.bottom) break;
				if (a.element.contains(b.element) || b.element.contains(a.element)) continue;
				// Heads that stay in sight cover what scrolls under them, on a ground of their own.
				if (under(a.element) !== under(b.element)) continue;
				const across = Math.min(a.right, b.right) - Math.max(a.left, b.left);
				const down = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
				if (across > 1.5 && down > 6) wrong.push('“' + a.element.textContent.trim().slice(0, 40) + '” lies on “' + b.element.textContent.trim().slice(0, 40) + '”');
			}
		}
		for (const { element } of boxes) {
			const style = getComputedStyle(element);
			if (style.overflowX !== 'visible' && element.scrollWidth > element.clientWidth + 1 && !/auto|scroll/.test(style.overflowX) && !element.closest('[title]'))
				wrong.push('“' + element.textContent.trim().slice(0, 60) + '” is cut off');
		}
		for (const input of document.querySelectorAll('main input:not([type=checkbox]):not([type=radio]):not(.sr-only)'))
			if (input.checkVisibility() && input.scrollWidth > input.clientWidth + 1) wrong.push('“' + input.value + '” does not fit its field, ' + input.ariaLabel);
		return [...new Set(wrong)];
	`);

describe.each(SIZES)('with demand of %d', (size) => {
	beforeAll(async () => {
		await page.open(`/items/${codeOf(size)}?view=${VIEWS[0]!.id}&candidate=d`);
		await page.reads('[data-line-up="says"]', /has the smallest (MAD|RMSE)/);
	});

	test.each(VIEWS)('everything in the view $id can be read', async ({ id, name }) => {
		// Its own candidate where there is more to be seen of it.
		await (await page.find(`#candidate-${id === 'season' ? 'e' : 'd'}`)).click();
		await page.press(name, '[role="tablist"]');
		await page.find(`#bench-view[aria-labelledby="tab-${id}"] *`);
		await page.reads('[data-line-up="says"]', /has the smallest (MAD|RMSE)/);
		expect(await unreadable()).toEqual([]);
	});

	test('figures of the line-up keep the digits that tell candidates apart', async () => {
		const texts = await page.driver.executeScript<string[]>(
			`return [...document.querySelectorAll('[data-measure="mse"] .figures')].map((cell) => cell.textContent.replace(/◂|least|\\s/g, ''))`,
		);
		expect(texts).toHaveLength(LINE_UP.length);
		expect(new Set(texts).size).toBe(LINE_UP.length);
		for (const text of texts) expect(text.replace(/^0\.0*|\D/g, '').length, text).toBeGreaterThanOrEqual(3);
	});
});

test('the list has all of them, each in its own size', async () => {
	await page.open('/items');
	await page.reads('[role="listbox"]', /S-7/);
	expect(await unreadable()).toEqual([]);
});

test.each([1279, 1080, 900, 640])(
	'at %d pixels nothing lies on anything else, and all of it can be reached',
	async (width) => {
		await page.driver.manage().window().setRect({ width, height: 800 });
		for (const path of ['/items', '/bring-in', `/items/${codeOf(3e9)}?view=ahead&candidate=d`]) {
			await page.open(path);
			if (path.includes('view=')) await page.reads('[data-line-up="says"]', /has the smallest (MAD|RMSE)/);
			expect(await unreadable(), path).toEqual([]);
			const reached = await page.driver.executeScript<boolean>(
				`return [...document.querySelectorAll('button, input, select')].filter((each) => each.checkVisibility() && !each.closest('.sr-only')).every((each) => {
				each.scrollIntoView({ block: 'center', inline: 'center' });
				const { left, right } = each.getBoundingClientRect();
				return right > 0 && left < innerWidth;
			})`,
			);
			expect(reached, path).toBe(true);
		}
		await page.driver.manage().window().setRect({ width: 1280, height: 900 });
	},
);

test('what lies over the strip moves with it when the window changes', async () => {
	await page.open(`/items/${codeOf(412)}?view=ahead`);
	await page.reads('[data-line-up="says"]', /has the smallest (MAD|RMSE)/);
	await (await page.find('[aria-label^="Strip;"]')).sendKeys(Key.ARROW_LEFT);
	/** Shares of the plot that lie left of the cut and of the reading line, a period apart. */
	const shares = () =>
		page.driver.executeScript<[number, number]>(
			`const strip = document.querySelector('[aria-label^="Strip;"]');
			const { left, width } = strip.querySelector('canvas').getBoundingClientRect();
			const middle = (element) => { const box = element.getBoundingClientRect(); return box.left + box.width / 2; };
			return [strip.querySelector('[role=slider]'), strip.querySelector('.bg-ink')].map((each) => (middle(each) - left - 64) / (width - 90));`,
		);
	const before = await shares();
	expect(before[0]).toBeCloseTo(before[1], 1);
	for (const width of [900, 1500]) {
		await page.driver.manage().window().setRect({ width, height: 900 });
		await until(async () => (await shares()).every((share, i) => Math.abs(share - before[i]!) < 0.02));
	}
	await page.driver.manage().window().setRect({ width: 1280, height: 900 });
});
