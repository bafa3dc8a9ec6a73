import { storedSeries } from '$lib/server/bring-in/bring-in';
import { route, takenBy } from '$lib/server/http/http';

/** What is kept of the items with these codes. */
export const POST = route('POST /bring-in/compare', async (event) => {
	const { codes } = await takenBy('POST /bring-in/compare', event);
	return new Response(storedSeries(event.locals.actor.workspaceId, codes), {
		headers: { 'content-type': 'application/json' },
	});
});
