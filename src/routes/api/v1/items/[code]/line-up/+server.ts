import { answering, codeIn } from '$lib/server/http/http';
import { saveLineUp } from '$lib/server/items/line-ups';

export const PUT = answering('PUT /items/[code]/line-up', async ({ locals, params }, lineUp) => ({
	version: await saveLineUp(locals.actor.workspaceId, codeIn(params), lineUp),
}));
