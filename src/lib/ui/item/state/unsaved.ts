import type { Unsaved } from './item-saver';

/** Work that the server could not take, kept by the browser until it can: a closed tab must not lose it. */
const keyOf = (code: string) => `ventrel unsaved ${code}`;

export function keepUnsaved(code: string, unsaved: Unsaved): void {
	try {
		localStorage.setItem(keyOf(code), JSON.stringify(unsaved));
	} catch {
		// Larger than the browser keeps: it stays for as long as the page is open, and leaving asks.
	}
}

export function forgetUnsaved(code: string): void {
	localStorage.removeItem(keyOf(code));
}

/** What was kept of an item; null where there is nothing that can be read. */
export function takeUnsaved(code: string): Unsaved | null {
	try {
		return JSON.parse(localStorage.getItem(keyOf(code)) ?? 'null') as Unsaved | null;
	} catch {
		return null;
	}
}
