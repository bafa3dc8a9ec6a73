import { answering } from '$lib/server/http';
import { changeSeveral } from '$lib/server/several';

export const POST = answering('POST /several', ({ locals }, asked) => changeSeveral(locals.actor, asked));
