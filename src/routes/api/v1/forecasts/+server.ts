import { answering } from '$lib/server/http/http';
import { loadForecasts } from '$lib/server/list/forecasts';

export const GET = answering('GET /forecasts', ({ locals }, _, { asked, after }) =>
	loadForecasts(locals.actor.workspaceId, asked, after),
);
