import { CallError, messageOf } from '../../base/call';

/** Where something stands with the server. */
export type Saving =
	| { state: 'saved' }
	| { state: 'saving' }
	/** The server could not take it just now; it is tried again. */
	| { state: 'waiting'; message: string }
	/** Somebody else saved something in between. */
	| { state: 'conflict'; message: string }
	/** The server does not take it as it is; the next change is tried. */
	| { state: 'refused'; message: string };

export interface SaveOptions<Work> {
	/** Sends work; one at a time. @throws CallError where the server does not take it */
	send(work: Work, leaving: boolean): Promise<void>;
	show(saving: Saving): void;
	/** Milliseconds from a change to its save, and from a failed try to the next. */
	after?: number;
	again?: number;
}

/**
 * Saves, one after the other, and of several changes only the newest. What the server could not take because it was not there is
 * kept and tried again; what it refused, or what somebody else's save stands against, waits for a decision.
 */
export class SaveQueue<Work> {
	readonly #options: Required<SaveOptions<Work>>;
	#wanted: { work: Work } | null = null;
	#running: Promise<void> | null = null;
	#leaving = false;
	#timer: ReturnType<typeof setTimeout> | undefined;
	#saving: Saving = { state: 'saved' };

	constructor(options: SaveOptions<Work>) {
		this.#options = { after: 400, again: 3000, ...options };
	}

	get saving(): Saving {
		return this.#saving;
	}

	/** Whether everything is with the server. */
	get isSaved(): boolean {
		return this.#wanted === null && this.#running === null;
	}

	/** Has work saved soon; it takes the place of what was to be saved and is not on its way yet. */
	put(work: Work): void {
		this.#wanted = { work };
		if (this.#saving.state === 'conflict') return;
		this.#show({ state: 'saving' });
		this.#after(this.#options.after);
	}

	/** Puts an end to a conflict: from here on it is saved again. */
	resume(work: Work | null): void {
		this.#wanted = work === null ? null : { work };
		this.#show({ state: work === null ? 'saved' : 'saving' });
		if (work !== null) this.#after(0);
	}

	/**
	 * Saves at once what is to be saved.
	 * @param leaving the page is being left: what is sent may outlive it
	 * @returns once all of it is saved, or it is known why not; `saving` says which
	 */
	flush(leaving = false): Promise<void> {
		clearTimeout(this.#timer);
		this.#leaving ||= leaving;
		this.#running ??= this.#run().finally(() => (this.#running = null));
		return this.#running;
	}

	/** Sends until all is saved or something stands against it. */
	async #run(): Promise<void> {
		while (this.#wanted && this.#saving.state !== 'conflict') {
			const { work } = this.#wanted;
			this.#wanted = null;
			try {
				await this.#options.send(work, this.#leaving);
			} catch (error) {
				// What came meanwhile holds more than what was sent.
				this.#wanted ??= { work };
				this.#failed(error);
				return;
			}
		}
		if (this.#wanted === null) this.#show({ state: 'saved' });
	}

	#after(milliseconds: number): void {
		clearTimeout(this.#timer);
		this.#timer = setTimeout(() => void this.flush(), milliseconds);
	}

	#show(saving: Saving): void {
		this.#saving = saving;
		this.#options.show(saving);
	}

	#failed(error: unknown): void {
		const message = messageOf(error);
		const status = error instanceof CallError ? error.status : 0;
		if (status === 409) this.#show({ state: 'conflict', message });
		else if (status >= 400 && status < 500) this.#show({ state: 'refused', message });
		else {
			this.#show({ state: 'waiting', message });
			this.#after(this.#options.again);
		}
	}
}
