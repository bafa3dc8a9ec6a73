import { randomUUID } from 'node:crypto';
import { pool } from '../database/database';
import { listen } from '../database/listening';
import { log } from '../log';

/** Callers that are kept in mind before those who have nothing left are forgotten. */
const MANY = 1_000;
const CHANNEL = 'ventrel_usage';
/** Seconds of one caller that are told to other servers in one go. */
const TOLD = 1;

/** Seconds of calculation that callers have used and that are not forgiven yet; each second forgives one. */
export class Usage {
	readonly #used = new Map<string, { seconds: number; at: number }>();
	/** What was used here and is not told to others yet. */
	readonly #untold = new Map<string, number>();
	/** Tells other servers. */
	tell: ((caller: string, seconds: number) => void) | null = null;

	of(caller: string): number {
		const used = this.#used.get(caller);
		return used ? Math.max(0, used.seconds - (performance.now() - used.at) / 1000) : 0;
	}

	/** What was used here. */
	count(caller: string, seconds: number): void {
		this.add(caller, seconds);
		if (!this.tell) return;
		const untold = (this.#untold.get(caller) ?? 0) + seconds;
		if (untold < TOLD) {
			this.#untold.set(caller, untold);
			return;
		}
		this.#untold.delete(caller);
		this.tell(caller, untold);
	}

	/** What was used here or elsewhere. */
	add(caller: string, seconds: number): void {
		if (this.#used.size > MANY)
			for (const each of [...this.#used.keys()])
				if (this.of(each) === 0) {
					this.#used.delete(each);
					this.#untold.delete(each);
				}
		this.#used.set(caller, { seconds: this.of(caller) + seconds, at: performance.now() });
	}
}

/** That of this process. */
export const usage = new Usage();

/** Counts together with all servers at one database, so that the bound of a caller holds across them. @returns ends it */
export function shareUsage(): () => Promise<void> {
	const self = randomUUID();
	usage.tell = (caller, seconds) =>
		void pool()
			.query('SELECT pg_notify($1, $2)', [CHANNEL, JSON.stringify({ self, caller, seconds })])
			.catch((error: unknown) => log.warn({ reason: String(error) }, 'what is used could not be told'));
	return listen(
		{
			[CHANNEL]: (payload) => {
				const told = JSON.parse(payload) as { self: string; caller: string; seconds: number };
				if (told.self !== self) usage.add(told.caller, told.seconds);
			},
		},
		() => Promise.resolve(),
	);
}
