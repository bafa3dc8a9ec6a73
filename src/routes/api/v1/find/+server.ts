import { findItems } from '$lib/server/list/finding';
import { answering } from '$lib/server/http/http';

export const GET = answering('GET /find', ({ locals }, _, { words }) =>
	findItems(locals.actor.workspaceId, words),
);
