import { json } from '@sveltejs/kit';
import { recheckAdopted } from '$lib/server/adopted';
import { route } from '$lib/server/http';
import { Refusal } from '$lib/server/refusal';

/** Computes an adopted forecast anew from the actuals it saw and says whether every figure is the same. */
export const GET = route(async ({ locals, params }) => {
	const id = Number(params.id);
	if (!Number.isSafeInteger(id)) throw new Refusal(404, 'An adopted forecast is named by its number.');
	return json(await recheckAdopted(locals.actor.workspaceId, id));
});
