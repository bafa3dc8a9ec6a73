import { json } from '@sveltejs/kit';
import { codeIn, readBody, route } from '$lib/server/http';
import { saveLineUp } from '$lib/server/line-ups';
import { LineUpSchema } from '$lib/shapes';

export const PUT = route(async ({ locals, params, request }) => {
	const lineUp = await readBody(request, LineUpSchema);
	return json({ version: await saveLineUp(locals.actor.workspaceId, codeIn(params), lineUp) });
});
