// (b) What a moved dial costs: the arithmetic in the worker against the drawing of the strip, in one page.
import { Key } from 'selenium-webdriver';
import { openBrowser } from '../scripts/lib/browser.mjs';
import { serveForAWhile } from '../scripts/lib/served.mjs';

const MOVES = 200;

/** @type {{ periods: number, atMost: number, dial: string, candidates: object[] }[]} */
const CASES = [
	{
		periods: 120,
		atMost: 0.1,
		dial: 'd',
		candidates: [
			{ id: 'a', method: 'naive' },
			{ id: 'b', method: 'moving-average', span: 3 },
			{ id: 'c', method: 'weighted-moving-average', weights: [1, 2, 3] },
			{ id: 'd', method: 'ses', constants: { alpha: 0.3 } },
			{ id: 'e', method: 'ses', optimise: { criterion: 'mse' } },
		],
	},
	{
		periods: 500,
		atMost: 0.2,
		dial: 'f',
		candidates: [
			{ id: 'a', method: 'seasonal-naive' },
			{ id: 'b', method: 'moving-average', span: 3 },
			{ id: 'c', method: 'ses', optimise: { criterion: 'mse' } },
			{ id: 'd', method: 'linear-trend' },
			{ id: 'e', method: 'holt', optimise: { criterion: 'mad' } },
			{
				id: 'f',
				method: 'holt-winters',
				season: 'additive',
				constants: { alpha: 0.3, beta: 0.1, gamma: 0.1 },
			},
			{ id: 'g', method: 'holt-winters', season: 'multiplicative', optimise: { criterion: 'mse' } },
			{ id: 'h', method: 'holt-winters', season: 'multiplicative', trend: 'damped' },
		],
	},
];

const valuesOf = (/** @type {number} */ periods) =>
	Array.from({ length: periods }, (_, t) =>
		Math.round(400 + 2 * t + 60 * Math.sin(t / 2) + ((t * 7919) % 83) - 41),
	);

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
	const marks = (/** @type {string} */ name) =>
		/** @type {Promise<number[]>} */ (
			driver.executeScript(
				`return performance.getEntriesByName(arguments[0]).map(({ detail }) => detail)`,
				name,
			)
		);
	try {
		for (const { periods, atMost, dial: id, candidates } of CASES) {
			const code = `bench-${periods}`;
			const choices = { frequency: 'month', first: '1980-01' };
			await send('POST', '/items', { code, name: 'Bench', text: valuesOf(periods).join('\n'), choices });
			await send('PUT', `/items/${code}/line-up`, { version: 0, candidates });
			await driver.get(`${app.address}/items/${code}?view=signal&candidate=${id}`);
			const dial = `[data-candidate="${id}"] [role="slider"]`;
			await driver.wait(
				() => driver.executeScript(`return document.querySelector('${dial}') !== null`),
				15_000,
			);
			await driver.findElement({ css: dial }).sendKeys(Key.HOME);
			for (let move = 0; move < MOVES; move++) {
				const before = (await marks('strip drawn')).length;
				await driver.findElement({ css: dial }).sendKeys(move % 40 < 20 ? Key.ARROW_RIGHT : Key.ARROW_LEFT);
				await driver.wait(async () => (await marks('strip drawn')).length > before, 15_000);
			}
			// The first ones pay for compiling; a dial is moved hundreds of times.
			const worker = middle((await marks('evaluated')).slice(100));
			const strip = middle((await marks('strip drawn')).slice(100));
			console.log(
				`(b) dial moved, ${candidates.length} candidates on ${periods} periods: evaluate in the worker ${worker.toFixed(2)} ms, strip drawn in ${strip.toFixed(2)} ms; ratio ${(worker / strip).toFixed(3)} (at most ${atMost})`,
			);
		}
	} finally {
		await browser.close();
		await app.stop();
	}
}
