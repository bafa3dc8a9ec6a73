/**
 * The list of 20,000 and of 100,000 items: each window over HTTP against the bare SQL of it, by every sort and filter, one after
 * the other in the same run; how large answers are; when the page is there; and how frames go while all of it is scrolled through.
 * npm run bench -- list
 */
import { Agent, get } from 'node:http';
import pg from 'pg';
import { openBrowser } from '../../scripts/lib/browser.mjs';
import { type Asked, ASKED_ALL, paramsOf, SORTS } from '../../src/lib/wire/asked';
import { WINDOW } from '../../src/lib/wire/query';
import { Bound, LIST_ORDERS, stretchesFrom } from '../../src/lib/server/items/asked-sql';
import { windowSql } from '../../src/lib/server/list/list';
import { type App, demoIsThere, startApp } from '../../tests/support/app';
import { median, share, withDatabase } from './serving-support';

const ROUNDS = 15;
/** What is asked for: every sort both ways, and each filter. */
const QUESTIONS: Partial<Asked>[] = [
	...SORTS.flatMap((sort) => [{ sort }, { sort, down: true }]),
	{ which: 'look' },
	{ which: 'outside' },
	{ which: 'not-in' },
	{ words: 'cable yard' },
	{ labels: [['Family', 'Brakes']] },
	{ method: 'holt' },
	{ frequency: 'month' },
	{ mape: [20, 30] },
	{ size: [100, null] },
	{ which: 'look', labels: [['Bay', 'Quay']], sort: 'mape', down: true },
];

async function bare(client: pg.Client, asked: Asked): Promise<void> {
	let rows = 0;
	for (const { condition, order } of stretchesFrom(LIST_ORDERS[asked.sort], asked.down, null)) {
		const bound = new Bound();
		const said = condition(bound);
		const limit = String(WINDOW + 1);
		rows += (await client.query(windowSql(1, asked)(bound, said, order, limit), bound.values)).rows.length;
		if (rows > WINDOW) break;
	}
}

async function measureWindows(app: App, client: pg.Client, items: number): Promise<void> {
	const worst = { ratio: 0, question: '' };
	let largest = 0;
	const all: number[] = [];
	/** Of calls that ask nothing of the database; and what is left of a window without one. */
	const idle: number[] = [];
	const beyond: number[] = [];
	for (const question of QUESTIONS) {
		const asked = { ...ASKED_ALL, ...question };
		const [sql, http, places]: [number[], number[], number[]] = [[], [], []];
		const nothing: number[] = [];
		for (let round = 0; round <= ROUNDS; round++) {
			const began = performance.now();
			await bare(client, asked);
			const between = performance.now();
			largest = Math.max(largest, await sizeOf(`${app.url}/api/v1/items?${paramsOf(asked)}`));
			const ended = performance.now();
			await sizeOf(`${app.url}/api/v1/places?${paramsOf(asked)}`);
			const asking = performance.now();
			await sizeOf(`${app.url}/api/v1/health`);
			const answered = performance.now();
			if (round === 0) continue;
			nothing.push(answered - asking);
			sql.push(between - began);
			http.push(ended - between);
			places.push(asking - ended);
		}
		const ratio = median(http) / median(sql);
		all.push(ratio);
		idle.push(median(nothing));
		beyond.push((median(http) - median(nothing)) / median(sql));
		const said = String(paramsOf(asked)) || 'all of them';
		if (ratio > worst.ratio) Object.assign(worst, { ratio, question: said });
		console.log(
			`  ${said.padEnd(42)} SQL ${median(sql).toFixed(1).padStart(6)} ms, over HTTP ${median(http).toFixed(1).padStart(6)} ms (× ${ratio.toFixed(2)}), where windows begin ${median(places).toFixed(0)} ms`,
		);
	}
	console.log(
		`${items} items: a window over HTTP takes ${median(all).toFixed(2)} times its SQL in the median of ${QUESTIONS.length} questions, ${worst.ratio.toFixed(2)} at most (${worst.question}); a call that asks for nothing takes ${median(idle).toFixed(1)} ms, without which it is ${median(beyond).toFixed(2)} times, ${Math.max(...beyond).toFixed(2)} at most; the largest answer is ${(largest / 1000).toFixed(1)} kB compressed`,
	);
}

