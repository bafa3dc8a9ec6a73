import { json } from '@sveltejs/kit';
import { route } from '$lib/server/http';
import { loadItem } from '$lib/server/items';

export const GET = route(async ({ locals, params }) =>
	json(await loadItem(locals.actor.workspaceId, params.code!)),
);
