import { storedSeries } from '$lib/server/bring-in';
import { readBody, route } from '$lib/server/http';
import { CodesSchema } from '$lib/shapes';

/** What is kept of the items with these codes. */
export const POST = route(async ({ locals, request }) => {
	const { codes } = await readBody(request, CodesSchema);
	return new Response(storedSeries(locals.actor.workspaceId, codes), {
		headers: { 'content-type': 'application/json' },
	});
});
