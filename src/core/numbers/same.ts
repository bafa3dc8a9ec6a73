/** Whether two are the same data, written with their keys in the same order: what was copied from one another is. */
export const isSame = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);
