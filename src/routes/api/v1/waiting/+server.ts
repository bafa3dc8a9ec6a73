import { loadWaiting } from '$lib/server/bring-in/inbox';
import { answering } from '$lib/server/http/http';

export const GET = answering('GET /waiting', ({ locals }) => loadWaiting(locals.actor.workspaceId));
