import { bringIn } from '$lib/server/bring-in/bring-in';
import { askerOf, doneBefore, readTable, route } from '$lib/server/http/http';

/** A line of JSON that says what is wanted, then the table byte for byte. */
export const POST = route('POST /bring-in', async (event) => {
	const { head, content } = await readTable(event.request);
	const before = await doneBefore('POST /bring-in', event, head, content);
	if (before) return before;
	const brought = await bringIn(event.locals.actor, { request: head, content }, askerOf(event));
	return new Response(brought, { headers: { 'content-type': 'application/json' } });
});
