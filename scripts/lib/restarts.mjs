/** What ends by itself is started again, but not for ever: a fault that comes back at once is not adjusted by trying. */
export class Restarts {
	/** @type {number[]} */
	#times = [];

	constructor(most = 5, minutes = 10) {
		this.most = most;
		this.minutes = minutes;
	}

	/** Counts an end. @returns {boolean} whether it may be started again */
	mayAgain(now = Date.now()) {
		this.#times = [...this.#times.filter((at) => now - at < this.minutes * 60_000), now];
		return this.#times.length < this.most;
	}
}
