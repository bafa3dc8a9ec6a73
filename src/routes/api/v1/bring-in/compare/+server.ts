import { storedSeries } from '$lib/server/bring-in';
import { checked, parseJson } from '$lib/server/checked';
import { jsonBytes, route } from '$lib/server/http';
import { CodesSchema } from '$lib/shapes';

/** What is kept of the items with these codes. */
export const POST = route(async ({ locals, request }) => {
	const { codes } = checked(CodesSchema, parseJson(await jsonBytes(request)));
	return new Response(storedSeries(locals.actor.workspaceId, codes), {
		headers: { 'content-type': 'application/json' },
	});
});
