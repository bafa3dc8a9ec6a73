import { forecastsOf } from '$lib/server/forecasts';
import { answering } from '$lib/server/http';

export const GET = answering('GET /forecasts', ({ locals, url }) =>
	forecastsOf(locals.actor.workspaceId, url.searchParams),
);
