import { answering, codeIn } from '$lib/server/http';
import { addMends } from '$lib/server/layer-entries';

export const POST = answering('POST /items/[code]/layers', ({ locals, params }, entries) =>
	addMends(locals.actor, codeIn(params), entries),
);
