import { answering } from '$lib/server/http/http';
import { changeSeveral } from '$lib/server/list/several';

export const POST = answering('POST /several', ({ locals }, asked) => changeSeveral(locals.actor, asked));
