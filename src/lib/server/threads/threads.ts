import { availableParallelism } from 'node:os';
import { dirname, join } from 'node:path';
import type { MessagePort } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { log } from '../log';
import { Refusal } from '../refusal';
import { FairQueue } from './fair-queue';
import type { Asked, Outcome } from './tasks';
import { Usage, usage } from './usage';
import type * as work from './work';

/** What can be asked of a thread, by the name of its function, and how many seconds its caller waits at the most. */
export const PATIENCE = {
	evaluateBody: 30,
	takeJson: 30,
	forecast: 120,
	beforehand: 120,
	sweepItem: 120,
	readTable: 60,
	readArrived: 60,
	readStream: 7200,
} as const satisfies Record<Exclude<keyof typeof work, 'ready'>, number>;
type Kind = keyof typeof PATIENCE;
type Input<K extends Kind> = Parameters<(typeof work)[K]>[0]['input'];
type Value<K extends Kind> = Awaited<ReturnType<(typeof work)[K]>> extends Outcome<infer T> ? T : never;

/** Who asks, and how to tell that an answer is no longer wanted. */
export interface Asker {
	/** Callers take turns. */
	caller: string;
	/** Whether time at the threads is counted: of whoever signed in. */
	limited?: boolean;
	/** Ends when the caller hangs up. */
	signal?: AbortSignal | undefined;
	/** A newer question of the same caller under this name takes the place of an older one. */
	question?: string | undefined;
}

/** Seconds at the threads that a caller may have used. */
const MOST_SECONDS = 120;
const MOST_WAITING = 64;
const MOST_OF_ONE = 32;
/** Memory of one thread, in megabytes; the largest table that is read takes about half of it. */
const MEMORY = 1500;
const TRY_AGAIN = 5;
/** How often it is looked whether all threads are there, in milliseconds. */
const LOOK = 500;

/** Reasons to stop what runs. */
class Stopped extends Error {
	constructor(readonly why: 'late' | 'crowded' | 'gone' | 'superseded') {
		super(why);
	}
}

/**
 * Threads that compute, apart from the one that serves. A task that is stopped ends its thread, and another one is started in its
 * place: nothing that computes can be stopped otherwise.
 */
export class Threads {
	readonly #pool: Piscina;
	/** As many places as there are threads: who has one never waits for a thread. */
	readonly #queue: FairQueue;
	readonly #questions = new Map<string, AbortController>();
	readonly #watch: ReturnType<typeof setInterval>;
	#closed = false;

