import { newLink } from '$lib/server/access/people';
import { answering, idIn } from '$lib/server/http/http';

export const POST = answering('POST /people/[id]/link', ({ locals, params }) =>
	newLink(locals.actor, idIn(params.id, 'A person')),
);
