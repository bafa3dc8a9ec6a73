/**
 * Workers, the server and PostgreSQL killed at random while sweeps run over thousands of items: each item is done once, none twice,
 * none is lost, and every sweep ends by itself. npm run bench -- sweep-kills [kills] [items]
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import { clusterRuns, startCluster } from '../../scripts/lib/cluster.mjs';
import { freePort } from '../../scripts/lib/ports.mjs';
import { seededUniform } from '../../src/core/numbers/random';
import type { NewSweep, Sweep } from '../../src/lib/wire/sweeps';
import { type App, startApp, startWorker, until, type Worker } from '../../tests/support/app';
import { withDatabase } from '../speed/serving-support';
import { makeSeries } from '../speed/sweep-items';

const [KILLS = 100, ITEMS = 5000] = process.argv.slice(3).map(Number);
const uniform = seededUniform(20_261_127);
const LONG = 1_800_000;
const LINE_UP = [
	{ id: 'a', method: 'ses', optimise: {} },
	{ id: 'b', method: 'holt-winters', season: 'additive', constants: { alpha: 0.3, beta: 0.1, gamma: 0.2 } },
] as const;
/** Seconds between what was started again and the next kill, at most; adopting is quickly through. */
const PAUSE = 5;
const PAUSE_OF_ADOPTING = 1;
const WORKERS = 2;

