import { METHODS } from '$core/methods/registry';
import {
	type Asked,
	AskedSchema,
	isReason,
	NO_METHOD,
	RANGED,
	type Ranged,
	type Sort,
	writtenIn,
} from '../asked';
import type { Place } from '../shapes';
import { checked } from './checked';
import { Refusal } from './refusal';

/** What is asked of the list, as conditions and orders of SQL over `standing`. */

/** Values of a query, and what stands for each in it. */
export class Bound {
	readonly values: unknown[] = [];

	/** @returns `$1`, `$2`, … */
	of(value: unknown): string {
		this.values.push(value);
		return `$${this.values.length}`;
	}
}

/** What the query of an address asks for. @throws Refusal 422 where that is not what can be asked for */
export function askedOf(params: URLSearchParams): Asked {
	const asked = checked(AskedSchema, writtenIn(params));
	refuseUnknownMethod(asked);
	return asked;
}

/** @throws Refusal 422 where a method is asked for that there is not */
export function refuseUnknownMethod({ method }: Asked): void {
	const there = [NO_METHOD, ...METHODS.map(({ id }) => id)];
	if (method === null || there.includes(method)) return;
	const message = `There is no method “${method}”; it is one of ${there.join(', ')}.`;
	throw new Refusal(422, message, [{ path: 'method', message }]);
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

/** Which items are asked for, as a condition over `standing`. */
export function whichItems(workspaceId: number, asked: Asked, bound: Bound): string {
	const conditions = [`standing.workspace_id = ${bound.of(workspaceId)}`, whichOne(asked, bound)];
	const patterns = patternsOf(asked.words);
	if (patterns.length > 0) conditions.push(hasAll('standing.sought', bound.of(patterns)));
	for (const [of, label] of Object.entries(asked.labels))
		conditions.push(
			label === ''
				? `NOT standing.labels ? ${bound.of(of)}`
				: `standing.labels ->> ${bound.of(of)} = ${bound.of(label)}`,
		);
	if (asked.method === NO_METHOD) conditions.push('standing.method IS NULL');
	else if (asked.method !== null) conditions.push(`standing.method = ${bound.of(asked.method)}`);
	if (asked.frequency !== null) conditions.push(`standing.frequency = ${bound.of(asked.frequency)}`);
	for (const name of Object.keys(RANGED) as Ranged[]) {
		const [low, high] = asked[name] ?? [null, null];
		if (low !== null) conditions.push(`standing.${name} >= ${bound.of(low)}`);
		if (high !== null) conditions.push(`standing.${name} <= ${bound.of(high)}`);
	}
	return conditions.join(' AND ');
}

function whichOne({ which }: Asked, bound: Bound): string {
	if (which === 'retired') return 'standing.retired';
	const listed = 'NOT standing.retired';
	if (which === 'all') return listed;
	if (which === 'look') return `${listed} AND standing.place < 7`;
	if (which === 'aside') return `${listed} AND standing.put_aside_id IS NOT NULL`;
	if (which === 'not-in') return `${listed} AND standing.waits`;
	return isReason(which) ? `${listed} AND ${bound.of(which)} = ANY (standing.why)` : listed;
}

/** What a sort goes by; items that have no figure for it come last, whichever way the others run. */
interface Order {
	columns: readonly string[];
	/** Whether the first of them may be missing. */
	missing: boolean;
}
const byFigure = (column: string): Order => ({ columns: [column, 'code'], missing: true });
const ORDERS: Readonly<Record<Sort, Order>> = {
	attention: { columns: ['place', 'less', 'code'], missing: false },
	code: { columns: ['code'], missing: false },
	next: byFigure('next'),
	miss: byFigure('miss'),
	mad: byFigure('mad'),
	mape: byFigure('mape'),
	bias: byFigure('bias'),
	signal: byFigure('signal'),
};

const named = (columns: readonly string[]) => columns.map((column) => `standing.${column}`);

/** The columns of `standing` by which a row's place is told. */
export const placeColumns = ({ sort }: Asked): readonly string[] => ORDERS[sort].columns;

/** Everything in order, as behind ORDER BY. */
export function wholeOrder({ sort, down }: Asked): string {
	const { columns, missing } = ORDERS[sort];
	const way = down ? ' DESC' : '';
	return [
		...(missing ? [`(standing.${columns[0]} IS NULL)`] : []),
		...named(columns).map((column) => `${column}${way}`),
	].join(', ');
}

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
export function stretchesFrom({ sort, down }: Asked, from: Place | null): Stretch[] {
	const { columns, missing } = ORDERS[sort];
	const way = down ? ' DESC' : '';
	const beyond = down ? '<=' : '>=';
	if (from !== null && from.length !== columns.length)
		throw new Refusal(
			422,
			`A place in the order by ${sort} has ${columns.length === 1 ? 'one part' : `${columns.length} parts`}, not ${from.length}.`,
		);
	const ordered = named(columns);
	const after = (names: readonly string[], parts: Place) => (bound: Bound) =>
		`(${names.join(', ')}) ${beyond} (${parts.map((part) => bound.of(part)).join(', ')})`;
	const all = () => 'true';
	const known: Stretch = {
		condition: (bound) =>
			[
				...(missing ? [`${ordered[0]} IS NOT NULL`] : []),
				(from === null ? all : after(ordered, from))(bound),
			].join(' AND '),
		order: ordered.map((column) => `${column}${way}`).join(', '),
	};
	if (!missing) return [known];
	const inMissing = from?.[0] === null;
	const without: Stretch = {
		condition: (bound) =>
			`${ordered[0]} IS NULL AND ${(inMissing ? after(['standing.code'], from.slice(1)) : all)(bound)}`,
		order: `standing.code${way}`,
	};
	return inMissing ? [without] : [known, without];
}
