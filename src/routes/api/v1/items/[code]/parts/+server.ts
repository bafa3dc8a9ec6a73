import { answering, codeIn } from '$lib/server/http/http';
import { partsOf } from '$lib/server/records/sums';

export const GET = answering('GET /items/[code]/parts', ({ locals, params }) =>
	partsOf(locals.actor.workspaceId, codeIn(params)),
);
