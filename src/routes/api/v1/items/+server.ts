import { json } from '@sveltejs/kit';
import { bringIn } from '$lib/server/bring-in';
import { readBody, route } from '$lib/server/http';
import { listItems } from '$lib/server/items';
import { BringInSchema } from '$lib/shapes';

export const GET = route(async ({ locals }) => json(await listItems(locals.actor.workspaceId)));

export const POST = route(async ({ locals, request }) =>
	json(await bringIn(locals.actor, await readBody(request, BringInSchema)), { status: 201 }),
);
