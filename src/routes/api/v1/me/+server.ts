import { meOf } from '$lib/server/access/caller';
import { answering } from '$lib/server/http/http';

export const GET = answering('GET /me', ({ locals }) => meOf(locals.caller!));
