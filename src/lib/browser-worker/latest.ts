/**
 * Asks for answers one at a time and keeps only the newest question while one is being answered, so that a
 * dial that moves faster than the arithmetic never queues up, and a late answer never lands on a newer one.
 */
export class Latest<Question, Answer> {
	#asked = 0;
	#shown = 0;
	#running = false;
	#waiters: (() => void)[] = [];
	#waiting: { serial: number; question: Question } | null = null;

	constructor(
		private readonly ask: (question: Question) => Promise<Answer>,
		private readonly show: (answer: Answer, question: Question) => void,
		private readonly fail: (error: unknown, question: Question) => void,
	) {}

	/** Whether a question is on its way. */
	get busy(): boolean {
		return this.#running;
	}

	/** Once nothing is on its way any more. */
	settled(): Promise<void> {
		return this.#running ? new Promise((resolve) => this.#waiters.push(resolve)) : Promise.resolve();
	}

	put(question: Question): void {
		this.#waiting = { serial: ++this.#asked, question };
		if (!this.#running) void this.#run();
	}

	async #run(): Promise<void> {
		this.#running = true;
		while (this.#waiting) {
			const { serial, question } = this.#waiting;
			this.#waiting = null;
			try {
				const answer = await this.ask(question);
				if (serial > this.#shown) {
					this.#shown = serial;
					this.show(answer, question);
				}
			} catch (error) {
				// A newer question is on its way: what went wrong with this one no longer matters.
				if (!this.#waiting) this.fail(error, question);
			}
		}
		this.#running = false;
		for (const resolve of this.#waiters.splice(0)) resolve();
	}
}
