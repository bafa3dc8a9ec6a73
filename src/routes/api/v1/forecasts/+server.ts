import { forecastsOf } from '$lib/server/list/forecasts';
import { answering } from '$lib/server/http/http';

export const GET = answering('GET /forecasts', ({ locals, url }) =>
	forecastsOf(locals.actor.workspaceId, url.searchParams),
);
