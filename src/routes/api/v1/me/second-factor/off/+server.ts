import { callerOf, meOf } from '$lib/server/access/caller';
import { switchFactorOff } from '$lib/server/access/people';
import { personOf } from '$lib/server/http/gate';
import { answering } from '$lib/server/http/http';

export const POST = answering('POST /me/second-factor/off', async ({ locals }) => {
	await switchFactorOff(personOf(locals));
	return meOf((await callerOf(locals.actor.proof))!);
});
