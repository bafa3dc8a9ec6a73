import { carryOn } from '$lib/server/adopted';
import { answering, askerOf, codeIn } from '$lib/server/http';

export const POST = answering('POST /items/[code]/carried-on', (event, request) =>
	carryOn(event.locals.actor, codeIn(event.params), request, askerOf(event)),
);
