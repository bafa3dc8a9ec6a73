/**
 * Gives entries of the last list again where the next one has their like at the same place, and the list itself where
 * it has nothing else, so that nothing that rests on them is drawn anew.
 */
export function steady<Entry extends object>(): (next: readonly Entry[]) => readonly Entry[] {
	let last: readonly Entry[] = [];
	return (next) => {
		const held = last;
		last = next.map((entry, i) => (held[i] && isAlike(entry, held[i]) ? held[i] : entry));
		if (last.length === held.length && last.every((entry, i) => entry === held[i])) last = held;
		return last;
	};
}

const isAlike = <Entry extends object>(a: Entry, b: Entry): boolean =>
	Object.keys(a).every((key) => a[key as keyof Entry] === b[key as keyof Entry]);
