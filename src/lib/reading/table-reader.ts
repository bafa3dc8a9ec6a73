import type { Choices } from './choices';
import { readSource } from './read';
import type { Reading } from './reading';
import { openBytes, openText, type Source } from './source';

/** A table that is looked at: opened once, read again with every choice. */
export class TableReader {
	#table: { source: Source; bytes: Uint8Array | null } | null = null;

	openText(text: string): void {
		this.#table = { source: openText(text), bytes: null };
	}

	async openBytes(bytes: Uint8Array): Promise<void> {
		this.#table = { source: await openBytes(bytes), bytes };
	}

	async readTable(choices: Choices): Promise<Reading> {
		const { source, bytes } = this.#table!;
		return readSource(choices.encoding && bytes ? await openBytes(bytes, choices.encoding) : source, choices);
	}
}
