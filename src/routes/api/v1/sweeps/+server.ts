import { answering } from '$lib/server/http/http';
import { beginSweep, loadSweeps } from '$lib/server/sweeps/sweeps';

export const GET = answering('GET /sweeps', ({ locals }) => loadSweeps(locals.actor.workspaceId));
export const POST = answering('POST /sweeps', ({ locals }, wanted) => beginSweep(locals.actor, wanted));
