import { endSession, loadSessions } from '$lib/server/access/people';
import { personOf } from '$lib/server/http/gate';
import { answering, idIn } from '$lib/server/http/http';

export const POST = answering('POST /sessions/[id]/ended', async ({ locals, params }) => {
	const who = personOf(locals);
	await endSession(who, idIn(params.id, 'A session'));
	return loadSessions(who);
});
