import { answering } from '$lib/server/http';
import { newestStandings } from '$lib/server/newest';

export const GET = answering('GET /newest', ({ locals }) => newestStandings(locals.actor.workspaceId));
