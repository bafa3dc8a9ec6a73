import { updateAdopted } from '$lib/server/records/adopted';
import { answering, askerOf, codeIn } from '$lib/server/http/http';

export const POST = answering('POST /items/[code]/updated', (event, request) =>
	updateAdopted(event.locals.actor, codeIn(event.params), request, askerOf(event)),
);
