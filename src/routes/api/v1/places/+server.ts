import { answering } from '$lib/server/http/http';
import { loadPlaces } from '$lib/server/list/list';

export const GET = answering('GET /places', ({ locals }, _, { asked }) =>
	loadPlaces(locals.actor.workspaceId, asked),
);
