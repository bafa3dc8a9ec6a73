import { json } from '@sveltejs/kit';
import { recheckAdopted } from '$lib/server/adopted';
import { askerOf, codeIn, idIn, route } from '$lib/server/http';

/** Computes an adopted forecast of the item anew from the actuals it saw and says whether every figure is the same. */
export const GET = route(async (event) => {
	const { workspaceId } = event.locals.actor;
	const id = idIn(event.params.id, 'An adopted forecast');
	return json(await recheckAdopted(workspaceId, codeIn(event.params), id, askerOf(event)));
});
