import { route } from '$lib/server/http/http';
import { loadMetrics } from '$lib/server/http/metrics';
import { CALLS } from '$lib/wire/calls';

export const GET = route(
	'GET /metrics',
	async () => new Response(await loadMetrics(), { headers: { 'content-type': CALLS['GET /metrics'].type } }),
);
