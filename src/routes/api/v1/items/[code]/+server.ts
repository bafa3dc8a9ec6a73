import { answering, codeIn } from '$lib/server/http/http';
import { changeItem, loadItem } from '$lib/server/list/items';

export const GET = answering('GET /items/[code]', ({ locals, params }) =>
	loadItem(locals.actor.workspaceId, codeIn(params)),
);

export const PATCH = answering('PATCH /items/[code]', ({ locals, params }, change) =>
	changeItem(locals.actor, codeIn(params), change),
);
