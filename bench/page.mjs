// (b) What a moved dial costs: the arithmetic in the worker against the drawing of the strip, in one page.
import { Key } from 'selenium-webdriver';
import { openBrowser } from '../scripts/lib/browser.mjs';
import { serveForAWhile } from '../scripts/lib/served.mjs';

const PERIODS = 120;
const MOVES = 200;

const VALUES = Array.from({ length: PERIODS }, (_, t) =>
	Math.round(400 + 2 * t + 60 * Math.sin(t / 2) + ((t * 7919) % 83) - 41),
);
const CANDIDATES = [
	{ id: 'a', method: 'naive' },
	{ id: 'b', method: 'moving-average', span: 3 },
	{ id: 'c', method: 'weighted-moving-average', weights: [1, 2, 3] },
	{ id: 'd', method: 'ses', constants: { alpha: 0.3 } },
	{ id: 'e', method: 'ses', optimise: { criterion: 'mse' } },
];

/**
 * Mean of the middle half: the browser's clock goes in tenths of a millisecond, which a median would keep.
 * @param {number[]} list
 */
function middle(list) {
	const half = list.sort((a, b) => a - b).slice(list.length >> 2, (3 * list.length) >> 2);
	return half.reduce((sum, value) => sum + value, 0) / half.length;
}

export async function measurePage() {
	const app = await serveForAWhile({ VENTREL_DEMO: 'off' });
	const browser = await openBrowser();
	const { driver } = browser;
	const send = (/** @type {string} */ method, /** @type {string} */ path, /** @type {object} */ body) =>
		fetch(`${app.address}/api/v1${path}`, {
			method,
			body: JSON.stringify(body),
			headers: { 'content-type': 'application/json' },
		});
	try {
		const choices = { frequency: 'month', first: '2016-11' };
		await send('POST', '/items', { code: 'bench', name: 'Bench', text: VALUES.join('\n'), choices });
		await send('PUT', '/items/bench/line-up', { version: 0, candidates: CANDIDATES });
		await driver.get(`${app.address}/items/bench?view=signal&candidate=d`);
		const dial = '[data-candidate="d"] [role="slider"]';
		await driver.wait(
			() => driver.executeScript(`return document.querySelector('${dial}') !== null`),
			15_000,
		);
		await driver.findElement({ css: dial }).sendKeys(Key.HOME);
		const marks = (/** @type {string} */ name) =>
			/** @type {Promise<number[]>} */ (
				driver.executeScript(
					`return performance.getEntriesByName(arguments[0]).map(({ detail }) => detail)`,
					name,
				)
			);
		for (let move = 0; move < MOVES; move++) {
			const before = (await marks('strip drawn')).length;
			await driver.findElement({ css: dial }).sendKeys(move % 40 < 20 ? Key.ARROW_RIGHT : Key.ARROW_LEFT);
			await driver.wait(async () => (await marks('strip drawn')).length > before, 15_000);
		}
		// The first ones pay for compiling; a dial is moved hundreds of times.
		const worker = middle((await marks('evaluated')).slice(100));
		const strip = middle((await marks('strip drawn')).slice(100));
		console.log(
			`(b) dial moved, five candidates on ${PERIODS} periods: evaluate in the worker ${worker.toFixed(2)} ms, strip drawn in ${strip.toFixed(2)} ms; ratio ${(worker / strip).toFixed(3)} (at most 0.1)`,
		);
	} finally {
		await browser.close();
		await app.stop();
	}
}
