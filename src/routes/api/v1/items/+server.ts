import { json } from '@sveltejs/kit';
import { BOUNDS } from '$core/bounds';
import { bringInNew } from '$lib/server/bring-in/bring-in';
import { answering, askerOf, doneBefore, jsonBytes, route } from '$lib/server/http/http';
import { loadWindow } from '$lib/server/list/list';

export const GET = answering('GET /items', ({ locals }, _, { asked, from, most }) =>
	loadWindow(locals.actor.workspaceId, asked, from, most),
);

/** Read and checked apart from serving. */
export const POST = route('POST /items', async (event) => {
	const request = await jsonBytes(event.request, BOUNDS.tableBytes);
	const before = await doneBefore('POST /items', event, request);
	if (before) return before;
	return json(await bringInNew(event.locals.actor, request, askerOf(event)), { status: 201 });
});
