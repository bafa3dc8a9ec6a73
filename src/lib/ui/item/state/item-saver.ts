import { isSame } from '$core/numbers/same';
import type { Candidate } from '$core/methods/registry';
import { type Layers } from '$core/series/layers';
import { layerChanges, withEntries } from '$core/series/layer-entries';
import type { Item } from '../../../wire/items';
import type { RecordedEntry } from '$core/series/layer-entries';
import type { call as callServer } from '../../base/call';

/** What of an item is saved as its analyst works. */
export interface Work {
	candidates: readonly Candidate[];
	hidden: readonly string[];
	layers: Layers;
}

/** Work that a browser could not save, and what it was made from. */
export interface Unsaved {
	work: Work;
	/** What the server had then. */
	base: Work;
	version: number;
	seenLayers: number;
}

/** Sends an item's layers and line-up to the server, each with what was seen of it, and knows what the server has. */
export class ItemSaver {
	#saved: Work;
	#version: number;
	#seenLayers: number;
	/** The newest entries of the layers on record. */
	history: readonly RecordedEntry[];

	constructor(
		item: Item,
		readonly code: () => string,
		private readonly call: typeof callServer,
		private readonly tell: (history: readonly RecordedEntry[]) => void = () => undefined,
	) {
		this.#saved = workOf(item);
		this.#version = item.lineUp.version;
		this.#seenLayers = item.layers.newest;
		this.history = item.layers.history;
	}

	/** Id of the newest entry of the layers that is known here. */
	get seenLayers(): number {
		return this.#seenLayers;
	}

	/** Work as a browser keeps it until a server is there again. */
	unsaved(work: Work): Unsaved {
		return { work, base: this.#saved, version: this.#version, seenLayers: this.#seenLayers };
	}

	/** Goes on as if the page had been open since that work was made: what came in between shows when it is sent. */
	goOnFrom({ base, version, seenLayers }: Unsaved): void {
		this.#saved = base;
		this.#version = version;
		this.#seenLayers = seenLayers;
	}

	/** @throws CallError 409 where somebody else saved in between, 422 where the server does not take it */
	async send(work: Work, leaving = false): Promise<void> {
		const entries = layerChanges(this.#saved.layers, work.layers);
		if (entries.length > 0) {
			const { history, newest } = await this.call(
				'POST /items/[code]/layers',
				{ code: this.code() },
				{ seen: this.#seenLayers, entries },
				{ leaving },
			);
			this.history = history;
			this.#seenLayers = newest;
			this.#saved = { ...this.#saved, layers: work.layers };
			this.tell(history);
		}
		const { candidates, hidden } = work;
		if (isSame([candidates, hidden], [this.#saved.candidates, this.#saved.hidden])) return;
		const { version } = await this.call(
			'PUT /items/[code]/line-up',
			{ code: this.code() },
			{ version: this.#version, candidates: [...candidates], hidden: [...hidden] },
			{ leaving },
		);
		this.#version = version;
		this.#saved = { ...this.#saved, candidates, hidden };
	}

	/**
	 * Takes note of what the server has now.
	 * @returns work with what was changed here laid over what came in between, and the entries that did
	 */
	catchUp(item: Item, work: Work): { merged: Work; theirs: Work; between: readonly RecordedEntry[] } {
		const before = this.#saved;
		const theirs = workOf(item);
		const between = item.layers.history.filter(({ id }) => id > this.#seenLayers);
		const untouched = isSame([work.candidates, work.hidden], [before.candidates, before.hidden]);
		const { candidates, hidden } = untouched ? theirs : work;
		this.#saved = theirs;
		this.#version = item.lineUp.version;
		this.#seenLayers = item.layers.newest;
		this.history = item.layers.history;
		this.tell(this.history);
		const layers = withEntries(theirs.layers, layerChanges(before.layers, work.layers));
		return { merged: { candidates, hidden, layers }, theirs, between };
	}
}

export const workOf = ({ lineUp, layers }: Item): Work => ({
	candidates: lineUp.candidates,
	hidden: lineUp.hidden,
	layers: layers.layers,
});
