import { answering } from '$lib/server/http';
import { loadOverview } from '$lib/server/list';

export const GET = answering('GET /overview', ({ locals }) => loadOverview(locals.actor.workspaceId));
