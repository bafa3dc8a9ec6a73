import { json } from '@sveltejs/kit';
import { storedSeries } from '$lib/server/bring-in';
import { readBody, route } from '$lib/server/http';
import { CodesSchema } from '$lib/shapes';

/** What is kept of the items with these codes. */
export const POST = route(async ({ locals, request }) =>
	json(await storedSeries(locals.actor.workspaceId, (await readBody(request, CodesSchema)).codes)),
);
