import { answering } from '$lib/server/http';
import { keepView } from '$lib/server/list';

export const PUT = answering('PUT /views', ({ locals }, view) => keepView(locals.actor, view));