await withDatabase(async (url, directory, ownerUrl) => {
	const port = await freePort();
	let app: App = await startApp(url, { port });
	const workers: Worker[] = [];
	for (let i = 0; i < WORKERS; i++) workers.push(await startWorker(url));
	let byThemselves = 0;
	const killed = { worker: 0, server: 0, PostgreSQL: 0 };

	/** A query that waits for the database to be there. */
	async function ask<Row extends pg.QueryResultRow>(text: string, values: unknown[] = []): Promise<Row[]> {
		for (;;) {
			const client = new pg.Client({ connectionString: ownerUrl });
			// A connection that breaks while nothing is asked is made anew all the same.
			client.on('error', () => undefined);
			try {
				await client.connect();
				return (await client.query<Row>(text, values)).rows;
			} catch {
				await new Promise((done) => setTimeout(done, 100));
			} finally {
				await client.end().catch(() => undefined);
			}
		}
	}

	/** What npm start does as well. */
	async function startEnded(): Promise<void> {
		for (const [at, worker] of workers.entries()) {
			if (worker.process.exitCode === null) continue;
			byThemselves++;
			workers[at] = await startWorker(url);
		}
		if (app.process.exitCode === null) return;
		byThemselves++;
		app = await startApp(url, { port });
	}

	async function killOne(): Promise<void> {
		const which = uniform();
		if (which < 0.5) {
			const at = Math.floor(uniform() * WORKERS);
			await workers[at]!.stop('SIGKILL');
			killed.worker++;
			workers[at] = await startWorker(url);
		} else if (which < 0.75) {
			await app.stop('SIGKILL');
			killed.server++;
			app = await startApp(url, { port });
		} else {
			const [pid] = readFileSync(join(directory, 'postgres', 'data', 'postmaster.pid'), 'utf8').split('\n');
			process.kill(Number(pid), 'SIGKILL');
			killed.PostgreSQL++;
			// As npm start does: once it is gone, it is started again.
			await until(async () => !clusterRuns(directory), 'the end of PostgreSQL');
			await startCluster(directory);
		}
	}

	/** Calls as somebody would who tries once more where nobody answers. */
	async function begin(sweep: Partial<NewSweep>): Promise<number> {
		for (;;) {
			const { status, body } = await app
				.call<Sweep>('POST', '/sweeps', sweep)
				.catch(() => ({ status: 0, body: null }));
			if (status === 201) return body!.id;
			if (status !== 0 && status < 500) throw new Error(JSON.stringify(body));
			await new Promise((done) => setTimeout(done, 200));
		}
	}

	const hasEnded = async (id: number) =>
		(await ask<{ ended: boolean }>('SELECT ended_at IS NOT NULL AS ended FROM sweep WHERE id = $1', [id]))[0]!
			.ended;

	await makeSeries(await connected(ownerUrl), ITEMS);
	await until(async () => (await ask('SELECT FROM status_queue LIMIT 1')).length === 0, 'status', LONG);
	const kinds: Partial<NewSweep>[] = [];
	const ids: number[] = [];
	const kills = () => killed.worker + killed.server + killed.PostgreSQL;
	const began = performance.now();
	while (kills() < KILLS) {
		const of = ids.at(-1);
		const adopts = kinds.at(-1)?.kind === 'try';
		const wanted: Partial<NewSweep> = adopts
			? { kind: 'adopt', of: of!, items: { rule: 'all' }, reason: `number ${of}` }
			: {
					kind: 'try',
					items: { asked: {} } as NewSweep['items'],
					settings: { lineUp: [...LINE_UP], criterion: 'mad', share: null } as NewSweep['settings'],
				};
		const id = await begin(wanted);
		kinds.push(wanted);
		ids.push(id);
		while (kills() < KILLS && !(await hasEnded(id))) {
			const pause = wanted.kind === 'adopt' ? PAUSE_OF_ADOPTING : PAUSE;
			await new Promise((done) => setTimeout(done, pause * 1000 * uniform()));
			await startEnded();
			if (!(await hasEnded(id))) await killOne();
		}
		await until(() => hasEnded(id), `the end of sweep ${id}`, LONG);
		console.log(`sweep ${id} ended after ${kills()} kills`);
	}
	const took = (performance.now() - began) / 1000;

	let wrong = 0;
	let apart = 0;
	for (const [at, id] of ids.entries()) {
		const [found] = await ask<{
			rows: number;
			items: number;
			lost: number;
			apart: number;
			twice: number;
			records: number;
		}>(
			`SELECT count(*)::integer AS rows, count(DISTINCT item_id)::integer AS items,
				(SELECT count(*)::integer FROM item WHERE NOT EXISTS (
					SELECT FROM sweep_row r WHERE r.sweep_id = $1 AND r.item_id = item.id
				)) AS lost,
				(SELECT count(*)::integer FROM sweep_batch WHERE sweep_id = $1 AND failed IS NOT NULL) AS apart,
				(SELECT count(*)::integer FROM (
					SELECT item_id FROM adopted_forecast WHERE reason = $2 GROUP BY 1 HAVING count(*) > 1
				) twice) AS twice,
				(SELECT count(*)::integer FROM adopted_forecast WHERE reason = $2) AS records
			FROM sweep_row WHERE sweep_id = $1`,
			[id, kinds[at]!.reason ?? '–'],
		);
		const { rows, items, lost, twice, records } = found!;
		apart += found!.apart;
		const right =
			rows === ITEMS &&
			items === ITEMS &&
			lost === 0 &&
			twice === 0 &&
			records === (kinds[at]!.kind === 'adopt' ? ITEMS : 0);
		if (!right) wrong++;
		console.log(
			`sweep ${id}, ${kinds[at]!.kind}: ${rows} rows of ${items} items, ${lost} lost, ${records} records, ${twice} items with two, ${found!.apart} batches set apart`,
		);
	}
	const waiting = await ask(`SELECT FROM graphile_worker.jobs WHERE task_identifier = 'sweep'`);
	console.log(
		`${kills()} kills in ${took.toFixed(0)} s (${killed.worker} of workers, ${killed.server} of the server, ${killed.PostgreSQL} of PostgreSQL) over ${ids.length} sweeps of ${ITEMS} items: ${wrong} sweeps came out wrong, ${apart} batches were set apart, ${waiting.length} jobs are left, ${byThemselves} processes ended by themselves`,
	);
	for (const worker of workers) await worker.stop();
	await app.stop();
});

async function connected(url: string): Promise<pg.Client> {
	const client = new pg.Client({ connectionString: url });
	client.on('error', () => undefined);
	await client.connect();
	return client;
}
