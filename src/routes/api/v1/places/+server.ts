import { askedOf } from '$lib/server/items/asked-sql';
import { answering } from '$lib/server/http/http';
import { loadPlaces } from '$lib/server/list/list';

export const GET = answering('GET /places', ({ locals, url }) =>
	loadPlaces(locals.actor.workspaceId, askedOf(url.searchParams)),
);
