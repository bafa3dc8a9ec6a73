import { endSession } from '$lib/server/access/people';
import { personOf, takeSession } from '$lib/server/http/gate';
import { answering } from '$lib/server/http/http';

export const POST = answering('POST /sign-out', async (event) => {
	const { id, session } = personOf(event.locals);
	await endSession({ id }, session);
	takeSession(event);
	return {};
});
