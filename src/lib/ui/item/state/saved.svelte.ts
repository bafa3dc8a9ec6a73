import { isSame } from '$core/numbers/same';
import type { RecordedEntry } from '$core/series/layer-entries';
import { entryWords } from '$core/words/layers';
import type { Item } from '../../../wire/items';
import { type call as callServer, CallError } from '../../base/call';
import { ItemSaver, type Work, workOf } from './item-saver';
import type { LineUpState } from './line-up.svelte';
import { SaveQueue, type Saving } from './save-queue';
import { forgetUnsaved, keepUnsaved, takeUnsaved } from './unsaved';

/** Of the item, what saving rests on. */
interface Loaded {
	readonly item: Item;
	readonly actualDecimals: number;
	/** Loads the item again, and takes over what it is now. */
	load(): Promise<Item>;
}

/** What of an item's work is with the server, and what somebody else saved meanwhile. */
export class SavedState {
	saving: Saving = $state.raw({ state: 'saved' });
	/** Whether anything of it was saved since it was opened; what is only proposed is not. */
	wasSaved = $state(false);
	/** What somebody else saved since this was opened, in words; empty where nothing was, or it was seen. */
	between: readonly string[] = $state.raw([]);
	/** Whether work was shown again that this browser could not save the last time. */
	tookUp = $state(false);
	/** The newest entries of the layers on record, and the newest one's id. */
	layerHistory: readonly RecordedEntry[] = $state.raw([]);
	readonly #saver: ItemSaver;
	readonly #queue: SaveQueue<Work>;

	constructor(
		private readonly of: Loaded,
		private readonly lineUp: LineUpState,
		private readonly call: typeof callServer,
		/** Whether anything is saved at all. */
		readonly saves = true,
	) {
		this.layerHistory = of.item.layers.history;
		this.#saver = new ItemSaver(
			of.item,
			() => of.item.code,
			call,
			(history) => (this.layerHistory = history),
		);
		this.#queue = new SaveQueue<Work>({
			send: (work, leaving) => this.#saver.send(work, leaving),
			show: (saving) => this.#show(saving),
		});
	}

	/** Whether leaving would lose something that is not with the server, nor on its way. */
	get isUnsaved(): boolean {
		return !this.#queue.isSaved;
	}

	/** Id of the newest entry of the layers that is known here. */
	get seenLayers(): number {
		return this.#saver.seenLayers;
	}

	/** Saves the work as it stands, soon. */
	put(): void {
		if (!this.saves) return;
		this.#queue.put(this.lineUp.work);
	}

	/** Sends what is not saved yet at once. */
	flush(): Promise<void> {
		return this.#queue.flush();
	}

	/** Sends what is not saved yet at once, and has the browser keep it in case that is in vain; for when the page is left. */
	leave(): void {
		if (this.#queue.isSaved) return;
		keepUnsaved(this.of.item.code, this.#saver.unsaved(this.lineUp.work));
		void this.#queue.flush(true);
	}

	/** Takes up work that this browser could not save the last time, one undo away from what the server has. */
	takeUpUnsaved(): void {
		const { code } = this.of.item;
		const unsaved = takeUnsaved(code);
		if (!unsaved) return;
		const { work } = unsaved;
		if (isSame(work, workOf(this.of.item))) return forgetUnsaved(code);
		this.tookUp = true;
		this.#saver.goOnFrom(unsaved);
		this.lineUp.goOnWith(work, true);
	}

	/** Takes what somebody else saved in place of this work, which stays one undo away. */
	async takeTheirs(): Promise<void> {
		const { theirs } = await this.#catchUp();
		this.lineUp.goOnWith(theirs, false);
		this.#queue.resume(null);
	}

	/** Lays this work over what somebody else saved, and saves both. */
	async putMineOnTop(): Promise<void> {
		const { merged } = await this.#catchUp();
		this.lineUp.goOnWith(merged, false);
		this.#queue.resume(this.lineUp.work);
	}

	/** Says what came in between, where that is why something was refused. */
	sayOvertaken(error: unknown): void {
		if (error instanceof CallError && error.status === 409) this.between = error.body?.between ?? [];
	}

	async #catchUp() {
		const item = await this.of.load();
		this.between = [];
		return this.#saver.catchUp(item, this.lineUp.work);
	}

	#show(saving: Saving): void {
		this.saving = saving;
		const { code } = this.of.item;
		if (saving.state === 'saved') {
			this.wasSaved = true;
			forgetUnsaved(code);
			this.tookUp = false;
		}
		if (saving.state === 'waiting' || saving.state === 'conflict')
			keepUnsaved(code, this.#saver.unsaved(this.lineUp.work));
		if (saving.state === 'conflict') {
			const { seenLayers } = this.#saver;
			void this.call('GET /items/[code]', { code })
				.then((item) => this.#sayBetween(item, seenLayers))
				.catch(() => undefined);
		}
	}

	/** Says what somebody else saved: entries of the layers by their words, and that the line-up is another one. */
	#sayBetween(item: Item, seenLayers: number): void {
		const { frequency } = item.series;
		const entries = item.layers.history
			.filter(({ id }) => id > seenLayers)
			.map((entry) => `${entry.by}: ${entryWords(entry, frequency, this.of.actualDecimals)}`);
		const other = !isSame(item.lineUp.candidates, this.lineUp.candidates);
		this.between = [...entries, ...(other ? ['the line-up is another one'] : [])];
	}
}
