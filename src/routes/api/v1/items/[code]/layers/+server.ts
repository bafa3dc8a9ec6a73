import { json } from '@sveltejs/kit';
import { codeIn, readBody, route } from '$lib/server/http';
import { addMends } from '$lib/server/mends';
import { MendsSchema } from '$lib/shapes';

/** Puts entries on the record of an item's layers. */
export const POST = route(async ({ locals, params, request }) =>
	json(await addMends(locals.actor, codeIn(params), await readBody(request, MendsSchema))),
);
