import { askedOf } from '$lib/server/asked-sql';
import { answering } from '$lib/server/http';
import { loadPlaces } from '$lib/server/list';

export const GET = answering('GET /places', ({ locals, url }) =>
	loadPlaces(locals.actor.workspaceId, askedOf(url.searchParams)),
);
