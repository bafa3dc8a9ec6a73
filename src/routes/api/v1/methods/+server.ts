import { answering } from '$lib/server/http/http';
import { methodsSaid } from '$lib/wire/methods';

export const GET = answering('GET /methods', methodsSaid);
