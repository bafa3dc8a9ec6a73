/**
 * Items that are worked through one after the other, as the list had them when the first was opened. Kept by the tab, so that it
 * survives a reload.
 */
interface Round {
	/** What the list was filtered by: “to look at”. */
	name: string;
	codes: string[];
	/** What was done last, to be said on the next page. */
	done: string;
}

const KEY = 'ventrel-round';

/** Where an item stands in the round. */
export interface Place {
	name: string;
	/** From 1. */
	at: number;
	of: number;
	before: string | null;
	after: string | null;
}

function load(): Round | null {
	try {
		return JSON.parse(sessionStorage.getItem(KEY) ?? 'null') as Round | null;
	} catch {
		return null;
	}
}

function save(round: Round): void {
	try {
		sessionStorage.setItem(KEY, JSON.stringify(round));
	} catch {
		// A browser that keeps nothing lets items be opened one by one.
	}
}

/** Begins a round through items of a list. */
export const beginRound = (name: string, codes: string[]): void => save({ name, codes, done: '' });

/** Where an item stands in the round that is going on; null where it is in none. */
export function placeOf(code: string): Place | null {
	const round = load();
	const at = round?.codes.indexOf(code) ?? -1;
	if (!round || at < 0) return null;
	return {
		name: round.name,
		at: at + 1,
		of: round.codes.length,
		before: round.codes[at - 1] ?? null,
		after: round.codes[at + 1] ?? null,
	};
}

/** Notes what was done, for the page that comes next. */
export function noteDone(words: string): void {
	const round = load();
	save({ name: round?.name ?? '', codes: round?.codes ?? [], done: words });
}

/** What was done last, once. */
export function takeDone(): string {
	const round = load();
	if (!round || round.done === '') return '';
	save({ ...round, done: '' });
	return round.done;
}
