// What opening an item takes that nobody has worked on: from the first paint of the page to the proposal drawn on the strip.
import { openBrowser } from '../../scripts/lib/browser.mjs';
import { serveForAWhile } from '../../scripts/lib/served.mjs';

const ITEMS = 15;
/** Milliseconds that it may take in the median. */
const AT_MOST = 300;

/** Five years of months with a season and a climb, or with neither. */
const valuesOf = (/** @type {number} */ item) =>
	Array.from({ length: 60 }, (_, t) =>
		Math.round(
			(300 + (item % 3) * 2 * t) * (1 + (item % 2) * 0.3 * Math.sin((t * Math.PI) / 6)) +
				((t * 7919 + item * 31) % 61),
		),
	);

/** @returns {Promise<boolean>} whether the median stayed within what it may take */
export async function measureOpening() {
	const app = await serveForAWhile({ VENTREL_DEMO: 'off' });
	const browser = await openBrowser();
	const { driver } = browser;
	try {
		const took = [];
		for (let item = 0; item <= ITEMS; item++) {
			const body = {
				code: `open-${item}`,
				name: 'Bench',
				text: valuesOf(item).join('\n'),
				choices: { frequency: 'month', first: '2020-01' },
			};
			await fetch(`${app.address}/api/v1/items`, {
				method: 'POST',
				body: JSON.stringify(body),
				headers: { 'content-type': 'application/json' },
			});
			await driver.get(`${app.address}/items/open-${item}?view=ahead`);
			await driver.wait(
				() => driver.executeScript(`return document.querySelector('[data-ahead]') !== null`),
				30_000,
			);
			const milliseconds = /** @type {number} */ (
				await driver.executeAsyncScript(
					`const [done] = arguments;
					requestAnimationFrame(() => requestAnimationFrame(() => {
						const paint = performance.getEntriesByName('first-contentful-paint')[0].startTime;
						done(performance.getEntriesByName('strip drawn').at(-1).startTime - paint);
					}));`,
				)
			);
			// The first one fills the browser's cache.
			if (item > 0) took.push(milliseconds);
		}
		took.sort((a, b) => a - b);
		const middle = took[took.length >> 1];
		console.log(
			`(i) an item nobody worked on, 60 months: from the page painted to its proposal drawn ${middle.toFixed(0)} ms in the median (at most ${AT_MOST}), ${took.at(-1)?.toFixed(0)} at the most, ${ITEMS} items`,
		);
		return middle <= AT_MOST;
	} finally {
		await browser.close();
		await app.stop();
	}
}
