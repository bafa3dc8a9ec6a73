import { createReadStream, createWriteStream, mkdirSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { MessageChannel } from 'node:worker_threads';
import type pg from 'pg';
import { BOUNDS } from '$core/bounds';
import type { StreamProgress, StreamRequest } from '../shapes';
import { insertDataChange } from './actuals';
import { transaction } from './database';
import { insertRawText } from './raw-texts';
import { Refusal } from './refusal';
import {
	combineStaged,
	copyIn,
	countBrought,
	createItems,
	makeStaging,
	STAGED_ACTUAL,
	STAGED_ITEM,
	takeCreated,
	takeStaged,
} from './staging';
import type { StreamAnswer, StreamPart } from './threads/tasks';
import { type Asker, threads } from './threads/threads';
import { Turnstile } from './turnstile';
import type { Actor } from './workspaces';

const LARGEST_FILE = Number(process.env.VENTREL_LARGEST_FILE ?? BOUNDS.streamBytes);
const TELL_EVERY = 200;
const ONE_FILE_AT_A_TIME = 721_406;

export type OnProgress = (progress: StreamProgress) => void;

/** A body on disk. */
export interface Spooled {
	path: string;
	size: number;
	remove(): Promise<void>;
}

/** Where uploads wait: under the data directory, in a folder of this process's own. */
function spoolFolder(): string {
	const folder = join(process.env.VENTREL_SPOOL ?? tmpdir(), `ventrel-${process.pid}`);
	mkdirSync(folder, { recursive: true });
	return folder;
}

/** Keeps a body in a file of its own until it is taken in, whatever its size. */
export async function spool(body: ReadableStream<Uint8Array>): Promise<Spooled> {
	const folder = await mkdtemp(join(spoolFolder(), 'upload-'));
	const path = join(folder, 'file');
	const remove = () => rm(folder, { recursive: true, force: true });
	let size = 0;
	try {
		await pipeline(
			Readable.fromWeb(body as Parameters<typeof Readable.fromWeb>[0]),
			async function* (chunks: AsyncIterable<Buffer>) {
				for await (const chunk of chunks) {
					size += chunk.length;
					if (size > LARGEST_FILE) {
						throw new Refusal(
							413,
							`The file is larger than the ${LARGEST_FILE / 1e9} GB that are taken in at once.`,
						);
					}
					yield chunk;
				}
			},
			createWriteStream(path),
		);
	} catch (error) {
		await remove();
		throw error;
	}
	return { path, size, remove };
}

/**
 * Takes in a delimited file of any size, part by part through COPY, all or nothing. Memory does not grow with the
 * rows, only with the items' codes.
 *
 * Figures of new items go straight to the actuals; those of items that were there before wait in the transaction's
 * staging until they can be compared. Where an item's periods do not come in order, so that some may stand twice,
 * everything is staged first, which takes longer.
 * @throws Refusal naming the line that cannot be read
 */
export async function streamIn(job: Job): Promise<Done> {
	// Who waits holds no connection: there are few of them, and everybody else needs one.
	return turns.take(job.actor.workspaceId, job.signal, async () => {
		try {
			return await takeIn(job, false);
		} catch (error) {
			if (!(error instanceof Unsorted)) throw error;
			return takeIn(job, true);
		}
	});
}

const turns = new Turnstile();

type Done = Extract<StreamProgress, { done: unknown }>;

/** A file that is to come in: whose, how it is read, and who hears of it. */
export interface Job {
	actor: Actor;
	file: Spooled;
	request: StreamRequest;
	onProgress: OnProgress;
	/** Stops it, and nothing is stored. */
	signal: AbortSignal;
	asker: Asker;
}

/** Thrown to take back what was only tried. */
class TriedOnly extends Error {
	constructor(readonly done: Done) {
		super();
	}
}

/** Thrown when periods of an item do not come in order, so that one may stand twice. */
class Unsorted extends Error {}

async function takeIn(job: Job, stageAll: boolean): Promise<Done> {
	const { actor, file, request } = job;
	const { workspaceId, name: by } = actor;
	try {
		return await transaction(async (client) => {
			// A file takes as long as it takes.
			await client.query('SET LOCAL statement_timeout = 0; SET LOCAL lock_timeout = 0');
			await client.query('SET LOCAL idle_in_transaction_session_timeout = 0');
			// Items are met and locked in the order of the file: one file at a time, so that no two wait for each other. Within this
			// process they took turns; another one may be at it too.
			await client.query('SELECT pg_advisory_xact_lock($1, $2)', [ONE_FILE_AT_A_TIME, workspaceId]);
			const content = createReadStream(file.path, { highWaterMark: 1_048_576 });
			const rawTextId = await insertRawText(client, {
				workspaceId,
				fileName: request.fileName ?? null,
				content,
				by,
			});
			const dataChangeId = await insertDataChange(client, {
				workspaceId,
				rawTextId,
				reading: request.choices,
				by,
			});
			await makeStaging(client);
			const loader = new Loader(client, job, stageAll);
			const { rows, items } = await loader.load(dataChangeId);
			job.onProgress({ stage: 'storing', share: 1, rows, items });
			if (stageAll) await combineStaged(client, request.choices.duplicates ?? 'sum');
			await takeStaged(client, actor, dataChangeId);
			const brought = await countBrought(client);
			job.signal.throwIfAborted();
			const done: Done = {
				done: {
					items,
					created: loader.created + brought.created,
					added: loader.added + brought.added,
					corrected: brought.corrected,
					same: brought.same,
					rows,
					stored: !request.tryOnly,
				},
			};
			if (request.tryOnly) throw new TriedOnly(done);
			return done;
		});
	} catch (error) {
		if (error instanceof TriedOnly) return error.done;
		throw error;
	}
}

/** Brings what a thread reads of a file into the database. */
class Loader {
	created = 0;
	added = 0;
	#next = 0;
	#told = 0;

	constructor(
		readonly client: pg.ClientBase,
		readonly job: Job,
		readonly stageAll: boolean,
	) {}

	/** All of the file, in the order of its rows. @throws Unsorted where everything has to be staged first */
	async load(dataChangeId: number): Promise<{ rows: number; items: number }> {
		const { actor, file, request, asker, signal } = this.job;
		const { port1, port2 } = new MessageChannel();
		const stop = new AbortController();
		const task = {
			path: file.path,
			choices: request.choices,
			anyOrder: this.stageAll,
			port: port2,
			row: { workspaceId: actor.workspaceId, dataChangeId },
		};
		/** Part after part, each taken before the next; fails with what the database refused. */
		let taking: Promise<void> = Promise.resolve();
		port1.on('message', (part: StreamPart) => {
			taking = taking.then(async () => port1.postMessage(await this.#take(part)));
			taking.catch(() => stop.abort());
		});
		const stopped = AbortSignal.any([signal, stop.signal]);
		try {
			const streamed = await threads().run('readStream', task, { ...asker, signal: stopped }, [port2]);
			if (streamed.unsorted) throw new Unsorted();
			return streamed;
		} finally {
			port1.close();
			// What the database refused comes before the thread that was stopped over it.
			await taking;
			signal.throwIfAborted();
		}
	}

	async #take(part: StreamPart): Promise<StreamAnswer> {
		if (part.kind === 'items') return { ids: await this.#meet(part.items) };
		const { direct, staged, added, bytes, rows, items } = part;
		await copyIn(this.client, STAGED_ACTUAL, staged);
		await copyIn(
			this.client,
			'actual (workspace_id, item_id, period, revision, value, data_change_id)',
			direct,
		);
		this.added += added;
		if (Date.now() - this.#told >= TELL_EVERY) {
			this.#told = Date.now();
			this.job.onProgress({ stage: 'reading', share: bytes / Math.max(1, this.job.file.size), rows, items });
		}
		return { ids: new Float64Array(0) };
	}

	/** Makes the items that are new; the others wait in the staging, and so do all where everything does. */
	async #meet(items: Uint8Array): Promise<Float64Array> {
		await copyIn(this.client, STAGED_ITEM, items);
		const from = this.#next;
		this.#next += Buffer.from(items).filter((byte) => byte === 10).length;
		if (this.stageAll) return new Float64Array(0);
		await createItems(this.client, this.job.actor, from);
		const made = await takeCreated(this.client, from);
		this.created += made.length;
		return Float64Array.from(made.flatMap(({ number, id }) => [number, id]));
	}
}
