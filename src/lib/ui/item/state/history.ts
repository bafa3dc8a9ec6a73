/** States that can be gone back to and forth between. Immutable snapshots; equal steps are one. */
export class History<State> {
	#past: State[] = [];
	#future: State[] = [];
	#lastStroke: string | null = null;

	constructor(
		private present: State,
		private readonly most = 200,
	) {}

	get now(): State {
		return this.present;
	}

	get canUndo(): boolean {
		return this.#past.length > 0;
	}

	get canRedo(): boolean {
		return this.#future.length > 0;
	}

	/**
	 * Goes on to a new state.
	 * @param stroke changes with the same name, one after the other, are one step: a dial being turned
	 */
	push(state: State, stroke: string | null = null): void {
		if (stroke === null || stroke !== this.#lastStroke) {
			this.#past.push(this.present);
			if (this.#past.length > this.most) this.#past.shift();
		}
		this.#lastStroke = stroke;
		this.#future = [];
		this.present = state;
	}

	/** Ends a stroke: the next change is a step of its own. */
	lift(): void {
		this.#lastStroke = null;
	}

	undo(): boolean {
		const before = this.#past.pop();
		if (before === undefined) return false;
		this.#future.push(this.present);
		this.present = before;
		this.#lastStroke = null;
		return true;
	}

	redo(): boolean {
		const after = this.#future.pop();
		if (after === undefined) return false;
		this.#past.push(this.present);
		this.present = after;
		this.#lastStroke = null;
		return true;
	}
}
