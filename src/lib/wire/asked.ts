/** What is asked of the list of items: which of them, and in what order. Pages, calls, kept views and sweeps all ask so. */
import { REASONS, type ReasonCode } from '$core/grading/reasons';
import { inWords } from '$core/numbers/figure';
import { keyed } from '$core/numbers/keyed';
import { type Frequency, periodWord } from '$core/series/frequency';
import type { Wanted } from './labels';
import { REASON_NAMES } from '$core/words/status';
import { LIST_KEYS, type ListKey, listColumn, RANGED } from './list-columns';

/** Which items are shown: all that are on the list, those to check, the others, by a reason, hidden, group totals, or retired. */
export const WHICH = ['all', 'look', 'well', 'hidden', 'sums', 'retired', ...REASONS] as const;
export type Which = (typeof WHICH)[number];

export const WHICH_NAMES: Readonly<Record<Which, string>> = {
	all: 'all',
	look: 'to check',
	well: 'nothing to check',
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
export const NO_METHOD_NAME = REASON_NAMES['no-forecast'];

export type Range = [low: number | null, high: number | null];

/** What is asked: a range of each figure that ranges are asked of, null for none. */
export interface Asked extends Record<(typeof RANGED)[number], Range | null> {
	which: Which;
	/** Each of them stands in the code, the name or a label. */
	words: string;
	labels: Wanted;
	/** The adopted forecast's, by its id; `none` for items without one. */
	method: string | null;
	frequency: Frequency | null;
	sort: Sort;
	down: boolean;
}

/** All items that are on the list, in the usual order. */
export const ASKED_ALL: Asked = {
	which: 'all',
	words: '',
	labels: [],
	method: null,
	frequency: null,
	...keyed(RANGED, () => null),
	sort: 'attention',
	down: false,
};

/** A range as it is written in an address: “10..20”, “..5”, “100..”. */
const writeRange = (range: Range): string =>
	range.map((each) => (each === null ? '' : String(each))).join('..');

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
