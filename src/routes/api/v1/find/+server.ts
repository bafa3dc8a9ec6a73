import { findItems } from '$lib/server/finding';
import { answering } from '$lib/server/http';
import { WordsSchema } from '$lib/shapes';
import { checked } from '$lib/server/checked';

export const GET = answering('GET /find', ({ locals, url }) => {
	const { words } = checked(WordsSchema, { words: url.searchParams.get('words') ?? '' });
	return findItems(locals.actor.workspaceId, words);
});
