import pg from 'pg';
import { log } from '../log';

/** Pause in milliseconds before a connection that broke is made again. */
const AGAIN = 500;

/** What is heard of the database, by channel. */
export type Heard = Readonly<Record<string, (payload: string) => void>>;

/**
 * Listens to the database on a connection of its own, and makes that anew where it breaks.
 * @param connected each time that it listens from now on: what was told before was missed
 * @returns ends the listening
 */
export function listen(heard: Heard, connected: (client: pg.Client) => Promise<void>): () => Promise<void> {
	let client: pg.Client | null = null;
	let ended = false;
	let later: ReturnType<typeof setTimeout> | undefined;

	const connect = async () => {
		const own = new pg.Client({ connectionString: process.env.DATABASE_URL, keepAlive: true });
		client = own;
		let broken = false;
		const again = (reason: unknown) => {
			if (broken || ended) return;
			broken = true;
			log.warn({ reason: String(reason) }, 'the listening connection broke');
			void own.end().catch(() => undefined);
			later = setTimeout(() => void connect(), AGAIN);
		};
		own.on('error', again);
		own.on('end', () => again('it was ended'));
		own.on('notification', ({ channel, payload }) => heard[channel]?.(payload ?? ''));
		try {
			await own.connect();
			for (const channel of Object.keys(heard)) await own.query(`LISTEN ${pg.escapeIdentifier(channel)}`);
			await connected(own);
		} catch (error) {
			again(error);
		}
	};
	void connect();
	return async () => {
		ended = true;
		clearTimeout(later);
		await client?.end().catch(() => undefined);
	};
}
