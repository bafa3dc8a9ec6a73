// npm run screenshots: the current picture of every main view, from the demo data, into docs/screenshots.
import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { preparePackages, ROOT } from './lib/prepare.mjs';
import { fail, say } from './lib/say.mjs';
import { serveForAWhile } from './lib/served.mjs';

const HOME = join(ROOT, 'docs', 'screenshots');

/**
 * Each view: its file, its address, what is done there first, and whether it is taken in the dark.
 * @type {{ file: string, path: string, act?: string[], dark?: boolean }[]}
 */
const VIEWS = [
	{ file: 'items', path: '/items' },
	{ file: 'items-dark', path: '/items', dark: true },
	{ file: 'bring-in', path: '/bring-in', act: ['paste'] },
	{ file: 'item-working', path: '/items/60-014?view=working&candidate=d', act: ['point'] },
	{ file: 'item-signal', path: '/items/30-115?view=signal&candidate=d' },
	{ file: 'item-ahead', path: '/items/40-051?view=ahead&candidate=e' },
	{ file: 'item-dark', path: '/items/90-001?view=ahead&candidate=d', dark: true },
	{ file: 'line-up-adding', path: '/items/50-210?view=working&candidate=c', act: ['add'] },
	{ file: 'keys', path: '/items', act: ['keys'] },
];

const PASTE = [
	'month;Bar tape, cork',
	...[212, 198, 240, 266, 281, 275, 263, 0, 251, 238, 226, 219, 224, 205, 251, 279, 290].map((value, i) => {
		const month = `${2025 + Math.floor((i + 5) / 12)}-${String(((i + 5) % 12) + 1).padStart(2, '0')}`;
		return `${month};${value || 'n/a'}`;
	}),
].join('\n');

/** @type {Record<string, (driver: import('selenium-webdriver').WebDriver) => Promise<unknown>>} */
const ACTS = {
	paste: async (driver) => {
		await driver.executeScript(
			`const put = (field, value) => { field.focus(); document.execCommand('insertText', false, value); };
			put(document.querySelector('textarea'), arguments[0]);
			const [code, name, unit] = document.querySelectorAll('form#bring-in input');
			put(code, '90-310'); put(unit, 'rolls');`,
			PASTE,
		);
		await appears(driver, 'return document.querySelector("[data-reading-result]") !== null');
	},
	point: (driver) =>
		driver.executeScript(`const cell = document.querySelector('[data-working="level 58"]'); cell.focus();`),
	add: (driver) =>
		driver.executeScript(
			`[...document.querySelectorAll('button')].find((b) => b.textContent.trim() === '+ Candidate').click();`,
		),
	keys: (driver) => driver.executeScript(`document.querySelector('button[aria-label="Keys"]').click();`),
};

/**
 * @param {import('selenium-webdriver').WebDriver} driver
 * @param {string} script true once it is there
 */
async function appears(driver, script) {
	await driver.wait(() => driver.executeScript(script), 15_000, script);
}

async function main() {
	await preparePackages(['postgresql', 'chromium', 'chromium-driver']);
	const { openBrowser } = await import('./lib/browser.mjs');
	const app = await serveForAWhile({ VENTREL_USER: 'mira' });
	const { address } = app;
	const browser = await openBrowser();
	const { driver } = browser;
	try {
		mkdirSync(HOME, { recursive: true });
		for (const old of readdirSync(HOME)) rmSync(join(HOME, old));
		for (const { file, path, act = [], dark = false } of VIEWS) {
			await driver.get(address);
			await driver.executeScript(
				`localStorage.setItem('ventrel-theme', arguments[0])`,
				dark ? 'dark' : 'light',
			);
			await driver.get(address + path);
			await appears(driver, 'return document.documentElement.dataset.ready === "yes"');
			if (path.startsWith('/items/'))
				await appears(driver, 'return document.querySelector("[data-note], [data-line-up=says] p") !== null');
			if (path.includes('view=signal'))
				await appears(driver, 'return document.querySelectorAll("[data-signal=says] p").length === 2');
			for (const name of act) await ACTS[name]?.(driver);
			await appears(driver, 'return document.fonts.status === "loaded"');
			// Two frames: what was just set is laid out in one and painted in the next.
			await driver.executeAsyncScript(
				'const [done] = arguments; requestAnimationFrame(() => requestAnimationFrame(() => done()));',
			);
			writeFileSync(join(HOME, `${file}.png`), Buffer.from(await driver.takeScreenshot(), 'base64'));
			say(`docs/screenshots/${file}.png`);
		}
	} finally {
		await browser.close();
		await app.stop();
	}
}

main().catch(fail);
