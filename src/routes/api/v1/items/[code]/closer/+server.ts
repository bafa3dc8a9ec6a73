import { closerOf } from '$lib/server/closer';
import { answering, askerOf, codeIn } from '$lib/server/http';

export const GET = answering('GET /items/[code]/closer', (event) =>
	closerOf(event.locals.actor.workspaceId, codeIn(event.params), askerOf(event)),
);