	/**
	 * @param filename the built `work.ts`
	 * @param patience seconds that a caller waits at the most for its turn, and then for its answer
	 */
	constructor(
		filename: string,
		threads = availableParallelism(),
		private readonly patience: Readonly<Record<Kind, number>> = PATIENCE,
		private readonly mostSeconds = MOST_SECONDS,
		private readonly used = new Usage(),
	) {
		this.#queue = new FairQueue(threads);
		this.#pool = new Piscina({
			filename,
			minThreads: threads,
			maxThreads: threads,
			concurrentTasksPerWorker: 1,
			resourceLimits: { maxOldGenerationSizeMb: MEMORY, maxYoungGenerationSizeMb: 64, stackSizeMb: 4 },
			// Serving comes first, whatever the threads have to do.
			niceIncrement: 10,
		});
		// A thread that ends while it starts is not followed by another one until something is asked.
		this.#watch = setInterval(() => {
			if (this.#pool.threads.length < threads)
				void this.#pool.run({ input: null }, { name: 'ready' }).catch(() => undefined);
		}, LOOK);
		this.#watch.unref();
		this.#pool.on('error', (error: Error) => log.warn({ reason: error.message }, 'a thread ended by itself'));
	}

	/** The threads there are just now, for those who watch them or end one to see what happens. */
	get threads() {
		return this.#pool.threads;
	}

	/**
	 * Has something calculated.
	 * @param moved ports within the input
	 * @throws Refusal with what the work refused; 429 where the caller has used too much time; 503 where too much waits already, or a thread ended; 422 where it takes longer
	 * than its caller waits; 409 where a newer question took its place
	 */
	async run<K extends Kind>(
		kind: K,
		input: Input<K>,
		asker: Asker,
		moved: readonly MessagePort[] = [],
	): Promise<Value<K>> {
		if (asker.limited) this.#refuseGreedy(asker.caller);
		this.#refuseCrowd(asker.caller);
		const stop = new AbortController();
		const began = performance.now();
		let patience = setTimeout(() => stop.abort(new Stopped('crowded')), 1000 * this.patience[kind]);
		const gone = () => stop.abort(new Stopped('gone'));
		if (asker.signal?.aborted) gone();
		asker.signal?.addEventListener('abort', gone);
		const name = asker.question === undefined ? null : `${asker.caller}\n${asker.question}`;
		if (name !== null) {
			this.#questions.get(name)?.abort(new Stopped('superseded'));
			this.#questions.set(name, stop);
		}
		try {
			await this.#queue.take(asker.caller, stop.signal);
			// What it waited for others is not what it takes itself.
			clearTimeout(patience);
			patience = setTimeout(() => stop.abort(new Stopped('late')), 1000 * this.patience[kind]);
			const asked: Asked<Input<K>> = { input };
			const turn = performance.now();
			const answered = this.#pool.run(asked, {
				name: kind,
				signal: stop.signal,
				transferList: [...moved],
			}) as Promise<Outcome<Value<K>>>;
			const outcome = await answered.finally(() => {
				this.#queue.give();
				if (asker.limited) this.used.count(asker.caller, (performance.now() - turn) / 1000);
			});
			if ('value' in outcome) return outcome.value;
			const { status, message, issues } = outcome.refused;
			throw new Refusal(status, message, issues);
		} catch (error) {
			throw error instanceof Refusal ? error : this.#refusalOf(error, stop.signal.reason, kind, began);
		} finally {
			clearTimeout(patience);
			asker.signal?.removeEventListener('abort', gone);
			if (name !== null && this.#questions.get(name) === stop) this.#questions.delete(name);
		}
	}

	/** Ends all threads, whatever they do. */
	async close(): Promise<void> {
		this.#closed = true;
		clearInterval(this.#watch);
		await this.#pool.destroy();
	}

	#refuseGreedy(caller: string): void {
		const wait = Math.ceil(this.used.of(caller) - this.mostSeconds);
		if (wait > 0)
			throw new Refusal(
				429,
				`You have had ${this.mostSeconds} seconds of calculation in a short time. Wait ${wait} ${wait === 1 ? 'second' : 'seconds'}; nothing was stored.`,
				[],
				wait,
			);
	}

	#refuseCrowd(caller: string): void {
		const own = this.#queue.of(caller);
		if (own < MOST_OF_ONE && this.#queue.size < MOST_WAITING) return;
		const message =
			own >= MOST_OF_ONE
				? `${own} of your requests are waiting already. Wait for some of them, or stop them.`
				: `The machine is busy: ${this.#queue.size} requests are waiting. Try again in a moment; nothing was stored.`;
		throw new Refusal(503, message, [], TRY_AGAIN);
	}

	#refusalOf(error: unknown, reason: unknown, kind: Kind, began: number): unknown {
		const why = reason instanceof Stopped ? reason.why : null;
		if (why === 'late')
			return new Refusal(
				422,
				`This was stopped after ${this.patience[kind]} seconds; nothing was stored. Ask for less at once: fewer candidates, fewer periods, constants that are given, or part of the table.`,
			);
		if (why === 'crowded')
			return new Refusal(
				503,
				`The machine is busy: this waited ${this.patience[kind]} seconds for its turn and was not begun. Nothing was stored; try again in a moment.`,
				[],
				TRY_AGAIN,
			);
		if (why === 'superseded') return new Refusal(409, 'A newer question took the place of this one.');
		if (why === 'gone') return new Refusal(499, 'The caller hung up.');
		if (this.#closed) return new Refusal(503, 'The server is stopping. Nothing was stored.', [], TRY_AGAIN);
		const code = error instanceof Error && 'code' in error ? String(error.code) : '';
		if (code === 'ERR_WORKER_OUT_OF_MEMORY')
			return new Refusal(
				422,
				'This took more memory than one question may take, and was stopped; nothing was stored. Ask for less at once.',
			);
		const text = error instanceof Error ? error.message : String(error);
		if (/terminated|Worker (?:stopped|exited)|exit code/i.test(text)) {
			log.warn({ reason: text, kind, milliseconds: performance.now() - began }, 'a thread ended over a task');
			return new Refusal(
				503,
				'The calculation failed and its process was started again; nothing was stored. Try again; if it happens twice, ask for less at once.',
				[],
				TRY_AGAIN,
			);
		}
		return error;
	}
}

let shared: Threads | null = null;

/** The threads of this process. */
export function threads(): Threads {
	// The built server and the built work lie side by side.
	const file = process.env.VENTREL_WORK ?? join(dirname(process.argv[1]!), 'work.js');
	shared ??= new Threads(file, undefined, undefined, undefined, usage);
	return shared;
}

export async function closeThreads(): Promise<void> {
	await shared?.close();
}
