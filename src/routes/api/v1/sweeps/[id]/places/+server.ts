import { answering, idIn } from '$lib/server/http/http';
import { loadSweepPlaces, sweepAskedOf } from '$lib/server/sweeps/results';

export const GET = answering('GET /sweeps/[id]/places', ({ locals, params, url }) =>
	loadSweepPlaces(locals.actor.workspaceId, idIn(params.id, 'a sweep'), sweepAskedOf(url.searchParams)),
);
