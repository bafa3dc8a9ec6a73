import { Piscina } from 'piscina';

type Task = Parameters<Piscina['options']['taskQueue']['push']>[0];

const callerOf = (task: Task): string =>
	(task as unknown as Record<symbol, { caller: string } | null>)[Piscina.queueOptionsSymbol]?.caller ?? '';

/**
 * Tasks that wait for a thread, each caller's in the order in which they came; callers take turns, so that one who asks for a
 * hundred things does not keep another waiting who asks for one.
 */
export class FairQueue {
	/** By caller; the one whose turn is next comes first. */
	readonly #waiting = new Map<string, Task[]>();
	size = 0;

	/** How many of a caller's tasks wait. */
	of(caller: string): number {
		return this.#waiting.get(caller)?.length ?? 0;
	}

	push(task: Task): void {
		const caller = callerOf(task);
		const own = this.#waiting.get(caller);
		if (own) own.push(task);
		else this.#waiting.set(caller, [task]);
		this.size++;
	}

	shift(): Task | null {
		for (const [caller, own] of this.#waiting) {
			const task = own.shift()!;
			// To the end of the turn, or out of it.
			this.#waiting.delete(caller);
			if (own.length > 0) this.#waiting.set(caller, own);
			this.size--;
			return task;
		}
		return null;
	}

	remove(task: Task): void {
		const caller = callerOf(task);
		const own = this.#waiting.get(caller);
		const at = own?.indexOf(task) ?? -1;
		if (at < 0) return;
		own!.splice(at, 1);
		if (own!.length === 0) this.#waiting.delete(caller);
		this.size--;
	}
}
