import type { Entry } from './gather';

/** Items in order of appearance, and each entry's item by number. */
export function numberItems(entries: readonly Entry[]): { names: Entry[]; items: Int32Array } {
	const known = new Map<string, number>();
	const names: Entry[] = [];
	const items = new Int32Array(entries.length);
	for (const [i, entry] of entries.entries()) {
		let number = known.get(entry.item);
		if (number === undefined) {
			number = names.push(entry) - 1;
			known.set(entry.item, number);
		}
		items[i] = number;
	}
	return { names, items };
}
