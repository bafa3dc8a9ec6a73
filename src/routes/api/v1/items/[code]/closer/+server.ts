import { closerOf } from '$lib/server/sweeps/closer';
import { answering, askerOf, codeIn } from '$lib/server/http/http';

export const GET = answering('GET /items/[code]/closer', (event) =>
	closerOf(event.locals.actor.workspaceId, codeIn(event.params), askerOf(event)),
);
