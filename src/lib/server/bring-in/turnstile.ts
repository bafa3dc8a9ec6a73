/** One at a time under each key, in the order of arrival. */
export class Turnstile {
	readonly #last = new Map<number, Promise<unknown>>();

	/**
	 * Does work when its turn has come.
	 * @throws the signal's reason where it is aborted before
	 */
	async take<T>(key: number, signal: AbortSignal, work: () => Promise<T>): Promise<T> {
		const before = this.#last.get(key) ?? Promise.resolve();
		const mine = before.then(() => {
			signal.throwIfAborted();
			return work();
		});
		// The next one's turn comes whatever became of this one.
		const done = mine.catch(() => undefined);
		this.#last.set(key, done);
		try {
			return await mine;
		} finally {
			if (this.#last.get(key) === done) this.#last.delete(key);
		}
	}
}
