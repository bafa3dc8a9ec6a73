import { revokeToken } from '$lib/server/access/people';
import { answering, idIn } from '$lib/server/http/http';

export const POST = answering('POST /tokens/[id]/revoked', ({ locals, params }) =>
	revokeToken(locals.actor, idIn(params.id, 'A token')),
);
