import { type ReasonCode, REASONS } from '$core/grading/reasons';
import { keyed } from '$core/numbers/keyed';
import { type Asked, isReason, NO_METHOD, type Sort } from '../../wire/asked';
import type { Wanted } from '../../wire/labels';
import type { NamedItems, Places } from '../../wire/list';
import { LIST_KEYS, RANGED } from '../../wire/list-columns';
import type { Place } from '../../wire/parts';
import { WINDOW } from '../../wire/query';
import { prepared, type Queryable } from '../database/database';
import { Refusal } from '../refusal';

/** What is asked of the list, as conditions and orders of SQL over `item_status`. */

/** Values of a query, and what stands for each in it. */
export class Bound {
	readonly values: unknown[] = [];

	/** @returns `$1`, `$2`, … */
	of(value: unknown): string {
		this.values.push(value);
		return `$${this.values.length}`;
	}
}

const escaped = (word: string) => `%${word.replace(/[\\%_]/g, '\\$&')}%`;

/** Patterns for the words that are typed, each of which is to stand somewhere in an item's `sought`. */
export const patternsOf = (typed: string): string[] =>
	typed
		.split(/\s+/)
		.filter((word) => word !== '')
		.map(escaped);

/** That a text has all of the patterns. */
export const hasAll = (text: string, patterns: string) =>
	`${text} LIKE ALL (ARRAY(SELECT lower(word) FROM unnest(${patterns}::text[]) word))`;

/** That labels are those that are wanted; a blank one asks for those without. */
export const hasLabels = (labels: string, wanted: Wanted, bound: Bound): string =>
	wanted
		.map(([of, label]) =>
			label === '' ? `NOT ${labels} ? ${bound.of(of)}` : `${labels} ->> ${bound.of(of)} = ${bound.of(label)}`,
		)
		.join(' AND ') || 'true';

/** Which items are asked for, as a condition over `item_status`. */
export function whichItems(workspaceId: number, asked: Asked, bound: Bound): string {
	const conditions = [`item_status.workspace_id = ${bound.of(workspaceId)}`, whichOne(asked)];
	const patterns = patternsOf(asked.words);
	if (patterns.length > 0) conditions.push(hasAll('item_status.sought', bound.of(patterns)));
	// A sum has no part in what its parts are labelled with.
	if (asked.labels.length > 0)
		conditions.push(hasLabels('item_status.labels', asked.labels, bound), 'NOT item_status.sum');
	if (asked.method === NO_METHOD) conditions.push('item_status.method IS NULL');
	else if (asked.method !== null) conditions.push(`item_status.method = ${bound.of(asked.method)}`);
	if (asked.frequency !== null) conditions.push(`item_status.frequency = ${bound.of(asked.frequency)}`);
	for (const key of RANGED) {
		const [low, high] = asked[key] ?? [null, null];
		if (low !== null) conditions.push(`item_status.${key} >= ${bound.of(low)}`);
		if (high !== null) conditions.push(`item_status.${key} <= ${bound.of(high)}`);
	}
	return conditions.join(' AND ');
}

/** Items on the list that are named one by one, or by what the list is asked for but some, as a query of `item_id` and `code`. */
export function namedItems(workspaceId: number, items: NamedItems, bound: Bound): string {
	if ('codes' in items)
		return `SELECT id AS item_id, code FROM item WHERE workspace_id = ${bound.of(workspaceId)}
			AND code = ANY (${bound.of(items.codes)}) AND retired_at IS NULL`;
	const which = whichItems(workspaceId, items.asked, bound);
	return `SELECT item_id, code FROM item_status WHERE ${which} AND NOT retired AND NOT code = ANY (${bound.of(items.except)})`;
}

/** Whether an item has a reason to be looked at, and is not hidden: ranks beyond are of the others. */
export const TO_LOOK_AT = `item_status.attention_rank < ${REASONS.length}`;

/** Whether an item shows a reason, whatever else it shows. */
const showsReason = (code: ReasonCode): string =>
	code === 'not-in' ? 'item_status.waits' : `'${code}' = ANY (item_status.why)`;

function whichOne({ which }: Asked): string {
	if (which === 'retired') return 'item_status.retired';
	const listed = 'NOT item_status.retired';
	if (which === 'all') return listed;
	if (which === 'look') return `${listed} AND ${TO_LOOK_AT}`;
	if (which === 'well') return `${listed} AND NOT ${TO_LOOK_AT}`;
	if (which === 'sums') return `${listed} AND item_status.sum`;
	if (which === 'hidden') return `${listed} AND item_status.hide_entry_id IS NOT NULL`;
	return isReason(which) ? `${listed} AND ${showsReason(which)}` : listed;
}

