import { SvelteMap, SvelteSet } from 'svelte/reactivity';
import type { Places } from '../../wire/list';
import type { Place } from '../../wire/parts';

/** Windows that are asked for side by side, and kept at the most. */
const AT_ONCE = 2;
const KEPT = 60;
/** Rows that are asked for at once where all of them are wanted. */
const MANY = 1000;

/** A window of rows, and where the next one begins. */
export interface RowWindow<Row> {
	items: Row[];
	next: Place | null;
}

/** How rows are asked for: a window from a place on, and how many there are. */
export interface Source<Row> {
	window(from: Place | null, most: number): Promise<RowWindow<Row>>;
	places(): Promise<Places>;
}

/** Rows of a long list as far as they were asked for: those in sight, and a bit around. */
export class PagedRows<Row extends { code: string }> {
	/** How many rows there are; those of the first window until it is known. */
	count = $state(0);
	/** Whether it is known how many there are. */
	counted = $state(false);
	failure = $state<unknown>(null);
	readonly #windows = new SvelteMap<number, Row[]>();
	readonly #running = new SvelteSet<number>();
	/** Windows that were asked for before something changed. */
	readonly #stale = new SvelteSet<number>();
	#places: Places | null = null;
	#wanted: readonly [from: number, to: number] = [0, 0];
	#size: number;

	/** @param first the window that came with the page */
	constructor(
		private readonly source: Source<Row>,
		first: RowWindow<Row>,
	) {
		this.#size = Math.max(1, first.items.length);
		this.#windows.set(0, first.items);
		this.count = first.items.length;
		this.counted = first.next === null;
	}

	/** The row at a place of the list; undefined while it is on its way. */
	row(index: number): Row | undefined {
		return this.#windows.get(Math.floor(index / this.#size))?.[index % this.#size];
	}

	/** Says how many there are, and where each window begins. */
	async locate(): Promise<void> {
		try {
			this.#take(await this.source.places());
		} catch (error) {
			this.failure = error;
		}
	}

	/** Asks for everything in sight anew, after something was changed; what is there stays until then. */
	async renew(): Promise<void> {
		for (const window of this.#windows.keys()) this.#stale.add(window);
		await this.locate();
	}

	#take(places: Places): void {
		if (places.window !== this.#size && places.count > this.#size) {
			// The first window was cut otherwise: it is asked for again.
			this.#size = places.window;
			this.#stale.add(0);
		}
		this.#places = places;
		this.count = places.count;
		this.counted = true;
		const last = Math.ceil(places.count / this.#size);
		for (const window of this.#windows.keys()) if (window > 0 && window >= last) this.#windows.delete(window);
		if (places.count === 0) this.#windows.set(0, []);
		this.#go();
	}

	/** Tells which rows are in sight. */
	show(from: number, to: number): void {
		this.#wanted = [Math.floor(Math.max(0, from) / this.#size), Math.floor(Math.max(0, to) / this.#size)];
		this.#go();
	}

	/** Asks for what is in sight and not there; what was passed by meanwhile is not asked for any more. */
	#go(): void {
		const begins = this.#places?.begins;
		if (!begins) return;
		const [from, to] = this.#wanted;
		for (let window = from; window <= to && this.#running.size < AT_ONCE; window++) {
			const place = begins[window];
			const there = this.#windows.has(window) && !this.#stale.has(window);
			if (place === undefined || there || this.#running.has(window)) continue;
			void this.#load(window, place);
		}
	}

	async #load(window: number, place: Place): Promise<void> {
		this.#running.add(window);
		try {
			const { items } = await this.source.window(place, this.#size);
			this.#windows.delete(window);
			this.#windows.set(window, items);
			this.#stale.delete(window);
			this.failure = null;
			this.#drop();
		} catch (error) {
			this.failure = error;
		} finally {
			this.#running.delete(window);
		}
		if (this.failure === null) this.#go();
	}

	/** The windows that came first go first, but those in sight. */
	#drop(): void {
		const [from, to] = this.#wanted;
		for (const window of this.#windows.keys()) {
			if (this.#windows.size <= KEPT) return;
			if (window < from || window > to) this.#windows.delete(window);
		}
	}

	/** The rows that are there around one, without a gap, and where those after them begin. */
	around(index: number): { codes: string[]; offset: number; next: Place | null } {
		const own = Math.floor(index / this.#size);
		let [from, to] = [own, own];
		while (this.#windows.has(from - 1)) from--;
		while (this.#windows.has(to + 1)) to++;
		const codes: string[] = [];
		for (let window = from; window <= to; window++)
			codes.push(...this.#windows.get(window)!.map(({ code }) => code));
		return { codes, offset: from * this.#size, next: this.#places?.begins[to + 1] ?? null };
	}

	/** Rows between two places of the list, both of them in, asked for where they are not there. */
	async between(from: number, to: number): Promise<Row[]> {
		const rows: Row[] = [];
		for (let index = from; index <= to;) {
			const there = this.row(index);
			if (there) {
				rows.push(there);
				index++;
				continue;
			}
			const window = Math.floor(index / this.#size);
			const place = this.#places?.begins[window];
			if (place === undefined) break;
			const { items } = await this.source.window(place, Math.min(MANY, to + 1 - window * this.#size));
			const found = items.slice(index - window * this.#size);
			if (found.length === 0) break;
			rows.push(...found);
			index += found.length;
		}
		return rows;
	}

	/** All rows that fit, as they are now. */
	async all(): Promise<Row[]> {
		const rows: Row[] = [];
		let place: Place | null = null;
		do {
			const window: RowWindow<Row> = await this.source.window(place, MANY);
			rows.push(...window.items);
			place = window.next;
		} while (place !== null);
		return rows;
	}
}