const agent = new Agent({ keepAlive: true });
/** Asks, on a connection that stays. @returns bytes of the answer as they travel */
function sizeOf(url: string): Promise<number> {
	return new Promise((done, fail) =>
		get(url, { agent, headers: { 'accept-encoding': 'gzip' } }, (response) => {
			let size = 0;
			response.on('data', (part: Buffer) => (size += part.length));
			response.on('end', () => done(size));
		}).on('error', fail),
	);
}

/** From asking for the page to its first row, and how long frames take while it is scrolled through. */
async function measurePage(app: App, items: number): Promise<void> {
	const { driver, close } = await openBrowser();
	try {
		await driver.manage().setTimeouts({ script: 300_000 });
		const there: number[] = [];
		for (let round = 0; round < 8; round++) {
			await driver.get(`${app.url}/items${round % 2 === 0 ? '' : '?down=1'}`);
			const took = await driver.executeAsyncScript<number>(`
				const done = arguments[0];
				const look = () => {
					const counted = document.querySelector('[data-list="count"]')?.textContent.includes('in all');
					if (document.querySelector('[role="option"]') && counted) done(performance.now());
					else requestAnimationFrame(look);
				};
				look();`);
			const paint = await driver.executeScript<number>(
				`return performance.getEntriesByType('paint').at(-1).startTime`,
			);
			if (round > 0) there.push(paint);
			if (round === 7) console.log(`  counts and all there after ${took.toFixed(0)} ms`);
		}
		const frames = await driver.executeAsyncScript<number[]>(`
			const done = arguments[0];
			const list = document.querySelector('[role="listbox"]');
			const frames = [];
			let last = performance.now();
			const step = Math.max(400, list.scrollHeight / 600);
			const go = (now) => {
				frames.push(now - last);
				last = now;
				if (list.scrollTop + list.clientHeight >= list.scrollHeight - 1) return done(frames);
				list.scrollTop += step;
				requestAnimationFrame(go);
			};
			requestAnimationFrame(go);`);
		console.log(
			`${items} items: the page is painted after ${median(there).toFixed(0)} ms in the median, ${Math.max(...there).toFixed(0)} at most; of ${frames.length} frames while all of it is scrolled through the longest took ${Math.max(...frames).toFixed(0)} ms, 99 of 100 at most ${share(frames, 0.99).toFixed(0)}`,
		);
	} finally {
		await close();
	}
}

await withDatabase(async (url, _, ownerUrl) => {
	const began = performance.now();
	const app = await startApp(url, { env: { VENTREL_DEMO: 'large' } });
	await demoIsThere(app);
	const client = new pg.Client({ connectionString: ownerUrl });
	await client.connect();
	try {
		console.log(
			`20,000 items with two years of records are there after ${((performance.now() - began) / 1000).toFixed(0)} s`,
		);
		// As it is before long by itself.
		await client.query('VACUUM (ANALYZE)');
		await measureWindows(app, client, 20_000);
		await measurePage(app, 20_000);
		// Five times as many: what the list goes by, copied, with codes of their own.
		await client.query(`
			INSERT INTO item (workspace_id, code, name, unit, frequency, season_length, labels, created_by)
			SELECT workspace_id, code || '/' || copy, name, unit, frequency, season_length, labels, created_by
			FROM item CROSS JOIN generate_series(1, 4) copy;
			DELETE FROM status_queue;
			UPDATE item_status SET (reasons, newest, score, last_period, method, why, first, stake, waits, newest_period, newest_inside,
				next, miss, mad, mape, bias, signal, size, mase, value, shown) = (
				SELECT reasons, newest, score, last_period, method, why, first, stake, waits, newest_period, newest_inside,
					next, miss, mad, mape, bias, signal, size, mase, value, shown
				FROM item_status other WHERE other.workspace_id = item_status.workspace_id AND other.code = split_part(item_status.code, '/', 1)
			) WHERE code LIKE '%/%'`);
		await client.query('VACUUM (ANALYZE)');
		await measureWindows(app, client, 100_000);
		await measurePage(app, 100_000);
	} finally {
		await client.end();
		await app.stop();
	}
});