/** What a sort goes by; rows that have no figure for it come last, whichever way the others run. */
export interface Order {
	/** Columns with their table; the last of them tells all rows apart. */
	columns: readonly string[];
	/** Whether the first of them may be missing. */
	missing: boolean;
}

const byFigure = (column: string): Order => ({
	columns: [`item_status.${column}`, 'item_status.code'],
	missing: true,
});
export const LIST_ORDERS: Readonly<Record<Sort, Order>> = {
	attention: {
		columns: ['item_status.attention_rank', 'item_status.attention_order', 'item_status.code'],
		missing: false,
	},
	code: { columns: ['item_status.code'], missing: false },
	...keyed(LIST_KEYS, byFigure),
};

/** A row's place in an order, as JSON. */
export const placeOf = ({ columns }: Pick<Order, 'columns'>): string =>
	`json_build_array(${columns.join(', ')})`;

/** A stretch of the order that an index has. */
export interface Stretch {
	condition: (bound: Bound) => string;
	order: string;
}

/**
 * What is to be read one after the other from a place on: those with a figure, then those without.
 * @param from null for the beginning
 * @throws Refusal 422 for a place of another order
 */
export function stretchesFrom({ columns, missing }: Order, down: boolean, from: Place | null): Stretch[] {
	const way = down ? ' DESC' : '';
	const beyond = down ? '<=' : '>=';
	if (from !== null && from.length !== columns.length)
		throw new Refusal(
			422,
			`A place in this order has ${columns.length === 1 ? 'one part' : `${columns.length} parts`}, not ${from.length}.`,
		);
	const after = (names: readonly string[], parts: Place) => (bound: Bound) =>
		`(${names.join(', ')}) ${beyond} (${parts.map((part) => bound.of(part)).join(', ')})`;
	const all = () => 'true';
	// Those without a figure in the same words, which their index goes by too.
	const sorted = columns.map((column) => `${column}${way}`).join(', ');
	const known: Stretch = {
		condition: (bound) =>
			[
				...(missing ? [`${columns[0]} IS NOT NULL`] : []),
				(from === null ? all : after(columns, from))(bound),
			].join(' AND '),
		order: sorted,
	};
	if (!missing) return [known];
	const code = columns.at(-1)!;
	const inMissing = from?.[0] === null;
	const without: Stretch = {
		condition: (bound) =>
			`${columns[0]} IS NULL AND ${(inMissing ? after([code], from.slice(1)) : all)(bound)}`,
		order: sorted,
	};
	return inMissing ? [without] : [known, without];
}

/**
 * Rows from a place on, as walks along the index of their order.
 * @param query of a stretch: its condition, its order and how many
 */
export async function walk<Row>(
	order: Order,
	down: boolean,
	from: Place | null,
	most: number,
	query: (bound: Bound, condition: string, order: string, limit: string) => string,
	database: Queryable,
): Promise<{ rows: Row[]; next: Place | null }> {
	const rows: (Row & { place?: Place })[] = [];
	for (const stretch of stretchesFrom(order, down, from)) {
		const bound = new Bound();
		const condition = stretch.condition(bound);
		// A plan that is made once must know that few rows are wanted.
		const limit = most === WINDOW ? String(WINDOW + 1) : bound.of(most + 1);
		const text = query(bound, condition, stretch.order, limit);
		const { rows: found } = await database.query<Row & { place: Place }>(prepared(text, bound.values));
		rows.push(...found);
		if (rows.length > most) break;
	}
	const next = rows[most]?.place ?? null;
	for (const row of rows) delete row.place;
	return { rows: rows.slice(0, most), next };
}

/**
 * How many rows there are, and where each window of them begins.
 * @param query where they come from, under a condition
 */
export async function placesOf(
	order: Order,
	down: boolean,
	query: (bound: Bound, condition: string) => string,
	database: Queryable,
): Promise<Places> {
	const names = order.columns.map((_, part) => `part_${part}`);
	const columns = order.columns.map((column, part) => `${column} AS ${names[part]}`);
	const all: Places = { count: 0, window: WINDOW, begins: [] };
	for (const stretch of stretchesFrom(order, down, null)) {
		const bound = new Bound();
		const before = bound.of(all.count);
		const { rows } = await database.query<{ count: number; begins: Place[] }>(
			prepared(
				`SELECT count(*) AS count, coalesce(json_agg(${placeOf({ columns: names })} ORDER BY row)
					FILTER (WHERE (row - 1 + ${before}::bigint) % ${WINDOW} = 0), '[]') AS begins
				FROM (
					SELECT ${columns.join(', ')}, row_number() OVER (ORDER BY ${stretch.order}) AS row
					${query(bound, stretch.condition(bound))}
				) ordered`,
				bound.values,
			),
		);
		all.count += rows[0]!.count;
		all.begins.push(...rows[0]!.begins);
	}
	return all;
}
