import { MessageChannel } from 'node:worker_threads';
import type pg from 'pg';
import type { Decision } from '../../reading/decision';
import type { StreamProgress, StreamRequest } from '../../wire/bring-in';
import type { Spooled } from './spool';
import { copyIn, labelStaged, STAGED_ACTUAL, STAGED_ITEM, takeCreated } from './staging';
import type { StreamAnswer, StreamedFile, StreamPart } from '../threads/tasks';
import { type Asker, threads } from '../threads/threads';
import type { Actor } from '../database/workspaces';

const TELL_EVERY = 200;

export type OnProgress = (progress: StreamProgress) => void;

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

/** Thrown when periods of an item do not come in order, so that one may stand twice. */
export class Unsorted extends Error {}

/** Brings what a thread reads of a file into the database. */
export class Loader {
	created = 0;
	added = 0;
	#next = 0;
	#told = 0;

	constructor(
		readonly client: pg.ClientBase,
		readonly job: Job,
		readonly stageAll: boolean,
		/** Puts the change that rows are of on record; 0 where everything is staged. */
		readonly begin: (decision: Decision) => Promise<number>,
	) {}

	/** All of the file, in the order of its rows. @throws Unsorted where everything has to be staged first */
	async load(): Promise<Exclude<StreamedFile, { unsorted: true }>> {
		const { actor, file, request, asker, signal } = this.job;
		const { port1, port2 } = new MessageChannel();
		const stop = new AbortController();
		const task = {
			path: file.path,
			choices: request.choices,
			anyOrder: this.stageAll,
			port: port2,
			workspaceId: actor.workspaceId,
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
		if (part.kind === 'begin') return { ids: Float64Array.of(await this.begin(part.decision)) };
		if (part.kind === 'items') return { ids: await this.#meet(part.items) };
		if (part.kind === 'labels') {
			await labelStaged(this.client, this.job.actor, part.labels);
			return { ids: new Float64Array(0) };
		}
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
		const made = await takeCreated(this.client, this.job.actor, from);
		this.created += made.length;
		return Float64Array.from(made.flatMap(({ number, id }) => [number, id]));
	}
}
