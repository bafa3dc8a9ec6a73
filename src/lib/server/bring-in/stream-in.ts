import { createReadStream } from 'node:fs';
import type { Decision } from '../../reading/decision';
import type { StreamProgress } from '../../wire/bring-in';
import { insertDataChange } from '../items/actuals';
import { changing } from '../database/workspaces';
import { LOCKS } from '../database/locks';
import { insertRawText } from '../items/raw-texts';
import { combineStaged, countBrought, fillStaged, makeStaging, takeStaged } from './staging';
import { type Job, Loader, Unsorted } from './stream-load';
import { Turnstile } from './turnstile';

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

/** Thrown to take back what was only tried. */
class TriedOnly extends Error {
	constructor(readonly done: Done) {
		super();
	}
}

async function takeIn(job: Job, stageAll: boolean): Promise<Done> {
	const { actor, file, request } = job;
	const { workspaceId } = actor;
	try {
		return await changing(actor, async (client) => {
			// A file takes as long as it takes.
			await client.query('SET LOCAL statement_timeout = 0; SET LOCAL lock_timeout = 0');
			await client.query('SET LOCAL idle_in_transaction_session_timeout = 0');
			// Items are met and locked in the order of the file: one file at a time, so that no two wait for each other. Within this
			// process they took turns; another one may be at it too.
			await client.query('SELECT pg_advisory_xact_lock($1, $2)', [LOCKS.oneFileAtATime, workspaceId]);
			const content = createReadStream(file.path, { highWaterMark: 1_048_576 });
			const rawTextId = await insertRawText(client, {
				workspaceId,
				fileName: request.fileName ?? null,
				content,
			});
			let reading: Decision | null = null;
			const change = () => insertDataChange(client, { workspaceId, rawTextId, reading: reading! });
			await makeStaging(client);
			// Items that are new are seen by nobody yet; those that were there have a change of their own, made under their locks.
			const loader = new Loader(client, job, stageAll, async (decision) => {
				reading = decision;
				return stageAll ? 0 : change();
			});
			const { rows, items, filled } = await loader.load();
			job.onProgress({ stage: 'storing', share: 1, rows, items });
			if (stageAll) await combineStaged(client, request.choices.duplicates ?? 'sum');
			if (filled) await fillStaged(client, filled);
			await takeStaged(client, actor, change);
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
