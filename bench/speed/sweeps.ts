/**
 * Sweeps: proposals for many items, out of and into the database, against the arithmetic alone on all cores in the same run; what
 * a second worker changes; how the server answers meanwhile; how soon a sweep stops; how two share the workers; adopting thousands;
 * memory. npm run bench -- sweeps [items] [rounds] [kind] [months]
 *
 * The arithmetic alone is that of at most a thousand items before and after each round, scaled up. With the kind “try” a line-up of one
 * cheap method takes the place of proposals: what is not arithmetic shows, at a size that proposals would take hours for.
 */
import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import pg from 'pg';
import { NO_LAYERS } from '../../src/core/series/layers';
import { Threads } from '../../src/lib/server/threads/threads';
import type { SweepTask } from '../../src/lib/server/threads/tasks';
import type { NewSweep, Sweep } from '../../src/lib/wire/sweeps';
import { type App, startApp, startWorker, until } from '../../tests/support/app';
import { fileURLToPath } from 'node:url';
import { median, share, withDatabase } from './serving-support';
import { codeOf, FIRST, makeSeries, MONTHS, valueOf } from './sweep-items';

const [count = 1000, rounds = 3] = process.argv.slice(3, 5).map(Number);
const kind = process.argv[5] === 'try' ? 'try' : 'propose';
const months = Number(process.argv[6] ?? MONTHS);
const SAMPLE = Math.min(count, 1000);
const LINE_UP = [{ id: 'a', method: 'moving-average', span: 3 }] as const;
/** Rows that are adopted by name, at most. */
const ADOPTED = 5000;
const WORK = fileURLToPath(new URL('../../build/work.js', import.meta.url));

const task = (item: number): SweepTask => ({
	kind,
	seen: {
		actuals: { first: FIRST, values: Array.from({ length: months }, (_, t) => valueOf(item, t)) },
		frequency: 'month',
		seasonLength: 12,
		layers: NO_LAYERS,
		group: null,
	},
	before: null,
	settings: { lineUp: kind === 'try' ? [...LINE_UP] : [], criterion: 'mad', service: null },
	lead: 1,
});

/** The arithmetic of a sample on all cores, in milliseconds for all items. */
async function arithmetic(): Promise<number> {
	const threads = new Threads(WORK);
	await Promise.all(Array.from({ length: 4 }, () => threads.run('sweepItem', task(0), { caller: 'warm' })));
	const began = performance.now();
	let next = 0;
	const lane = async () => {
		for (let item = next++; item < SAMPLE; item = next++)
			await threads.run('sweepItem', task(item), { caller: 'bench' });
	};
	await Promise.all(Array.from({ length: availableParallelism() + 1 }, lane));
	const took = performance.now() - began;
	await threads.close();
	return (took * count) / SAMPLE;
}

const begin = async (app: App, sweep: Partial<NewSweep>): Promise<Sweep> => {
	const { status, body } = await app.call<Sweep>('POST', '/sweeps', sweep);
	if (status !== 201) throw new Error(JSON.stringify(body));
	return body;
};
/** Asked of the database and seldom, so that looking takes nothing from what is looked at. */
const LOOK = 200;
let database: pg.Client;
async function look(id: number): Promise<{ done: number; took: number | null }> {
	const { rows } = await database.query<{ done: number; took: number | null }>(
		`SELECT 1000 * extract(epoch FROM ended_at - created_at)::double precision AS took, (
			SELECT count(*)::integer FROM sweep_row WHERE sweep_row.workspace_id = sweep.workspace_id AND sweep_id = sweep.id
		) AS done FROM sweep WHERE id = $1`,
		[id],
	);
	return rows[0]!;
}
async function when(
	id: number,
	there: (sweep: { done: number; took: number | null }) => boolean,
): Promise<void> {
	while (!there(await look(id))) await new Promise((done) => setTimeout(done, LOOK));
}
const LONG = 3_600_000;

/** A sweep from its beginning to its end, in milliseconds, by the clock of the database. */
async function sweepTime(app: App, sweep: Partial<NewSweep>): Promise<{ took: number; id: number }> {
	const { id } = await begin(app, sweep);
	await when(id, ({ took }) => took !== null);
	return { took: (await look(id)).took!, id };
}

/** Megabytes that a process holds. */
const memoryOf = (pid: number): number => {
	const [, kilobytes] = /VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8')) ?? [];
	return Number(kilobytes) / 1024;
};

/** What processes hold while something runs: in the tenths of its time. @returns ends it, and says what was seen */
function lookAtMemory(pids: readonly number[]): () => string {
	const seen: number[][] = [];
	const look = setInterval(() => seen.push(pids.map(memoryOf)), LOOK);
	return () => {
		clearInterval(look);
		const tenths = Array.from({ length: 10 }, (_, i) => seen[Math.floor(((i + 0.5) * seen.length) / 10)]!);
		return pids
			.map((_, which) => tenths.map((sizes) => sizes?.[which]?.toFixed(0) ?? '–').join(' '))
			.join(' and ');
	};
}

