import { answering, codeIn } from '$lib/server/http';
import { addMends } from '$lib/server/mends';

export const POST = answering('POST /items/[code]/layers', ({ locals, params }, entries) =>
	addMends(locals.actor, codeIn(params), entries),
);
