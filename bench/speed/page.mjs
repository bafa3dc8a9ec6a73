// (b) What a moved dial costs, all of it: the arithmetic in the worker, what the page's own thread does beside
// drawing, and how long it is from the key to the strip drawn anew.
import { Key } from 'selenium-webdriver';
import { openBrowser } from '../../scripts/lib/browser.mjs';
import { serveForAWhile } from '../../scripts/lib/served.mjs';

/** Moves whose figures count, after as many that pay for compiling: a dial is moved hundreds of times. */
const MOVES = 60;

/** @type {object[]} */
const EIGHT = [
	{ id: 'a', method: 'seasonal-naive' },
	{ id: 'b', method: 'moving-average', span: 3 },
	{ id: 'c', method: 'ses', optimise: { criterion: 'mse' } },
	{ id: 'd', method: 'linear-trend' },
	{ id: 'e', method: 'holt', constants: { alpha: 0.4, beta: 0.2 } },
	{ id: 'f', method: 'holt-winters', season: 'additive', constants: { alpha: 0.3, beta: 0.1, gamma: 0.1 } },
	{ id: 'g', method: 'holt-winters', season: 'multiplicative' },
	{ id: 'h', method: 'holt-winters', season: 'multiplicative', trend: 'damped' },
];

/** Periods, and the milliseconds that a move may take of the page's own thread beside drawing. @type {[number, number][]} */
const CASES = [
	[120, 2],
	[2_000, 3],
	[20_000, 8],
];

const VIEWS = ['signal', 'working'];

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

/**
 * Runs in the page: turns a dial so many times by its arrow keys, each time when the last one is drawn; or only presses
 * a key that turns nothing.
 * @param {string} dial
 * @param {number} moves
 * @param {boolean} turning
 * @param {(result: { moved: number, took: number, drawn: number }[]) => void} done
 */
const turn = (dial, moves, turning, done) => {
	const frame = () => new Promise((go) => requestAnimationFrame(() => setTimeout(go)));
	const last = (/** @type {string} */ name) =>
		/** @type {PerformanceMark} */ (performance.getEntriesByName(name).at(-1));
	const drawn = () =>
		new Promise((go) => {
			const watch = new PerformanceObserver((list) => {
				if (list.getEntriesByName('strip drawn').length === 0) return;
				watch.disconnect();
				go(null);
			});
			watch.observe({ entryTypes: ['mark'] });
		});
	const run = async () => {
		const result = [];
		for (let move = 0; move < moves; move++) {
			performance.clearMarks('strip drawn');
			performance.clearMarks('evaluated');
			const done = turning ? drawn() : frame();
			const key = turning ? (move % 40 < 20 ? 'ArrowRight' : 'ArrowLeft') : 'F9';
			const began = performance.now();
			document.querySelector(dial)?.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
			await done;
			if (turning) {
				const strip = last('strip drawn');
				result.push({ moved: strip.startTime - began, took: last('evaluated').detail, drawn: strip.detail });
			}
			await frame();
		}
		return result;
	};
	void run().then(done);
};

/** @returns {Promise<boolean>} whether every move stayed within what it may take */
export async function measurePage() {
	const app = await serveForAWhile({ VENTREL_DEMO: 'off' });
	const browser = await openBrowser();
	const driver = /** @type {import('selenium-webdriver/chrome.js').Driver} */ (browser.driver);
	await driver.manage().setTimeouts({ script: 600_000 });
	const send = (/** @type {string} */ method, /** @type {string} */ path, /** @type {object} */ body) =>
		fetch(`${app.address}/api/v1${path}`, {
			method,
			body: JSON.stringify(body),
			headers: { 'content-type': 'application/json' },
		});
	/** Seconds that the page's own thread has run scripts, all charts' drawing among them. */
	const scripted = async () => {
		const { metrics } = /** @type {{ metrics: { name: string, value: number }[] }} */ (
			/** @type {unknown} */ (await driver.sendAndGetDevToolsCommand('Performance.getMetrics', {}))
		);
		return metrics.find(({ name }) => name === 'ScriptDuration')?.value ?? NaN;
	};
	const drawing = () =>
		/** @type {Promise<number>} */ (
			driver.executeScript(
				`return performance.getEntriesByName('drawn').reduce((sum, { detail }) => sum + detail, 0)`,
			)
		);
	let within = true;
	try {
		await driver.sendDevToolsCommand('Performance.enable', {});
		for (const [periods, atMost] of CASES) {
			const code = `bench-${periods}`;
			const choices = {
				frequency: periods > 2000 ? 'hour' : 'month',
				first: periods > 2000 ? '2020-01-01T00' : '1840-01',
			};
			await send('POST', '/items', { code, name: 'Bench', text: valuesOf(periods).join('\n'), choices });
			await send('PUT', `/items/${code}/line-up`, { version: 0, candidates: EIGHT });
			for (const view of VIEWS) {
				await driver.get(`${app.address}/items/${code}?view=${view}&candidate=f`);
				const dial = '[data-candidate="f"] [type="range"]';
				await driver.wait(
					() => driver.executeScript(`return performance.getEntriesByName('strip drawn').length > 1`),
					60_000,
				);
				await driver.findElement({ css: dial }).sendKeys(Key.HOME);
				/** Moves, and the milliseconds of scripts beside drawing that each took. */
				const moves = async (/** @type {boolean} */ turning) => {
					await driver.executeScript(`performance.clearMarks('drawn')`);
					const before = await scripted();
					const list = /** @type {{ moved: number, took: number, drawn: number }[]} */ (
						await driver.executeAsyncScript(turn, dial, MOVES, turning)
					);
					return { list, each: (1000 * ((await scripted()) - before) - (await drawing())) / MOVES };
				};
				await moves(true);
				const { list, each } = await moves(true);
				// What the driving itself takes, and frames in which nothing is turned.
				const own = each - (await moves(false)).each;
				const took = middle(list.map((move) => move.took));
				const drawn = middle(list.map((move) => move.drawn));
				const answered = middle(list.map((move) => move.moved - move.drawn));
				within &&= own <= atMost;
				console.log(
					`(b) dial moved, 8 candidates on ${periods} periods, ${view}: arithmetic ${took.toFixed(2)} ms; the page's own thread beside drawing ${own.toFixed(2)} ms (at most ${atMost}); from the key to the answer ${answered.toFixed(2)} ms, ${(answered / took).toFixed(2)} times the arithmetic; strip drawn in ${drawn.toFixed(2)} ms`,
				);
			}
		}
	} finally {
		await browser.close();
		await app.stop();
	}
	return within;
}