const ALL: Partial<NewSweep> = {
	kind,
	items: { asked: {} } as NewSweep['items'],
	...(kind === 'try' && { settings: { lineUp: [...LINE_UP], criterion: 'mad' } as NewSweep['settings'] }),
};

await withDatabase(async (url, _, ownerUrl) => {
	const app = await startApp(url);
	const worker = await startWorker(url);
	const client = new pg.Client({ connectionString: ownerUrl });
	await client.connect();
	database = client;
	try {
		await makeSeries(client, count, months);
		await until(
			async () => (await client.query('SELECT 1 FROM status_queue LIMIT 1')).rows.length === 0,
			'the status of all items',
			LONG,
		);
		const alone: number[] = [];
		const swept: number[] = [];
		const memory: string[] = [];
		let id = 0;
		for (let round = 0; round < rounds; round++) {
			const before = await arithmetic();
			const looked = lookAtMemory([app.process.pid!, worker.process.pid!]);
			const { took, id: made } = await sweepTime(app, ALL);
			memory.push(looked());
			id = made;
			swept.push(took);
			alone.push((before + (await arithmetic())) / 2);
		}
		console.log(
			`${kind} for ${count} items of ${months} months: ${(median(swept) / 1000).toFixed(1)} s out of and into the database, ${(median(alone) / 1000).toFixed(1)} s the arithmetic alone on ${availableParallelism()} cores: × ${(median(swept) / median(alone)).toFixed(2)} (${swept.map((took, i) => (took / alone[i]!).toFixed(2)).join(', ')})`,
		);
		console.log(`memory of server and worker over the tenths of each, in MB: ${memory.join('; ')}`);

		if (rounds > 1) {
			const twice: number[] = [];
			const once: number[] = [];
			for (let round = 0; round < rounds; round++) {
				const second = await startWorker(url);
				twice.push((await sweepTime(app, ALL)).took);
				await second.stop();
				once.push((await sweepTime(app, ALL)).took);
			}
			console.log(
				`with a second worker on the same cores: × ${(median(twice) / median(once)).toFixed(2)} of one (${twice.map((took, i) => (took / once[i]!).toFixed(2)).join(', ')})`,
			);
		}

		const quiet: number[] = [];
		const busy: number[] = [];
		const opened: number[][] = [[], []];
		const ask = async (health: number[], open: number[]) => {
			for (let i = 0; i < 60; i++) {
				let began = performance.now();
				await (await fetch(`${app.url}/api/v1/health`)).arrayBuffer();
				health.push(performance.now() - began);
				began = performance.now();
				await app.call('GET', `/items/${codeOf((i * 37) % count)}`);
				open.push(performance.now() - began);
			}
		};
		await ask(quiet, opened[0]!);
		const running = await begin(app, ALL);
		await when(running.id, ({ done }) => done > 0);
		await ask(busy, opened[1]!);
		console.log(
			`while a sweep runs: health in ${median(busy).toFixed(1)} ms in the median, 95 of 100 within ${share(busy, 0.95).toFixed(1)} (${median(quiet).toFixed(1)} when nothing runs); an item in ${median(opened[1]!).toFixed(1)} ms (${median(opened[0]!).toFixed(1)})`,
		);
		const stopped = performance.now();
		await app.call('POST', `/sweeps/${running.id}/stopped`);
		await until(
			async () =>
				(await client.query(`SELECT FROM graphile_worker.jobs WHERE task_identifier = 'sweep'`)).rows
					.length === 0,
			'the end of its jobs',
			LONG,
		);
		console.log(
			`stopped, nobody works at it any more after ${((performance.now() - stopped) / 1000).toFixed(2)} s`,
		);

		const one = await begin(app, ALL);
		const some = Math.min(count / 4, 500);
		await when(one.id, ({ done }) => done >= some);
		const other = await begin(app, ALL);
		const before = (await look(one.id)).done;
		await when(other.id, ({ done }) => done >= some);
		const [first, next] = [await look(one.id), await look(other.id)];
		console.log(
			`two at once: while the second did ${next.done}, the first, begun before, did ${first.done - before}`,
		);
		await app.call('POST', `/sweeps/${one.id}/stopped`);
		await app.call('POST', `/sweeps/${other.id}/stopped`);

		const adopting = await sweepTime(app, {
			kind: 'adopt',
			of: id,
			items: {
				codes: Array.from({ length: Math.min(count, ADOPTED) }, (_, item) => codeOf(item)),
			},
			reason: 'those that were ticked',
		});
		const { sums } = (
			await app.call<{ sums: { adopted: number; refused: number } }>('GET', `/sweeps/${adopting.id}`)
		).body;
		console.log(
			`adopting ${sums.adopted} rows (${sums.refused} refused) under one reason: ${(adopting.took / 1000).toFixed(1)} s`,
		);
	} finally {
		await client.end();
		await worker.stop();
		await app.stop();
	}
});
