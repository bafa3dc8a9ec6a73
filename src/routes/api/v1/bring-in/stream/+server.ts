import { BOUNDS } from '$core/bounds';
import { checked, parseJson } from '$lib/server/checked';
import { answerLines, askerOf, letRunOut, readHead, route } from '$lib/server/http';
import { spool } from '$lib/server/spool';
import { refreshStatus } from '$lib/server/status';
import { streamIn } from '$lib/server/stream-in';
import { type StreamProgress, StreamSchema, type StreamRequest } from '$lib/shapes';

/** A line of JSON, then a file of any size; answered with a line of JSON each time there is something to tell. */
export const POST = route(async (event) => {
	const { head, rest } = await readHead(event.request, BOUNDS.headBytes);
	let request: StreamRequest;
	try {
		request = checked(StreamSchema, parseJson(head));
	} catch (refusal) {
		await letRunOut(rest);
		throw refusal;
	}
	const file = await spool(rest);
	const { actor } = event.locals;
	const asker = askerOf(event);
	return answerLines<StreamProgress>((onProgress, signal) =>
		streamIn({ actor, file, request, onProgress, signal, asker: { ...asker, signal } })
			.finally(file.remove)
			.finally(refreshStatus),
	);
});
