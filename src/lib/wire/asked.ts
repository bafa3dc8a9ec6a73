/** What is asked of the list of items: which of them, and in what order. Pages, calls, kept views and sweeps all ask so. */
import * as v from 'valibot';
import { BOUNDS } from '$core/bounds';
import { REASONS, type ReasonCode } from '$core/grading/status';
import { METHODS } from '$core/methods/registry';
import { inWords } from '$core/numbers/figure';
import { keyed } from '$core/numbers/keyed';
import { figureSchema, textSchema } from '$core/schemas';
import { FREQUENCIES, periodWord } from '$core/series/frequency';
import { REASON_NAMES } from '$core/words/status';
import { WantedSchema } from './labels';
import { LIST_KEYS, type ListKey, listColumn, RANGED } from './list-columns';
import { figureIn, type Param, switchIn } from './query';

/** Which items are shown: all that are on the list, those to check, by a reason, hidden, group totals, or retired. */
export const WHICH = ['all', 'look', 'hidden', 'sums', 'retired', ...REASONS] as const;
export type Which = (typeof WHICH)[number];

export const WHICH_NAMES: Readonly<Record<Which, string>> = {
	all: 'all',
	look: 'to check',
	hidden: 'hidden',
	sums: 'group totals',
	retired: 'retired',
	...REASON_NAMES,
};

export const isReason = (which: string): which is ReasonCode =>
	(REASONS as readonly string[]).includes(which);

/** By what the list is sorted. */
export const SORTS = ['attention', 'code', ...LIST_KEYS] as const;
export type Sort = (typeof SORTS)[number];

/** What stands for a method where nothing is adopted. */
export const NO_METHOD = 'none';

export type Range = readonly [low: number | null, high: number | null];

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
});
export type Asked = v.InferOutput<typeof AskedSchema>;

export const ASKED_ALL: Asked = v.parse(AskedSchema, {});

/** A range as it is written in an address: “10..20”, “..5”, “100..”. */
const writeRange = (range: Range): string =>
	range.map((each) => (each === null ? '' : String(each))).join('..');

/** A range or its text, which is refused then: what is no figure is no open end. */
function readRange(text: string): unknown {
	const ends = text.split('..').map((each) => (each === '' ? null : figureIn(each)));
	return ends.includes(undefined) ? text : ends;
}

/** Names of an address that say what is asked for. */
export const LIST_PARAMS: Readonly<Record<string, Param>> = {
	why: { does: 'which of the items', of: WHICH },
	find: { does: 'words that each stand in the code, the name or a label' },
	label: {
		does: 'a label, `Family=Brakes`, both sides percent-encoded; a blank one for items without it',
		many: true,
	},
	method: { does: 'the adopted forecast’s method by its id; `none` for items without one' },
	frequency: { does: 'their frequency', of: FREQUENCIES },
	...keyed(RANGED, (key): Param => ({
		does: `a range of ${listColumn(key).name}, \`10..20\`, \`..5\` or \`100..\``,
	})),
	sort: { does: 'the order', of: SORTS },
	down: { does: '`1`: the largest first' },
};

/** What names of an address are in what is asked. */
export const LIST_INSIDE = { why: 'asked.which', find: 'asked.words', label: 'asked.labels' } as const;

/** What is asked for, as an address has it behind its question mark; what is usual is left out. */
export function paramsOf(asked: Asked): URLSearchParams {
	const params = new URLSearchParams();
	const put = (name: string, value: string | null) => {
		if (value !== null && value !== '') params.append(name, value);
	};
	put('why', asked.which === 'all' ? null : asked.which);
	put('find', asked.words);
	for (const [of, label] of asked.labels)
		put('label', `${encodeURIComponent(of)}=${encodeURIComponent(label)}`);
	put('method', asked.method);
	put('frequency', asked.frequency);
	for (const key of RANGED) put(key, asked[key] && writeRange(asked[key]));
	put('sort', asked.sort === 'attention' ? null : asked.sort);
	put('down', asked.down ? '1' : null);
	return params;
}

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

/** “Brakes”; “no Family”. */
export const labelName = (of: string, label: string): string => (label === '' ? `no ${of}` : label);

/** A range in words: “MAPE from 10 to 20”. */
export function rangeWords(key: ListKey, [low, high]: Range): string {
	const { name, in: unit } = listColumn(key);
	const said = (value: number) => `${inWords(value)}${unit === 'percent' ? ' %' : ''}`;
	if (low !== null && high !== null) return `${name} ${said(low)} to ${said(high)}`;
	return low !== null ? `${name} from ${said(low)}` : high !== null ? `${name} to ${said(high)}` : '';
}

/**
 * What the items that are asked for have in common, in words; empty for all.
 * @param nameOf what a method is called, by its id
 */
export const askedWords = (asked: Asked, nameOf: (method: string) => string = (id) => id): string =>
	[
		...(asked.which === 'all' ? [] : [WHICH_NAMES[asked.which]]),
		...asked.labels.map(([of, label]) => labelName(of, label)),
		...(asked.method === null ? [] : [nameOf(asked.method)]),
		...(asked.frequency === null ? [] : [periodWord(asked.frequency, 2)]),
		...RANGED.flatMap((key) => (asked[key] ? [rangeWords(key, asked[key])] : [])),
		...(asked.words.trim() === '' ? [] : [`“${asked.words.trim()}”`]),
	].join(', ');

/** Whether two ask for the same items, in whatever order. */
export const sameItems = (a: Asked, b: Asked): boolean =>
	String(paramsOf({ ...a, sort: 'attention', down: false })) ===
	String(paramsOf({ ...b, sort: 'attention', down: false }));
