import { invite, loadPeople } from '$lib/server/access/people';
import { answering } from '$lib/server/http/http';

export const GET = answering('GET /people', ({ locals }) => loadPeople(locals.actor.workspaceId));

export const POST = answering('POST /people', ({ locals }, person) => invite(locals.actor, person));
