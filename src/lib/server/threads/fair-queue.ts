/**
 * A number of places, and those who wait for one: each caller's in the order in which they came; callers take turns, so that one who
 * asks for a hundred things does not keep another waiting who asks for one.
 */
export class FairQueue {
	#free: number;
	/** By caller; the one whose turn is next comes first. */
	readonly #waiting = new Map<string, (() => void)[]>();
	size = 0;

	constructor(places: number) {
		this.#free = places;
	}

	/** How many of a caller's wait. */
	of(caller: string): number {
		return this.#waiting.get(caller)?.length ?? 0;
	}

	/**
	 * Waits for a place, which has to be given back.
	 * @throws the signal's reason where it is aborted before
	 */
	async take(caller: string, signal: AbortSignal): Promise<void> {
		signal.throwIfAborted();
		if (this.#free > 0) {
			this.#free--;
			return;
		}
		await new Promise<void>((resolve, reject) => {
			const enter = () => {
				signal.removeEventListener('abort', leave);
				resolve();
			};
			const leave = () => {
				this.#remove(caller, enter);
				reject(signal.reason as Error);
			};
			signal.addEventListener('abort', leave, { once: true });
			const own = this.#waiting.get(caller);
			if (own) own.push(enter);
			else this.#waiting.set(caller, [enter]);
			this.size++;
		});
	}

	/** Gives a place back: whose turn it is has it then. */
	give(): void {
		const [next] = this.#waiting;
		if (!next) {
			this.#free++;
			return;
		}
		const [caller, own] = next;
		const enter = own.shift()!;
		// To the end of the turn, or out of it.
		this.#waiting.delete(caller);
		if (own.length > 0) this.#waiting.set(caller, own);
		this.size--;
		enter();
	}

	#remove(caller: string, enter: () => void): void {
		const own = this.#waiting.get(caller);
		const at = own?.indexOf(enter) ?? -1;
		if (at < 0) return;
		own!.splice(at, 1);
		if (own!.length === 0) this.#waiting.delete(caller);
		this.size--;
	}
}
