import { noteProof, provePassword } from '$lib/server/access/signing-in';
import { personOf } from '$lib/server/http/gate';
import { answering } from '$lib/server/http/http';

export const POST = answering('POST /me/again', async ({ locals }, given) => {
	const who = personOf(locals);
	await provePassword(who, given);
	await noteProof(who.session);
	return {};
});
