import { recheckAdopted } from '$lib/server/records/records';
import { answering, askerOf, codeIn, idIn } from '$lib/server/http/http';

/** Computes an adopted forecast of the item anew from the actuals it saw and says whether every figure is the same. */
export const GET = answering('GET /items/[code]/adopted/[id]', (event) => {
	const { workspaceId } = event.locals.actor;
	const id = idIn(event.params.id, 'An adopted forecast');
	return recheckAdopted(workspaceId, codeIn(event.params), id, askerOf(event));
});
