import { loadForecasts } from '$lib/server/forecasts';
import { answering } from '$lib/server/http';

export const GET = answering('GET /forecasts', ({ locals }) => loadForecasts(locals.actor.workspaceId));
