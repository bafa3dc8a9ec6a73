/**
 * Works off what was put off: sweeps, batch by batch, and how items stand. Any number of these run side by side, on any number of
 * machines; each is told by DATABASE_URL where. What it was at when it is killed is given to another one.
 */
import { EventEmitter } from 'node:events';
import { availableParallelism } from 'node:os';
import { Logger, run, type Runner, type TaskList, type WorkerEvents } from 'graphile-worker';
import pg from 'pg';
import { watchInbox } from '../lib/server/bring-in/inbox';
import { closePool } from '../lib/server/database/database';
import { listen } from '../lib/server/database/listening';
import { fillOutbox } from '../lib/server/list/outbox';
import { log } from '../lib/server/log';
import { refreshStatus } from '../lib/server/status/status';
import { workBatch } from '../lib/server/sweeps/batch';
import { type BatchJob, CHANNEL, renewJobs, TASK } from '../lib/server/sweeps/sweeps';
import { beat, clearDead, enter, nameWorkers } from '../lib/server/sweeps/job-worker';
import { closeThreads } from '../lib/server/threads/threads';

/** Milliseconds that work under way is given when it is told to stop, and after which the process ends whatever still runs. */
const LAST = 3_500;
/** How often it is looked for processes that were killed. */
const LOOK = 2_000;
/** How often it says that it is at work. */
const BEAT = 5_000;
/** Until jobs are looked for that nothing told of. */
const POLL = 1_000;

/** While one job reads or writes, the others keep the threads busy. */
const JOBS = availableParallelism() + 1;

/** What runs, by sweep, so that a sweep can be stopped. */
const running = new Map<number, Set<AbortController>>();

function stopSweep(id: number): void {
	for (const stop of running.get(id) ?? []) stop.abort();
}

async function work(job: BatchJob): Promise<void> {
	const stop = new AbortController();
	const own = running.get(job.sweep) ?? new Set();
	running.set(job.sweep, own.add(stop));
	const began = performance.now();
	try {
		await workBatch(job, stop.signal);
		// Its job goes back, and another one ends the batch.
		if (stopping && stop.signal.aborted) throw new Error('the worker was stopped');
		log.info({ ...job, milliseconds: performance.now() - began }, 'a batch of a sweep was worked off');
	} finally {
		own.delete(stop);
		if (own.size === 0) running.delete(job.sweep);
	}
}

const tasks: TaskList = { [TASK]: (payload) => work(payload as BatchJob) };

/** The log of what works jobs off, in the shape of ours. */
const LEVELS = { error: 'error', warning: 'warn', info: 'debug', debug: 'trace' } as const;
const logger = new Logger(
	(scope) => (level, message) => log[LEVELS[level]]({ ...scope, reason: message }, 'jobs'),
);

/** As the jobs name what this process runs. */
const workers = new Set<string>();
let process_: number | null = null;

const jobs = new pg.Pool({ connectionString: process.env.DATABASE_URL, max: JOBS + 2, keepAlive: true });
jobs.on('error', (error) => log.warn({ reason: error.message }, 'an idle database connection broke'));
jobs.on(
	'connect',
	(client) => void client.on('error', (error) => log.warn({ reason: error.message }, 'a connection broke')),
);

let stopping = false;
let runner: Runner | null = null;
/** Ends what runs jobs, so that it begins anew. */
let beginAnew = (): void => undefined;

/**
 * What could not be written down of a job while the database was gone is thrown where nobody listens. Its jobs would be held by
 * this process for ever: it runs them under other names from then on, and those of before are given back.
 */
process.on('unhandledRejection', (error) => {
	log.warn({ reason: String(error) }, 'what became of jobs could not be written down');
	workers.clear();
	if (process_ !== null) void nameWorkers(process_, []).catch(() => undefined);
	beginAnew();
});

/** Runs jobs until it is told to stop; where the database is gone for a while, from the beginning. */
async function runJobs(): Promise<void> {
	while (!stopping) {
		try {
			const events: WorkerEvents = new EventEmitter();
			events.on('pool:create', ({ workerPool }) => void nameIt(workerPool.id));
			runner = await run({
				pgPool: jobs,
				events,
				taskList: tasks,
				concurrency: JOBS,
				pollInterval: POLL,
				noHandleSignals: true,
				noPreparedStatements: false,
				logger,
			});
			const anew = new Promise<void>((done) => (beginAnew = done));
			await Promise.race([runner.promise, anew]);
			void runner.stop().catch(() => undefined);
		} catch (error) {
			log.warn({ reason: String(error) }, 'jobs cannot be run just now');
		}
		if (!stopping) await new Promise((done) => setTimeout(done, LOOK));
	}
}

async function nameIt(worker: string): Promise<void> {
	workers.add(worker);
	if (process_ !== null) await nameWorkers(process_, [...workers]).catch(() => undefined);
}

const refreshNow = () =>
	void refreshStatus().catch((error: unknown) => log.warn({ reason: String(error) }, 'settling failed'));
const endListening = listen(
	{
		ventrel_status_queue: refreshNow,
		[CHANNEL]: (payload) => {
			const { sweep, stop } = JSON.parse(payload) as { sweep: number; stop: boolean };
			if (stop) stopSweep(sweep);
		},
	},
	async (client) => {
		process_ = await enter(client);
		await nameWorkers(process_, [...workers]);
		refreshNow();
		await renewJobs();
	},
);
/** That this process is still at work, to the database and to whoever started it. */
const beating = setInterval(() => {
	process.send?.('beat');
	if (process_ !== null)
		void beat(process_).catch((error: unknown) => log.debug({ reason: String(error) }, 'not heard of'));
}, BEAT);
const look = setInterval(
	() =>
		void clearDead().catch((error: unknown) =>
			log.debug({ reason: String(error) }, 'could not look for the dead'),
		),
	LOOK,
);

/** Ends what is looked at again and again. */
const ends: (() => void)[] = [];

async function stop(): Promise<void> {
	if (stopping) return;
	stopping = true;
	clearInterval(look);
	clearInterval(beating);
	for (const end of ends) end();
	setTimeout(() => process.exit(0), LAST).unref();
	// What runs is ended, and its jobs go back: what they had done is kept.
	for (const sweep of running.keys()) stopSweep(sweep);
	await runner?.stop().catch(() => undefined);
	await closeThreads();
	await endListening();
	await Promise.allSettled([jobs.end(), closePool()]);
	process.exit(0);
}
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
// Started by another process, it ends with it, however that one ended.
if (process.connected) process.once('disconnect', () => void stop());

const { VENTREL_INBOX: inbox, VENTREL_OUTBOX: outbox } = process.env;
if (inbox) ends.push(watchInbox(inbox));
if (outbox) ends.push(fillOutbox(outbox));

log.info({ jobs: JOBS }, 'the worker is there');
process.send?.('ready');
await runJobs();
