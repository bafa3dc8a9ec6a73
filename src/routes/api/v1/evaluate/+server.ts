import { BOUNDS } from '$core/bounds';
import { answerBytes, askerOf, jsonBytes, route } from '$lib/server/http/http';
import { threads } from '$lib/server/threads/threads';

/** Request and answer of `evaluate`, as in docs/http.md; calculated, and its answer written, apart from serving. */
export const POST = route('POST /evaluate', async (event) =>
	answerBytes(
		await threads().run('evaluateBody', await jsonBytes(event.request, BOUNDS.jsonLarge), askerOf(event)),
	),
);
