/** How much is kept in mind at the most. */
const KEPT = 100;

/** What tells things apart that are made of the same parts, in whatever order these are named. */
export function keyOf(thing: unknown): string {
	if (thing === null || typeof thing !== 'object') return JSON.stringify(thing) ?? 'null';
	if (Array.isArray(thing)) return `[${thing.map(keyOf).join()}]`;
	const parts = Object.entries(thing).filter(([, part]) => part !== undefined);
	return `{${parts
		.map(([key, part]) => `${JSON.stringify(key)}:${keyOf(part)}`)
		.sort()
		.join()}}`;
}

/**
 * What was calculated about one subject, by key, so that asking again costs nothing. Answers are the same with and
 * without it.
 */
export class Memory<Value> {
	#subject = '';
	readonly #known = new Map<string, Value>();

	/** Names what is asked about next; anything else than before, and all is forgotten. */
	about(subject: string): void {
		if (subject === this.#subject) return;
		this.#subject = subject;
		this.#known.clear();
	}

	/** The value under a key, made where it is not known. */
	recall(key: string, make: () => Value): Value {
		const known = this.#known.get(key);
		if (known !== undefined) return known;
		const made = make();
		if (this.#known.size >= KEPT) this.#known.clear();
		this.#known.set(key, made);
		return made;
	}

	/** Forgets what is under other keys. */
	keepOnly(keys: ReadonlySet<string>): void {
		for (const key of this.#known.keys()) if (!keys.has(key)) this.#known.delete(key);
	}
}
