/** An object with an entry for each key, made from it. */
export const keyed = <Key extends string, Entry>(
	keys: readonly Key[],
	of: (key: Key) => Entry,
): Record<Key, Entry> => Object.fromEntries(keys.map((key) => [key, of(key)])) as Record<Key, Entry>;
