/** What is asked of the rows of a sweep, and how an address has it. */
import * as v from 'valibot';
import { type Param, switchIn } from './query';
import { SWEEP_KEYS, sweepColumn } from './sweep-columns';
import { type SweepKind, sweepKind } from './sweep-kinds';
import { SWEEP_SHOWN, SWEEP_SORTS, type SweepAsked, SweepAskedSchema } from './sweeps';

const ALL: SweepAsked = v.parse(SweepAskedSchema, {});
/** All rows, in the order that is usual for a sweep. */
export const allOf = (kind: SweepKind): SweepAsked => ({ ...ALL, ...sweepKind(kind).order });

export function sweepParams({ show, words, method, sort, down }: SweepAsked): URLSearchParams {
	const params = new URLSearchParams();
	if (show !== 'all') params.set('show', show);
	if (words !== '') params.set('find', words);
	if (method !== null) params.set('method', method);
	if (sort !== 'gain') params.set('sort', sort);
	if (!down) params.set('up', '1');
	return params;
}

/** Which rows are shown. */
export const SHOWN_NAMES: Readonly<Record<SweepAsked['show'], string>> = {
	all: 'all',
	clear: 'clearly smaller error',
	worse: 'larger error',
	ready: 'can be adopted',
	adopted: 'adopted',
	refused: 'not possible',
};

/** Names in an address that say what is asked for. */
export const SWEEP_PARAMS: Readonly<Record<string, Param>> = {
	show: { does: 'which of the rows', of: SWEEP_SHOWN, called: SHOWN_NAMES },
	find: { does: 'words that each stand in the code, the name or a label' },
	method: { does: 'the method as it is labelled' },
	sort: {
		does: 'the order',
		of: SWEEP_SORTS,
		called: Object.fromEntries(
			SWEEP_KEYS.flatMap((key) => {
				const { name, sorts = key } = sweepColumn(key);
				return [key, sorts].map((each) => [each, name]);
			}),
		),
	},
	up: { does: '`1`: the smallest first' },
};

/** What names of an address are in what is asked. */
export const SWEEP_INSIDE = { find: 'asked.words', up: 'asked.down' } as const;

/** Rows run down but where `up=1` says otherwise. */
function upIn(params: URLSearchParams): unknown {
	const up = switchIn(params, 'up');
	return up === undefined ? true : up === true ? false : up;
}

/** What an address asks for, unchecked. */
export const sweepWritten = (params: URLSearchParams): unknown => ({
	show: params.get('show') ?? undefined,
	words: params.get('find') ?? undefined,
	method: params.get('method') ?? undefined,
	sort: params.get('sort') ?? undefined,
	down: upIn(params),
});

/** What a page asks for whose address says no order: the one that is usual for the sweep. */
export const inUsualOrder = (asked: SweepAsked, params: URLSearchParams, kind: SweepKind): SweepAsked => {
	if (params.has('sort') || params.has('up')) return asked;
	const { sort, down } = allOf(kind);
	return { ...asked, sort, down };
};
