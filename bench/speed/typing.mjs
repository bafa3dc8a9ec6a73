// Typing in the paste box of *Bring in*: how long it is from a key to the picture after it, while the table is read anew with each.
import { Key } from 'selenium-webdriver';
import { openBrowser } from '../../scripts/lib/browser.mjs';
import { serveForAWhile } from '../../scripts/lib/served.mjs';

const KEYS = 40;
const month = (/** @type {number} */ m) =>
	`${2019 + Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')}`;
const times = (/** @type {number} */ count, /** @type {(i: number) => unknown} */ make) =>
	Array.from({ length: count }, (_, i) => make(i));
const figure = (/** @type {number} */ i, /** @type {number} */ m) => ((i * 31 + m * 7919) % 997) + 3;

/** @type {Record<string, string>} */
const TABLES = {
	'36 rows': times(36, (m) => `${month(m)}\t${figure(1, m)}`).join('\n'),
	'300 items by 60 months': [
		['Item', ...times(60, month)].join('\t'),
		...times(300, (i) => [`P-${i}`, ...times(60, (m) => figure(i, m))].join('\t')),
	].join('\n'),
	'60,000 rows of 1,000 items': [
		'item\tmonth\tpieces',
		...times(60_000, (i) => `P-${Math.floor(i / 60)}\t${month(i % 60)}\t${figure(i, i % 60)}`),
	].join('\n'),
};

export async function measureTyping() {
	const app = await serveForAWhile({ VENTREL_DEMO: 'off' });
	const { driver, close } = await openBrowser();
	try {
		for (const [name, text] of Object.entries(TABLES)) {
			await driver.get(`${app.address}/bring-in`);
			await driver.wait(() => driver.executeScript('return !!document.querySelector("textarea")'), 20_000);
			await driver.executeScript(
				`const box = document.querySelector('textarea');
				box.focus();
				const data = new DataTransfer();
				data.setData('text/plain', arguments[0]);
				box.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));`,
				text,
			);
			await driver.wait(
				() => driver.executeScript('return !!document.querySelector("[data-layout]")'),
				60_000,
			);
			await driver.executeScript(
				`window.waited = [];
				const box = document.querySelector('textarea');
				box.setSelectionRange(box.value.length, box.value.length);
				box.addEventListener('keydown', (event) => {
					const pressed = event.timeStamp;
					requestAnimationFrame(() => setTimeout(() => window.waited.push(performance.now() - pressed)));
				}, true);`,
			);
			const box = await driver.findElement({ css: 'textarea' });
			await box.sendKeys(Key.ENTER);
			for (let i = 0; i < KEYS; i++) await box.sendKeys(i % 5 === 4 ? Key.BACK_SPACE : '7');
			const waited = /** @type {number[]} */ (await driver.executeScript('return window.waited'));
			waited.sort((a, b) => a - b);
			const at = (/** @type {number} */ share) =>
				waited[Math.min(waited.length - 1, Math.floor(share * waited.length))] ?? NaN;
			console.log(
				`${name}: from a key to the next picture ${at(0.5).toFixed(0)} ms in the median, ${at(0.95).toFixed(0)} at most for 19 of 20, ${at(1).toFixed(0)} at worst`,
			);
		}
	} finally {
		await close();
		await app.stop();
	}
}
