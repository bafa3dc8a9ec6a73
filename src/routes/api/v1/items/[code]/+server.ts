import { json } from '@sveltejs/kit';
import { codeIn, readBody, route } from '$lib/server/http';
import { changeItem, loadItem } from '$lib/server/items';
import { ItemChangeSchema } from '$lib/shapes';

export const GET = route(async ({ locals, params }) =>
	json(await loadItem(locals.actor.workspaceId, codeIn(params))),
);

/** Renames it, retires it, or brings it back; answers with the item as it is then. */
export const PATCH = route(async ({ locals, params, request }) =>
	json(await changeItem(locals.actor, codeIn(params), await readBody(request, ItemChangeSchema))),
);
