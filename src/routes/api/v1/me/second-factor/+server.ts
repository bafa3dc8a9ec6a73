import { callerOf, meOf } from '$lib/server/access/caller';
import { proposeFactor, switchFactorOn } from '$lib/server/access/people';
import { personOf } from '$lib/server/http/gate';
import { answering } from '$lib/server/http/http';

export const POST = answering('POST /me/second-factor', ({ locals }) => proposeFactor(personOf(locals)));

export const PUT = answering('PUT /me/second-factor', async ({ locals }, given) => {
	await switchFactorOn(personOf(locals), given);
	return meOf((await callerOf(locals.actor.proof))!);
});
