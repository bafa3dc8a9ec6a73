import { answering } from '$lib/server/http';
import { newestStatuses } from '$lib/server/newest';

export const GET = answering('GET /newest', ({ locals }) => newestStatuses(locals.actor.workspaceId));
