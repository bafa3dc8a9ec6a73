import { shorten } from './figures';
import { refuseShape } from './size';

export type Cells = { rows: string[][]; typed: boolean } | { problem: string };

const SHAPES =
	'JSON can be a list of figures, [412, 398, null], a list of lists, or a list of objects, [{"period": "2024-01", "demand": 412}].';

/** Whether a text begins as a JSON list or object does. */
export const looksLikeJson = (text: string): boolean =>
	/^\ufeff?\s*(?:\[\s*[[{\d"n\]-]|\{\s*["}])/.test(text.slice(0, 200));

/**
 * JSON as rows of cells: a list of figures is a column, a list of lists a table, a list of objects a table with
 * their keys as headings, an object of lists columns side by side; a line each, objects are a list as well.
 * @returns `typed` when figures stand there as numbers, so that their decimal mark is a point
 */
export function jsonRows(text: string): Cells {
	let value: unknown;
	const bare = text.replace(/^\ufeff/, '');
	try {
		value = linesOf(bare) ?? JSON.parse(bare);
	} catch (error) {
		return { problem: `This begins like JSON and is not: ${shorten((error as Error).message)}. ${SHAPES}` };
	}
	const state: State = { typed: false, problem: null };
	const rows = rowsOf(value, state);
	if (state.problem) return { problem: state.problem };
	return rows ? { rows, typed: state.typed } : { problem: `No table can be made of this JSON. ${SHAPES}` };
}

/** Objects a line each, as logs and exports have them; null where the text is anything else. */
function linesOf(text: string): unknown[] | null {
	const lines = text.split('\n').filter((line) => line.trim() !== '');
	if (lines.length < 2 || !lines.every((line) => /^\s*\{.*\}\s*$/.test(line))) return null;
	return lines.map((line): unknown => JSON.parse(line));
}

interface State {
	typed: boolean;
	/** Why the table is too large to be made. */
	problem: string | null;
}

/** Whether a table of so many rows and columns is made; says in the state why not. */
function isReadable(rows: number, columns: number, state: State): boolean {
	state.problem = refuseShape(rows, columns);
	return state.problem === null;
}

function rowsOf(value: unknown, state: State): string[][] | null {
	if (!Array.isArray(value)) return isObject(value) ? rowsOfObject(value, state) : null;
	if (value.length === 0) return null;
	if (value.every(Array.isArray)) {
		const widest = value.reduce((most: number, row: unknown[]) => Math.max(most, row.length), 0);
		if (!isReadable(value.length, widest, state)) return null;
		const rows = value.map((row: unknown[]) => row.map((cell) => cellOf(cell, state)));
		return rows.some((row) => row.includes(null)) ? null : (rows as string[][]);
	}
	if (value.every(isObject)) {
		const objects = value as Record<string, unknown>[];
		const keys = keysOf(objects, state);
		if (!keys) return null;
		const rows = objects.map((each) => keys.map((key) => cellOf(each[key], state)));
		return rows.some((row) => row.includes(null)) ? null : [keys, ...(rows as string[][])];
	}
	if (!isReadable(value.length, 1, state)) return null;
	const column = value.map((cell) => cellOf(cell, state));
	return column.includes(null) ? null : column.map((cell) => [cell!]);
}

/** {"periods": [...], "demand": [...]}: columns; {"series": [...]}: the one list in it; {"2024-01": 412}: rows. */
function rowsOfObject(value: Record<string, unknown>, state: State): string[][] | null {
	const lists = Object.entries(value).filter((entry): entry is [string, unknown[]] =>
		Array.isArray(entry[1]),
	);
	if (lists.length === 1 && lists[0]![1].some((cell) => isObject(cell) || Array.isArray(cell)))
		return rowsOf(lists[0]![1], state);
	if (lists.length > 0) {
		const length = lists.reduce((longest, [, list]) => Math.max(longest, list.length), 0);
		if (!isReadable(length, lists.length, state)) return null;
		const rows = Array.from({ length }, (_, i) => lists.map(([, list]) => cellOf(list[i], state)));
		return rows.some((row) => row.includes(null))
			? null
			: [lists.map(([key]) => key), ...(rows as string[][])];
	}
	const pairs = Object.entries(value).map(([key, cell]) => [key, cellOf(cell, state)]);
	return pairs.length > 0 && pairs.every(([, cell]) => cell !== null) ? (pairs as string[][]) : null;
}

/** The keys of all objects in order of appearance; null where they would make too wide a table. */
function keysOf(objects: readonly Record<string, unknown>[], state: State): string[] | null {
	const keys = new Set<string>();
	for (const each of objects) {
		for (const key of Object.keys(each)) keys.add(key);
		if (!isReadable(objects.length, keys.size, state)) return null;
	}
	return [...keys];
}

const isObject = (value: unknown): value is Record<string, unknown> =>
	typeof value === 'object' && value !== null && !Array.isArray(value);

/** A JSON value as a cell; null for what no cell holds. */
function cellOf(value: unknown, state: State): string | null {
	if (value === null || value === undefined) return '';
	if (typeof value === 'number') {
		state.typed = true;
		return String(value);
	}
	if (typeof value === 'string') return value.trim();
	return typeof value === 'boolean' ? String(value) : null;
}
