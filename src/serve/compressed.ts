import { EventEmitter } from 'node:events';
import type { RequestListener, ServerResponse } from 'node:http';
import compression from 'compression';

const AS_IT_COMES = new Set(['application/x-ndjson', 'text/event-stream']);

const compress = compression({
	// A list is soon squeezed; the last per cent would take longer than the wire saves.
	level: 1,
	filter: (request, response) =>
		!AS_IT_COMES.has(String(response.getHeader('content-type'))) && compression.filter(request, response),
});

/** Compresses answers as they are written; what is told of work under way goes out line by line. */
export const compressed =
	(handler: RequestListener): RequestListener =>
	(request, response) =>
		compress(request as Parameters<typeof compress>[0], response as Parameters<typeof compress>[1], () => {
			forgetDrained(response);
			handler(request, response);
		});

/**
 * Whoever waits for room to write on is forgotten when told. The package would keep each of them until the answer ends, and a large
 * one waits thousands of times for a slow reader.
 */
function forgetDrained(response: ServerResponse): void {
	const waiting = new EventEmitter();
	response.on('drain', () => waiting.emit('drain'));
	const once = response.once.bind(response);
	response.once = (event: string | symbol, listener: Parameters<typeof once>[1]) => {
		if (event !== 'drain') return once(event, listener);
		waiting.once(event, listener);
		return response;
	};
}
