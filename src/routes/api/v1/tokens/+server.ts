import { loadTokens, makeToken } from '$lib/server/access/people';
import { answering } from '$lib/server/http/http';

export const GET = answering('GET /tokens', ({ locals }) => loadTokens(locals.actor.workspaceId));

export const POST = answering('POST /tokens', ({ locals }, token) => makeToken(locals.actor, token));
