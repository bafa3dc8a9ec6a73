import { changePassword } from '$lib/server/access/signing-in';
import { fromOf, giveSession, personOf } from '$lib/server/http/gate';
import { answering } from '$lib/server/http/http';

export const PUT = answering('PUT /me/password', async (event, given) => {
	giveSession(event, await changePassword(personOf(event.locals), given, fromOf(event)));
	return {};
});
