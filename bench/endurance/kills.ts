/**
 * The server killed 200 times at random while it is written to: nothing that it acknowledged is lost, nothing is half there, and how
 * items stand is what grading from scratch says. And 100 threads ended at random while they compute: each question is answered rightly, or with a sentence.
 */
import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { seededUniform } from '../../src/core/numbers/random';
import type { Item } from '../../src/lib/wire/items';
import { Threads } from '../../src/lib/server/threads/threads';
import { freePort } from '../../scripts/lib/ports.mjs';
import { adoptionOf } from '../../tests/support/adopting';
import { type App, startApp } from '../../tests/support/app';
import { bringFigure, makeItems, withDatabase } from '../speed/serving-support';

/** Of the server, and of threads. */
const KILLS = 200;
const ENDS = 100;
const uniform = seededUniform(20_261_125);

async function killServer(url: string): Promise<void> {
	const port = await freePort();
	let app = await startApp(url, { port });
	const codes = await makeItems(app, 8);
	/** What was acknowledged: how many items, entries of layers and records there have to be at least. */
	const acknowledged = {
		items: codes.length,
		entries: 0,
		records: 0,
		carried: 0,
		figures: 0,
		lineUps: 0,
		attempts: 0,
	};
	let writing = true;
	let number = 0;
	const once = async (current: App) => {
		const code = codes[Math.floor(uniform() * codes.length)]!;
		acknowledged.attempts++;
		const kind = Math.floor(uniform() * 7);
		if (kind === 0) {
			const { status } = await current.call('POST', '/items', {
				code: `K-${number++}`,
				name: 'Killed',
				text: '1\n2\n3\n4',
			});
			if (status === 201) acknowledged.items++;
			return;
		}
		const item = (await current.call<Item>('GET', `/items/${code}`)).body;
		if (kind === 1) {
			const entries = [{ kind: 'event', period: item.series.first, setting: `event ${number++}` }];
			const { status } = await current.call('POST', `/items/${code}/layers`, {
				seen: item.layers.newest,
				entries,
			});
			if (status === 200) acknowledged.entries++;
		} else if (kind === 2) {
			const candidates = [{ id: 'a', method: 'ses', constants: { alpha: uniform() } }];
			const { status } = await current.call('PUT', `/items/${code}/line-up`, {
				version: item.lineUp.version,
				candidates,
			});
			if (status === 200) acknowledged.lineUps++;
		} else if (kind === 3 || kind === 4) {
			const t = 60 + Math.floor(uniform() * 24);
			const period = `${2021 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')}`;
			const { status, body } = await bringFigure(current, code, period, 200 + Math.floor(uniform() * 90));
			if (status === 200) acknowledged.figures += body[0]!.added + body[0]!.corrected;
		} else if (kind === 5) {
			const { status } = await current.call('POST', `/items/${code}/updated`, {
				seen: item.seen,
				seenLayers: item.layers.newest,
			});
			if (status === 201) acknowledged.carried++;
		} else {
			const { status } = await current.call(
				'POST',
				`/items/${code}/adopted`,
				adoptionOf(item, { id: 'a', method: 'ses' }),
			);
			if (status === 201) acknowledged.records++;
		}
	};
	const writers = Array.from({ length: 6 }, async () => {
		// While no server is there, they do not keep it from coming.
		while (writing) await once(app).catch(() => new Promise((done) => setTimeout(done, 100)));
	});
	for (let kill = 0; kill < KILLS; kill++) {
		// Threads are there after a second: adopting begins to be killed from then on.
		await new Promise((done) => setTimeout(done, 1000 + 1000 * uniform()));
		await app.stop('SIGKILL');
		app = await startApp(url, { port });
	}
	writing = false;
	await Promise.all(writers);
	const client = new pg.Client({ connectionString: url });
	await client.connect();
	const { rows } = await client.query(
		`SELECT (SELECT count(*) FROM item) AS items, (SELECT count(*) FROM layer_entry) AS entries,
			(SELECT count(*) FROM adopted_forecast WHERE carried_from IS NULL) AS records,
			(SELECT count(*) FROM adopted_forecast WHERE carried_from IS NOT NULL) AS carried,
			(SELECT count(*) FROM actual JOIN item ON item.id = item_id WHERE code LIKE 'B-%') - 8 * 60 AS figures,
			(SELECT sum(line_up_version) FROM item) AS line_ups,
			(SELECT count(*) FROM adopted_forecast f WHERE step_count <>
				(SELECT count(*) FROM adopted_step s WHERE s.adopted_forecast_id = f.id)) AS half_records,
			(SELECT count(*) FROM item WHERE code LIKE 'K-%' AND 4 <>
				(SELECT count(*) FROM actual WHERE actual.item_id = item.id)) AS half_items`,
	);
	await client.end();
	const there = Object.fromEntries(
		Object.entries(rows[0] as Record<string, string>).map(([key, value]) => [key, Number(value)]),
	);
	// Computed anew, each record is what it was.
	let wrong = 0;
	for (const code of codes) {
		const { body } = await app.call<{ id: number }[]>('GET', `/items/${code}/adopted`);
		for (const { id } of body.slice(0, 3)) {
			const check = await app.call<{ sameData: boolean; sameFigures: boolean }>(
				'GET',
				`/items/${code}/adopted/${id}`,
			);
			if (!check.body.sameData || !check.body.sameFigures) wrong++;
		}
	}
	await app.stop();
	const status = execFileSync(
		process.execPath,
		[fileURLToPath(new URL('../../build/status.js', import.meta.url)), 'check'],
		{ env: { ...process.env, DATABASE_URL: url } },
	).toString();
	const lost =
		Math.max(0, acknowledged.items - there.items!) +
		Math.max(0, acknowledged.entries - there.entries!) +
		Math.max(0, acknowledged.records - there.records!) +
		Math.max(0, acknowledged.carried - there.carried!) +
		Math.max(0, acknowledged.figures - there.figures!) +
		Math.max(0, acknowledged.lineUps - there.line_ups!);
	console.log(
		`\nkills of the server: ${KILLS}; ${acknowledged.attempts} writes tried, acknowledged ${acknowledged.items} items, ${acknowledged.entries} entries of layers, ${acknowledged.lineUps} line-ups, ${acknowledged.records} records, ${acknowledged.carried} carried on, ${acknowledged.figures} figures; ` +
			`lost ${lost}, half there ${there.half_items! + there.half_records!}, records that come out otherwise ${wrong}; ${status.trim()}`,
	);
}

