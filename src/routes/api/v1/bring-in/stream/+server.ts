import { answerLines, readHead, route } from '$lib/server/http';
import { spool, streamIn } from '$lib/server/stream-in';
import type { StreamProgress } from '$lib/shapes';
import { StreamSchema } from '$lib/shapes';

/** A line of JSON, then a file of any size; answered with a line of JSON each time there is something to tell. */
export const POST = route(async ({ locals, request }) => {
	const { wish, rest } = await readHead(request, StreamSchema);
	const file = await spool(rest);
	return answerLines<StreamProgress>((tell, signal) =>
		streamIn(locals.actor, file, wish, tell, signal).finally(file.remove),
	);
});
