import { SvelteSet } from 'svelte/reactivity';
import type { Asked } from '../../asked';
import type { NamedItems } from '../../shapes';

/** Which rows of a long list are ticked: some, or all but some. */
export class Ticks {
	#all = $state(false);
	readonly #codes = new SvelteSet<string>();

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

	/** All that there are, also those that are not there yet; or none. */
	setAll(ticked: boolean): void {
		this.#all = ticked;
		this.#codes.clear();
	}

	/** As a call names them. */
	named(asked: Asked): NamedItems {
		const codes = [...this.#codes];
		return this.#all ? { asked, except: codes } : { codes };
	}
}
