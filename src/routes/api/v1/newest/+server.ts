import { answering } from '$lib/server/http';
import { newestStandings } from '$lib/server/standing';

export const GET = answering('GET /newest', ({ locals }) => newestStandings(locals.actor.workspaceId));
