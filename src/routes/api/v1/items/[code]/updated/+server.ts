import { updateAdopted } from '$lib/server/adopted';
import { answering, askerOf, codeIn } from '$lib/server/http';

export const POST = answering('POST /items/[code]/updated', (event, request) =>
	updateAdopted(event.locals.actor, codeIn(event.params), request, askerOf(event)),
);
