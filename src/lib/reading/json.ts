import { shorten } from './figures';

export type Cells = { rows: string[][]; typed: boolean } | { problem: string };

const SHAPES =
	'JSON can be a list of figures, [412, 398, null], a list of lists, or a list of objects, [{"period": "2024-01", "demand": 412}].';

/** Whether a text begins as a JSON list or object does. */
export const looksLikeJson = (text: string): boolean =>
	/^\ufeff?\s*(?:\[\s*[[{\d"n\]-]|\{\s*["}])/.test(text.slice(0, 200));

/**
 * JSON as rows of cells: a list of figures is a column, a list of lists a table, a list of objects a table with
 * their keys as headings, an object of lists columns side by side.
 * @returns `typed` when figures stand there as numbers, so that their decimal mark is a point
 */
export function jsonRows(text: string): Cells {
	let value: unknown;
	try {
		value = JSON.parse(text.replace(/^\ufeff/, ''));
	} catch (error) {
		return { problem: `This begins like JSON and is not: ${shorten((error as Error).message)}. ${SHAPES}` };
	}
	const state = { typed: false };
	const rows = rowsOf(value, state);
	return rows ? { rows, typed: state.typed } : { problem: `No table can be made of this JSON. ${SHAPES}` };
}

function rowsOf(value: unknown, state: { typed: boolean }): string[][] | null {
	if (!Array.isArray(value)) return isObject(value) ? rowsOfObject(value, state) : null;
	if (value.length === 0) return null;
	if (value.every(Array.isArray)) {
		const rows = value.map((row: unknown[]) => row.map((cell) => cellOf(cell, state)));
		return rows.some((row) => row.includes(null)) ? null : (rows as string[][]);
	}
	if (value.every(isObject)) {
		const objects = value as Record<string, unknown>[];
		const keys = [...new Set(objects.flatMap((each) => Object.keys(each)))];
		const rows = objects.map((each) => keys.map((key) => cellOf(each[key], state)));
		return rows.some((row) => row.includes(null)) ? null : [keys, ...(rows as string[][])];
	}
	const column = value.map((cell) => cellOf(cell, state));
	return column.includes(null) ? null : column.map((cell) => [cell!]);
}

/** {"periods": [...], "demand": [...]}: columns; {"series": [...]}: the one list in it; {"2024-01": 412}: rows. */
function rowsOfObject(value: Record<string, unknown>, state: { typed: boolean }): string[][] | null {
	const lists = Object.entries(value).filter((entry): entry is [string, unknown[]] =>
		Array.isArray(entry[1]),
	);
	if (lists.length === 1 && lists[0]![1].some((cell) => isObject(cell) || Array.isArray(cell)))
		return rowsOf(lists[0]![1], state);
	if (lists.length > 0) {
		const length = lists.reduce((longest, [, list]) => Math.max(longest, list.length), 0);
		const rows = Array.from({ length }, (_, i) => lists.map(([, list]) => cellOf(list[i], state)));
		return rows.some((row) => row.includes(null))
			? null
			: [lists.map(([key]) => key), ...(rows as string[][])];
	}
	const pairs = Object.entries(value).map(([key, cell]) => [key, cellOf(cell, state)]);
	return pairs.length > 0 && pairs.every(([, cell]) => cell !== null) ? (pairs as string[][]) : null;
}

const isObject = (value: unknown): value is Record<string, unknown> =>
	typeof value === 'object' && value !== null && !Array.isArray(value);

/** A JSON value as a cell; null for what no cell holds. */
function cellOf(value: unknown, state: { typed: boolean }): string | null {
	if (value === null || value === undefined) return '';
	if (typeof value === 'number') {
		state.typed = true;
		return String(value);
	}
	if (typeof value === 'string') return value.trim();
	return typeof value === 'boolean' ? String(value) : null;
}
