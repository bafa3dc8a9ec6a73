import { loadSessions } from '$lib/server/access/people';
import { personOf } from '$lib/server/http/gate';
import { answering } from '$lib/server/http/http';

export const GET = answering('GET /sessions', ({ locals }) => loadSessions(personOf(locals)));
