import { answering } from '$lib/server/http/http';
import { loadOverview } from '$lib/server/list/list';

export const GET = answering('GET /overview', ({ locals }) => loadOverview(locals.actor.workspaceId));
