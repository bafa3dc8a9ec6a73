import { listen } from '../database/listening';
import { pool } from '../database/database';
import { log } from '../log';
import { signInIsOn } from './caller';
import { digestOf } from './keys';

/** Answers that go on for long end with the session or the token that asked for them. */

interface Stream {
	digest: Buffer;
	end: () => void;
}

const streams = new Set<Stream>();
let stop: (() => Promise<void>) | null = null;
let looking: ReturnType<typeof setInterval> | null = null;

/** How often it is looked for sessions that were idle for too long, in milliseconds; what is ended is heard of at once. */
const LOOK = 30_000;

async function endThoseGone(): Promise<void> {
	if (streams.size === 0) return;
	try {
		const { rows } = await pool().query<{ sha256: Buffer }>(
			'SELECT sha256 FROM live_key WHERE sha256 = ANY ($1)',
			[[...streams].map(({ digest }) => digest)],
		);
		const live = new Set(rows.map(({ sha256 }) => sha256.toString('hex')));
		for (const stream of streams) if (!live.has(stream.digest.toString('hex'))) stream.end();
	} catch (error) {
		log.warn({ reason: String(error) }, 'it could not be looked whose sessions have ended');
	}
}

/** Ends a stream when the key that it was asked with is no longer good. @returns takes it off again */
export function endWithKey(key: string, end: () => void): () => void {
	if (!signInIsOn()) return () => undefined;
	const stream = { digest: digestOf(key), end };
	streams.add(stream);
	stop ??= listen({ ventrel_access: () => void endThoseGone() }, endThoseGone);
	looking ??= setInterval(() => void endThoseGone(), LOOK);
	looking.unref();
	return () => streams.delete(stream);
}

export async function closeStreams(): Promise<void> {
	if (looking) clearInterval(looking);
	await stop?.();
}
