import { decideWaiting } from '$lib/server/bring-in/inbox';
import { answering, idIn } from '$lib/server/http/http';

export const POST = answering('POST /waiting/[id]/decided', ({ locals, params }, { taken }) =>
	decideWaiting(locals.actor, idIn(params.id, 'A file that waits'), taken),
);
