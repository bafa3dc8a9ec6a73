import { vi } from 'vitest';

/** A storage of the browser that is empty and in memory, until stubs are undone; what it keeps is given back. */
export function stubStorage(name: 'localStorage' | 'sessionStorage'): Map<string, string> {
	const kept = new Map<string, string>();
	vi.stubGlobal(name, {
		getItem: (key: string) => kept.get(key) ?? null,
		setItem: (key: string, text: string) => kept.set(key, text),
		removeItem: (key: string) => kept.delete(key),
	});
	return kept;
}
