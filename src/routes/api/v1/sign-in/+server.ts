import { callerOf, meOf, signInIsOn } from '$lib/server/access/caller';
import { signIn } from '$lib/server/access/signing-in';
import { servedWorkspace } from '$lib/server/database/workspaces';
import { fromOf, giveSession } from '$lib/server/http/gate';
import { answering } from '$lib/server/http/http';
import { NOBODY_SIGNS_IN, Refusal } from '$lib/server/refusal';

export const POST = answering('POST /sign-in', async (event, given) => {
	if (!signInIsOn()) throw new Refusal(409, NOBODY_SIGNS_IN);
	const workspace = await servedWorkspace();
	const key = await signIn(workspace!.id, given, fromOf(event));
	giveSession(event, key);
	return meOf((await callerOf(key))!);
});
