import { mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import axe, { type Result } from 'axe-core';
import { By, error, type WebDriver, type WebElement } from 'selenium-webdriver';
import { expect } from 'vitest';
import { openBrowser } from '../../scripts/lib/browser.mjs';
import { type App, PATIENCE, until } from './app';

/** The real interface in headless Chromium, spoken to as a user sees it. */
export interface Page {
	driver: WebDriver;
	open(path: string): Promise<void>;
	/** The first element that fits, as soon as it is there and shown. */
	find(css: string): Promise<WebElement>;
	/** The first button, link or tab with that text, inside of something where that is said. */
	press(text: string, inside?: string): Promise<void>;
	text(css: string): Promise<string>;
	/** Waits until an element's text fits. */
	reads(css: string, pattern: RegExp): Promise<string>;
	/** Presses keys where the focus is. */
	keys(...keys: string[]): Promise<void>;
	/** Puts a text into a field, in place of what stood there. */
	fill(css: string, text: string): Promise<void>;
	choose(css: string, value: string): Promise<void>;
	/** The next file that was saved, once it is whole. */
	saved(name: string): Promise<string>;
	/** Fails for every serious or critical finding of axe, in dark those of contrast. */
	expectAccessible(): Promise<void>;
	/** What the browser's console complained of. */
	complaints(): Promise<string[]>;
	close(): Promise<void>;
}

/** Milliseconds that something may go on. */
const LONGEST = 300_000;

export async function openPage(app: App): Promise<Page> {
	const { driver, downloads, close } = await openBrowser();
	mkdirSync(downloads, { recursive: true });
	await driver.manage().setTimeouts({ script: LONGEST });
	/** Of the first element that fits: itself, or its text as it is seen; null while it is not shown. One question, for it is asked often. */
	const look = <Seen>(css: string, what: 'element' | 'text') =>
		driver.executeScript<Seen | null>(
			`const [css, what] = arguments;
			const element = document.querySelector(css);
			if (!element?.checkVisibility({ opacityProperty: true, visibilityProperty: true })) return null;
			return what === 'element' ? element : (element.innerText ?? element.textContent).replaceAll(/[\\t\\u00a0]/g, ' ').trim();`,
			css,
			what,
		);
	const find = async (css: string) => {
		let found: WebElement | null = null;
		await until(async () => (found = await look<WebElement>(css, 'element')) !== null, css);
		return found!;
	};
	const text = async (css: string) => {
		let seen: string | null = null;
		await until(async () => (seen = await look<string>(css, 'text')) !== null, css);
		return seen!;
	};
	/** Runs a script on the element that fits, found again where the page has drawn it anew in between. */
	const run = async (css: string, script: string, value: string) =>
		until(async () => {
			const element = await find(css);
			return driver.executeScript(script, element, value).then(
				() => true,
				(thrown: unknown) => {
					if (thrown instanceof error.StaleElementReferenceError) return false;
					throw thrown;
				},
			);
		}, `${css} to take “${value}”`);
	const page: Page = {
		driver,
		find,
		text,
		close,
		async open(path) {
			const before = await driver.getCurrentUrl();
			const stays = async () =>
				(await driver.getCurrentUrl()) === before && !before.startsWith(app.url + path);
			await driver.get(app.url + path);
			// A page that has something unsaved asks before it is left; the browser's driver says no.
			if (await stays()) await driver.get(app.url + path);
			await find('main');
			// The page answers once its scripts have taken it over.
			await until(
				() => driver.executeScript<boolean>('return document.documentElement.dataset.ready === "yes"'),
				`${path} ready`,
			);
			// Before the first adoption of a visit it is asked whether to: known here, but where that is tested.
			await driver.executeScript('sessionStorage.setItem("ventrel-adopts", "yes")');
		},
		async press(name, inside = 'body') {
			const path = `.//*[self::button or self::a or self::label or @role="tab"][normalize-space()="${name}"]`;
			await until(async () => {
				const [box] = await driver.findElements(By.css(inside));
				const [element] = (await box?.findElements(By.xpath(path))) ?? [];
				if (!element || !(await element.isEnabled())) return false;
				return element.click().then(
					() => true,
					() => false,
				);
			}, `“${name}” to press`);
		},
		async reads(css, pattern) {
			let last = '';
			let changed = Date.now();
			// What goes on is waited for, however slow the machine is.
			const stands = () => Date.now() - changed > PATIENCE;
			await until(
				async () => {
					const now = (await look<string>(css, 'text')) ?? '';
					if (now !== last) changed = Date.now();
					last = now;
					return pattern.test(last) || stands();
				},
				`${css} to read ${pattern}`,
				LONGEST,
			);
			if (!pattern.test(last))
				throw new Error(`${css} did not come to read ${pattern}, and stands. It reads “${last}”.`);
			return last;
		},
		keys: (...keys) =>
			driver
				.actions()
				.sendKeys(...keys)
				.perform(),
		fill: (css, value) =>
			run(
				css,
				`const [field, value] = arguments; field.focus(); field.select();
				document.execCommand('insertText', false, value) || (field.value = value);
				field.dispatchEvent(new Event('input', { bubbles: true })); field.dispatchEvent(new Event('change', { bubbles: true }));`,
				value,
			),
		choose: (css, value) =>
			run(
				css,
				`arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event('change', { bubbles: true }));`,
				value,
			),
		async saved(name) {
			// It is there before anything is in it.
			const text = () =>
				readdirSync(downloads).includes(name) ? readFileSync(join(downloads, name), 'utf8') : '';
			await until(async () => text() !== '', `the file ${name}`);
			return text();
		},
		async expectAccessible() {
			if (!(await driver.executeScript('return "axe" in window'))) await driver.executeScript(axe.source);
			// In dark only colours are others.
			const found = await driver.executeAsyncScript<(Result & { look: string })[]>(`
				const done = arguments[0];
				const looked = async (look, options) => {
					document.documentElement.classList.toggle('dark', look === 'dark');
					const { violations } = await axe.run(document, { resultTypes: ['violations'], ...options });
					return violations.map((violation) => ({ ...violation, look }));
				};
				looked('light', {})
					.then(async (light) => [...light, ...(await looked('dark', { runOnly: ['color-contrast'] }))])
					.finally(() => document.documentElement.classList.remove('dark'))
					.then(done, (thrown) => done([{ id: String(thrown), look: 'no', impact: 'critical', nodes: [] }]));
			`);
			const grave = found
				.filter(({ impact }) => impact === 'serious' || impact === 'critical')
				.map(
					({ look, id, nodes }) =>
						`${look} ${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`,
				);
			expect(grave).toEqual([]);
		},
		async complaints() {
			const entries = await driver.manage().logs().get('browser');
			return entries.filter(({ level }) => level.name === 'SEVERE').map(({ message }) => message);
		},
	};
	return page;
}
