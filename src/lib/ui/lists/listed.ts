import { type Asked, paramsOf } from '../../wire/asked';
import type { ItemRow } from '../../wire/list';
import type { Place } from '../../wire/parts';
import { call } from '../base/call';
import type { Source } from '../base/paged-rows.svelte';

/** Rows of the list of items, as they are asked for. */
export const listed = (asked: Asked): Source<ItemRow> => ({
	window: (from, most) => call('GET /items', {}, undefined, { query: cut(paramsOf(asked), from, most) }),
	places: () => call('GET /places', {}, undefined, { query: paramsOf(asked) }),
});

/** What is asked for, from a place on. */
export function cut(query: URLSearchParams, from: Place | null, most: number): URLSearchParams {
	if (from !== null) query.set('from', JSON.stringify(from));
	query.set('most', String(most));
	return query;
}
