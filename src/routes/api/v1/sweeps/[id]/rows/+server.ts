import { answering, idIn } from '$lib/server/http/http';
import { sweepWindowOf } from '$lib/server/sweeps/results';

export const GET = answering('GET /sweeps/[id]/rows', ({ locals, params, url }) =>
	sweepWindowOf(locals.actor.workspaceId, idIn(params.id, 'a sweep'), url.searchParams),
);
