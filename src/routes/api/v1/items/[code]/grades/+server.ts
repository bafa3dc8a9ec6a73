import { answering, codeIn } from '$lib/server/http';
import { loadGrades } from '$lib/server/status';

export const GET = answering('GET /items/[code]/grades', ({ locals, params }) =>
	loadGrades(locals.actor.workspaceId, codeIn(params)),
);