if (!process.argv.includes('threads')) await withDatabase(killServer);

const threads = new Threads(fileURLToPath(new URL('../../build/work.js', import.meta.url)), 2);
const values = Array.from({ length: 3000 }, (_, t) => 100 + (t % 12) + ((t * 7919) % 31));
const body = Buffer.from(
	JSON.stringify({
		series: { values, frequency: 'step', seasonLength: 12 },
		candidates: [{ id: 'a', method: 'holt-winters', season: 'additive', optimise: {} }],
		detail: 'summary',
	}),
);
const right = Buffer.from(await threads.run('evaluateBody', body, { caller: 'right' })).toString('utf8');
let ended = 0;
let answered = 0;
const otherwise: string[] = [];
const sentences = new Map<string, number>();
let asking = true;
const askers = Array.from({ length: 6 }, async (_, i) => {
	while (asking) {
		try {
			const answer = Buffer.from(await threads.run('evaluateBody', body, { caller: `${i}` })).toString(
				'utf8',
			);
			if (answer === right) answered++;
			else otherwise.push(answer.slice(0, 80));
		} catch (error) {
			const message = (error as Error).message;
			sentences.set(message, (sentences.get(message) ?? 0) + 1);
		}
	}
});
while (ended < ENDS) {
	await new Promise((done) => setTimeout(done, 100 + 400 * uniform()));
	const there = threads.threads;
	const doomed = there[Math.floor(uniform() * there.length)];
	if (!doomed) continue;
	await doomed.terminate();
	ended++;
}
asking = false;
await Promise.all(askers);
await threads.close();
console.log(
	`\nends of threads: ${ended}; ${answered} questions answered rightly, ${otherwise.length} otherwise, ${[...sentences.values()].reduce((a, b) => a + b, 0)} with a sentence:`,
);
for (const [message, times] of sentences) console.log(`  ${times} × ${message}`);
