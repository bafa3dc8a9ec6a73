import { answering } from '$lib/server/http/http';
import { keepView } from '$lib/server/list/list';

export const PUT = answering('PUT /views', ({ locals }, view) => keepView(locals.actor, view));
