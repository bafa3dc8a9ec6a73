import { changePerson } from '$lib/server/access/people';
import { answering, idIn } from '$lib/server/http/http';

export const PATCH = answering('PATCH /people/[id]', ({ locals, params }, change) =>
	changePerson(locals.actor, idIn(params.id, 'A person'), change),
);
