import { BOUNDS } from '$core/bounds';
import { checked, parseJson } from '$lib/server/checked';
import { answerLines, askerOf, letRunOut, readHead, route } from '$lib/server/http/http';
import { spool } from '$lib/server/bring-in/spool';
import { refreshStatus } from '$lib/server/status/status';
import { streamIn } from '$lib/server/bring-in/stream-in';
import { type StreamProgress, StreamSchema, type StreamRequest } from '$lib/wire/bring-in';

/** A line of JSON, then a file of any size; answered with a line of JSON each time there is something to tell. */
export const POST = route('POST /bring-in/stream', async (event) => {
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
