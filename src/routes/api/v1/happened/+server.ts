import { loadHappened } from '$lib/server/access/happened';
import { answering } from '$lib/server/http/http';

export const GET = answering('GET /happened', ({ locals }, _, asked) => loadHappened(locals.caller!, asked));
