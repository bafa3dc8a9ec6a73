import { answering } from '$lib/server/http/http';
import { newestStatuses } from '$lib/server/status/newest';

export const GET = answering('GET /newest', ({ locals }) => newestStatuses(locals.actor.workspaceId));
