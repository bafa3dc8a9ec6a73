/** What is asked of the rows of a sweep, and how an address has it. */
import * as v from 'valibot';
import { type SweepAsked, SweepAskedSchema } from './shapes';

export const SWEEP_ALL: SweepAsked = v.parse(SweepAskedSchema, {});

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
export function sweepAskedIn(params: URLSearchParams): SweepAsked {
	const read = v.safeParse(SweepAskedSchema, sweepWritten(params));
	return read.success ? read.output : SWEEP_ALL;
}
