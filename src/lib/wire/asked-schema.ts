/** What may be asked of the list of items, as it is checked, and as addresses have it. Pages take its words from `asked.ts`. */
import * as v from 'valibot';
import { BOUNDS } from '$core/bounds';
import { METHODS } from '$core/methods/registry';
import { keyed } from '$core/numbers/keyed';
import { figureSchema, textSchema } from '$core/schemas';
import { FREQUENCIES } from '$core/series/frequency';
import { type Asked, NO_METHOD, NO_METHOD_NAME, SORTS, WHICH, WHICH_NAMES } from './asked';
import { WantedSchema } from './labels-schema';
import { LIST_KEYS, type ListKey, listColumn, RANGED } from './list-columns';
import { figureIn, type Param, switchIn } from './query';

const end = v.nullable(figureSchema('an end of a range is a figure'));
const rangeSchema = v.pipe(
	v.custom<unknown[]>(Array.isArray, 'a range is written LOW..HIGH, such as 10..20'),
	v.strictTuple([end, end], 'a range has two ends'),
	v.check(
		([low, high]) => low === null || high === null || low <= high,
		'a range begins below its end, such as 10..20',
	),
);
const known = [NO_METHOD, ...METHODS.map(({ id }) => id)];
const knownMethod = v.check<string, (issue: v.CheckIssue<string>) => string>(
	(method) => known.includes(method),
	({ input }) => `there is no method “${input}”; it is one of ${known.join(', ')}`,
);
export const AskedSchema = v.strictObject({
	which: v.optional(v.picklist(WHICH, `why is one of ${WHICH.join(', ')}`), 'all'),
	/** Each of them stands in the code, the name or a label. */
	words: v.optional(textSchema('the words', 0, BOUNDS.name), ''),
	labels: v.optional(WantedSchema, []),
	/** The adopted forecast's, by its id; `none` for items without one. */
	method: v.optional(v.nullable(v.pipe(textSchema('the method', 1, BOUNDS.id), knownMethod)), null),
	frequency: v.optional(
		v.nullable(v.picklist(FREQUENCIES, `a frequency is one of ${FREQUENCIES.join(', ')}`)),
		null,
	),
	...keyed(RANGED, () => v.optional(v.nullable(rangeSchema), null)),
	sort: v.optional(v.picklist(SORTS, `sort is one of ${SORTS.join(', ')}`), 'attention'),
	down: v.optional(v.boolean('down is true or false, in an address 1 or left out'), false),
}) satisfies v.GenericSchema<unknown, Asked>;
/** A range or its text, which is refused then: what is no figure is no open end. */
function readRange(text: string): unknown {
	const ends = text.split('..').map((each) => (each === '' ? null : figureIn(each)));
	return ends.includes(undefined) ? text : ends;
}

/** Names of an address that say what is asked for. */
export const LIST_PARAMS: Readonly<Record<string, Param>> = {
	why: { does: 'which of the items', of: WHICH, called: WHICH_NAMES },
	find: { does: 'words that each stand in the code, the name or a label' },
	label: {
		does: 'a label, `Family=Brakes`, both sides percent-encoded; a blank one for items without it',
		many: true,
	},
	method: {
		does: 'the method of the adopted forecast, or that there is none',
		of: known,
		called: { [NO_METHOD]: NO_METHOD_NAME, ...Object.fromEntries(METHODS.map(({ id, name }) => [id, name])) },
	},
	frequency: { does: 'their frequency', of: FREQUENCIES },
	...keyed(RANGED, (key): Param => ({
		does: `a range of ${listColumn(key).name}, \`10..20\`, \`..5\` or \`100..\``,
	})),
	sort: { does: 'the order', of: SORTS, called: keyed(LIST_KEYS, (key) => listColumn(key).name) },
	down: { does: '`1`: the largest first' },
};

/** What names of an address are in what is asked. */
export const LIST_INSIDE = { why: 'asked.which', find: 'asked.words', label: 'asked.labels' } as const;

/** What an address asks for, unchecked. */
export function writtenIn(params: URLSearchParams): unknown {
	const text = (name: string) => params.get(name) ?? undefined;
	const range = (name: ListKey) => {
		const written = params.get(name);
		return written === null ? undefined : readRange(written);
	};
	return {
		which: text('why'),
		words: text('find'),
		labels: params.getAll('label').map(pairIn),
		method: text('method'),
		frequency: text('frequency'),
		...keyed(RANGED, range),
		sort: text('sort'),
		down: switchIn(params, 'down'),
	};
}

/** Of `Family=Brakes`, both sides percent-encoded by themselves, its two sides; the text itself where it is not so written. */
function pairIn(written: string): unknown {
	try {
		const sides = written.split('=').map(decodeURIComponent);
		return sides.length === 2 ? sides : written;
	} catch {
		return written;
	}
}
