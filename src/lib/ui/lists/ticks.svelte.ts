import { SvelteSet } from 'svelte/reactivity';
import type { Asked } from '../../wire/asked';
import type { NamedItems } from '../../wire/list';
import type { PagedRows } from '../base/paged-rows.svelte';

/** Which rows of a long list are ticked: some, or all but some. */
export class Ticks {
	#all = $state(false);
	readonly #codes = new SvelteSet<string>();
	#anchor = 0;

	has(code: string): boolean {
		return this.#all !== this.#codes.has(code);
	}

	/** @param all how many rows there are */
	count(all: number): number {
		return this.#all ? Math.max(0, all - this.#codes.size) : this.#codes.size;
	}

	set(codes: Iterable<string>, ticked: boolean): void {
		for (const code of codes) {
			if (ticked === this.#all) this.#codes.delete(code);
			else this.#codes.add(code);
		}
	}

	toggle(code: string): void {
		this.set([code], !this.has(code));
	}

	/**
	 * Ticks the row at a place, or all between it and the one that was ticked before, as that one is.
	 * @param rows brings those between, whether they are there or not
	 */
	async take(
		rows: Pick<PagedRows<{ code: string }>, 'row' | 'between'>,
		index: number,
		range: boolean,
	): Promise<void> {
		const row = rows.row(index);
		if (!row) return;
		const from = this.#anchor;
		this.#anchor = index;
		if (!range || from === index) return this.toggle(row.code);
		const begin = rows.row(from);
		const ticked = begin ? this.has(begin.code) : true;
		const between = await rows.between(Math.min(from, index), Math.max(from, index));
		this.set(
			between.map(({ code }) => code),
			ticked,
		);
	}

	/** Where a range begins. */
	startAt(index: number): void {
		this.#anchor = index;
	}

	/** All that there are, also those that are not there yet; or none. */
	setAll(ticked: boolean): void {
		this.#all = ticked;
		this.#codes.clear();
	}

	/** The codes of what is ticked. @param rows brings all that there are */
	async codesOf(rows: Pick<PagedRows<{ code: string }>, 'all'>): Promise<string[]> {
		if (!this.#all) return [...this.#codes];
		return (await rows.all()).map(({ code }) => code).filter((code) => this.has(code));
	}

	/** As a call names them. */
	named(asked: Asked): NamedItems {
		const codes = [...this.#codes];
		return this.#all ? { asked, except: codes } : { codes };
	}
}
