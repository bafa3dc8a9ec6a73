import { answering, codeIn } from '$lib/server/http/http';
import { loadGrades } from '$lib/server/status/status';

export const GET = answering('GET /items/[code]/grades', ({ locals, params }) =>
	loadGrades(locals.actor.workspaceId, codeIn(params)),
);
