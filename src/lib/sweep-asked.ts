/** What is asked of the rows of a sweep, and how an address has it. */
import * as v from 'valibot';
import { type SweepAsked, SweepAskedSchema, type SweepKind } from './shapes';

const ALL: SweepAsked = v.parse(SweepAskedSchema, {});
/** Whether rows of a sweep are held against what is adopted by how far off both were. */
export const isCompared = (kind: SweepKind): boolean => kind === 'propose' || kind === 'try';

/** All rows, in the order that is usual for a sweep: by what they gain, the largest shares first, or by code. */
export const allOf = (kind: SweepKind): SweepAsked =>
	isCompared(kind)
		? ALL
		: kind === 'share'
			? { ...ALL, sort: 'next' }
			: { ...ALL, sort: 'code', down: false };

export function sweepParams({ show, words, method, sort, down }: SweepAsked): URLSearchParams {
	const params = new URLSearchParams();
	if (show !== 'all') params.set('show', show);
	if (words !== '') params.set('find', words);
	if (method !== null) params.set('method', method);
	if (sort !== 'gain') params.set('sort', sort);
	if (!down) params.set('up', '1');
	return params;
}

/** What an address asks for, unchecked. */
export const sweepWritten = (params: URLSearchParams): v.InferInput<typeof SweepAskedSchema> =>
	({
		show: params.get('show') ?? undefined,
		words: params.get('find') ?? undefined,
		method: params.get('method') ?? undefined,
		sort: params.get('sort') ?? undefined,
		down: !params.has('up'),
	}) as v.InferInput<typeof SweepAskedSchema>;

/** What a page's address asks for; all rows where it asks for something that there is not. */
export function sweepAskedIn(params: URLSearchParams, kind: SweepKind): SweepAsked {
	const read = v.safeParse(SweepAskedSchema, sweepWritten(params));
	if (!read.success) return allOf(kind);
	const { sort, down } = params.has('sort') || params.has('up') ? read.output : allOf(kind);
	return { ...read.output, sort, down };
}
