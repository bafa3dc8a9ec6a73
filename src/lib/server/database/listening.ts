import pg from 'pg';
import { log } from '../log';

/** Pause in milliseconds before a connection that broke is made again. */
const AGAIN = 500;

/** What is heard of the database, by channel. */
export type Heard = Readonly<Record<string, (payload: string) => void>>;

interface Listener {
	heard: Heard;
	connected: (client: pg.Client) => Promise<void>;
}

/** Whoever listens in this process: all on one connection of their own. */
const listeners = new Set<Listener>();
let line: Line | null = null;

/**
 * Listens to the database, on a connection that is made anew where it breaks.
 * @param connected each time that it listens from now on: what was told before was missed
 * @returns ends the listening
 */
export function listen(heard: Heard, connected: Listener['connected']): () => Promise<void> {
	const listener = { heard, connected };
	listeners.add(listener);
	if (line) line.join(listener);
	else line = new Line();
	return async () => {
		listeners.delete(listener);
		if (listeners.size > 0) return;
		const last = line;
		line = null;
		await last?.end();
	};
}

class Line {
	#client: pg.Client | null = null;
	/** Whether all that were there when it was made are heard; those who come later join. */
	#open = false;
	#ended = false;
	#later: ReturnType<typeof setTimeout> | undefined;

	constructor() {
		void this.#connect();
	}

	/** For one who comes when others listen already. */
	join(listener: Listener): void {
		const client = this.#client;
		if (this.#open && client) this.#welcome(client, listener).catch((error) => this.#again(client, error));
	}

	async end(): Promise<void> {
		this.#ended = true;
		clearTimeout(this.#later);
		await this.#client?.end().catch(() => undefined);
	}

	async #connect(): Promise<void> {
		const own = new pg.Client({ connectionString: process.env.DATABASE_URL, keepAlive: true });
		this.#client = own;
		own.on('error', (error) => this.#again(own, error));
		own.on('end', () => this.#again(own, 'it was ended'));
		own.on('notification', ({ channel, payload }) => {
			for (const { heard } of listeners) heard[channel]?.(payload ?? '');
		});
		try {
			await own.connect();
			// Whoever comes meanwhile is reached as well.
			for (const listener of listeners) await this.#welcome(own, listener);
			this.#open = this.#client === own;
		} catch (error) {
			this.#again(own, error);
		}
	}

	async #welcome(client: pg.Client, { heard, connected }: Listener): Promise<void> {
		for (const channel of Object.keys(heard)) await client.query(`LISTEN ${pg.escapeIdentifier(channel)}`);
		await connected(client);
	}

	#again(client: pg.Client, reason: unknown): void {
		if (this.#client !== client || this.#ended) return;
		this.#client = null;
		this.#open = false;
		log.warn({ reason: String(reason) }, 'the listening connection broke');
		void client.end().catch(() => undefined);
		this.#later = setTimeout(() => void this.#connect(), AGAIN);
	}
}
