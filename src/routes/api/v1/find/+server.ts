import { findItems } from '$lib/server/list/finding';
import { answering } from '$lib/server/http/http';
import { WordsSchema } from '$lib/wire/list';
import { checked } from '$lib/server/checked';

export const GET = answering('GET /find', ({ locals, url }) => {
	const { words } = checked(WordsSchema, { words: url.searchParams.get('words') ?? '' });
	return findItems(locals.actor.workspaceId, words);
});
