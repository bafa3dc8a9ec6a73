import { answering, idIn } from '$lib/server/http/http';
import { loadSweepPlaces } from '$lib/server/sweeps/results';

export const GET = answering('GET /sweeps/[id]/places', ({ locals, params }, _, { asked }) =>
	loadSweepPlaces(locals.actor.workspaceId, idIn(params.id, 'a sweep'), asked),
);
