import { once } from 'node:events';
import { addAbortSignal, PassThrough, type Readable } from 'node:stream';
import { writeEverythingTo } from '../../../../db/everything.mjs';
import { version } from '../../../../package.json';
import { Turnstile } from '../bring-in/turnstile';
import { onConnection } from '../database/database';
import { type Actor, changing } from '../database/workspaces';
import { log } from '../log';

/** One at a time: each holds a connection for as long as its reader takes. */
const turns = new Turnstile();

/**
 * Everything as one archive, written as it is read. Whoever stops reading stops it.
 * @param signal of who asks: another one may have to be waited for
 */
export async function takeEverything(actor: Actor, signal: AbortSignal): Promise<Readable> {
	const out = addAbortSignal(signal, new PassThrough());
	let begun = false;
	const first = once(out, 'readable').then(() => (begun = true));
	const written = turns.take(actor.workspaceId, signal, () => write(actor, out));
	written.catch((error: Error) => {
		if (begun && !signal.aborted) log.error({ error: error.stack }, 'everything could not be written');
		out.destroy(error);
	});
	// Until something is there it can still be answered that it cannot be.
	await Promise.race([first, written.then(() => first)]);
	return out;
}

async function write(actor: Actor, out: PassThrough): Promise<void> {
	await changing(actor, (client) =>
		client.query(
			`INSERT INTO access_event (workspace_id, kind, done_by) VALUES ($1, 'everything taken', (SELECT actor FROM acting()))`,
			[actor.workspaceId],
		),
	);
	await onConnection(async (client) => {
		await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
		// It takes as long as its reader does.
		await client.query('SET LOCAL statement_timeout = 0');
		await writeEverythingTo(client, version, out);
		await client.query('COMMIT');
	});
}
