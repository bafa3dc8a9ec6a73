/** What an address may say behind its question mark. */
import * as v from 'valibot';
import { BOUNDS } from '$core/bounds';
import { wholeSchema } from '$core/schemas';
import { PlaceSchema } from './parts';

/** A name behind the question mark. */
export interface Param {
	does: string;
	/** What it may be; any text where this is left out. */
	of?: readonly string[];
	/** What screens call each of these, where that is otherwise. */
	called?: Readonly<Partial<Record<string, string>>>;
	/** Whether it may come more than once. */
	many?: true;
}

/** What a name behind the question mark does, and what it may be: “which of the items: `drifts` (bias), …”. */
export function paramSays({ does, of, called = {} }: Param): string {
	if (!of) return does;
	const named = (each: string) => (called[each] && called[each] !== each ? ` (${called[each]})` : '');
	return `${does}: ${of.map((each) => `\`${each}\`${named(each)}`).join(', ')}`;
}

/** What is asked behind the question mark: its names, how they are read, and what has to come of that. */
export interface Query<Schema extends v.GenericSchema = v.GenericSchema> {
	params: Readonly<Record<string, Param>>;
	schema: Schema;
	/** What a name is called in the shape of the schema, where that is otherwise. */
	inside?: Readonly<Record<string, string>>;
	/** What an address says, unchecked, in the shape of the schema. */
	written(params: URLSearchParams): unknown;
}

/** Keeps the type of what comes of a query. */
export const queryOf = <const Schema extends v.GenericSchema>(query: Query<Schema>): Query<Schema> => query;

/** A figure as an address has it; undefined where it is none. */
export const figureIn = (text: string): number | undefined =>
	/^-?\d+(\.\d+)?(e[+-]?\d+)?$/i.test(text) ? Number(text) : undefined;

/** What is there or not: `down=1`. */
export function switchIn(params: URLSearchParams, name: string): unknown {
	const text = params.get(name);
	return text === null ? undefined : text === '1' || text;
}

/** Rows of a window. */
export const WINDOW = 100;

/** JSON of an address; the text itself where it is none, which is refused then. */
function jsonIn(text: string): unknown {
	try {
		return JSON.parse(text);
	} catch {
		return text;
	}
}

/** Where a window begins, and how long it is. */
export const CUT = {
	params: {
		from: { does: 'a place as JSON: where the window begins' },
		most: { does: `how many rows at the most; ${WINDOW} where it is left out` },
	},
	entries: {
		from: v.optional(v.nullable(PlaceSchema), null),
		most: v.optional(wholeSchema(1, BOUNDS.window, 'most'), WINDOW),
	},
	written: (params: URLSearchParams) => {
		const [from, most] = [params.get('from'), params.get('most')];
		return {
			from: from === null ? null : jsonIn(from),
			most: most === null ? WINDOW : (figureIn(most) ?? most),
		};
	},
} as const;
