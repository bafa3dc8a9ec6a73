import { json } from '@sveltejs/kit';
import { bringInNew } from '$lib/server/bring-in';
import { readBody, route } from '$lib/server/http';
import { listItems } from '$lib/server/items';
import { NewItemSchema } from '$lib/shapes';

export const GET = route(async ({ locals }) => json(await listItems(locals.actor.workspaceId)));

export const POST = route(async ({ locals, request }) =>
	json(await bringInNew(locals.actor, await readBody(request, NewItemSchema)), { status: 201 }),
);
