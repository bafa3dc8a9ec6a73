import { answering, codeIn } from '$lib/server/http';
import { putAside } from '$lib/server/standing';

export const POST = answering('POST /items/[code]/aside', ({ locals, params }, request) =>
	putAside(locals.actor, codeIn(params), request),
);
