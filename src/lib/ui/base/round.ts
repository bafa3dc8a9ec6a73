import type { Place as PlaceInList } from '../../wire/parts';
import { call } from './call';

/**
 * Items that are worked through one after the other, as the list had them when the first was opened. Kept by the tab, so that it
 * survives a reload.
 */
interface Round {
	/** What the list was filtered by: “to check”. */
	name: string;
	/** Those that were at hand when it began, and that were asked for since. */
	codes: string[];
	/** How many stand before them in the list, and how many there were in all. */
	offset: number;
	of: number;
	/** What the list was asked for, and where those after the codes begin; null where there are none. */
	query: string;
	next: PlaceInList | null;
	/** What was done last, to be said on the next page. */
	done: string;
}

export type BegunRound = Omit<Round, 'done'>;

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
export const beginRound = (round: BegunRound): void => save({ ...round, done: '' });

/** How many are left before those after them are asked for. */
const SOON = 3;

/**
 * Asks for the items after those at hand, where an item is one of the last of these.
 * @returns whether there are more than before
 */
export async function followRound(code: string): Promise<boolean> {
	const round = load();
	const at = round?.codes.indexOf(code) ?? -1;
	if (!round || at < 0 || round.next === null || at < round.codes.length - SOON) return false;
	const query = new URLSearchParams(round.query);
	query.set('from', JSON.stringify(round.next));
	const { items, next } = await call('GET /items', {}, undefined, { query });
	const there = new Set(round.codes);
	const more = items.map((item) => item.code).filter((each) => !there.has(each));
	save({ ...(load() ?? round), codes: [...round.codes, ...more], next });
	return more.length > 0;
}

/** Where an item stands in the round that is going on; null where it is in none. */
export function placeOf(code: string): Place | null {
	const round = load();
	const at = round?.codes.indexOf(code) ?? -1;
	if (!round || at < 0) return null;
	return {
		name: round.name,
		at: round.offset + at + 1,
		of: round.of,
		before: round.codes[at - 1] ?? null,
		after: round.codes[at + 1] ?? null,
	};
}

/** Notes what was done, for the page that comes next. */
export function noteDone(words: string): void {
	const round = load();
	save({ name: '', codes: [], offset: 0, of: 0, query: '', next: null, ...round, done: words });
}

/** What was done last, once. */
export function takeDone(): string {
	const round = load();
	if (!round || round.done === '') return '';
	save({ ...round, done: '' });
	return round.done;
}
