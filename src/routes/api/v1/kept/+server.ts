import { answering } from '$lib/server/http/http';
import { keepSweeps, loadKept } from '$lib/server/status/kept';

export const GET = answering('GET /kept', ({ locals }) => loadKept(locals.actor.workspaceId));

export const PUT = answering('PUT /kept', ({ locals }, { sweepDays }) => keepSweeps(locals.actor, sweepDays));
