import { knownOf } from '$lib/server/bring-in/known';
import { pool } from '$lib/server/database/database';
import { answering } from '$lib/server/http/http';

/** What is known of a table that is looked at. */
export const POST = answering('POST /bring-in/known', ({ locals }, asked) =>
	knownOf(pool(), locals.actor.workspaceId, asked),
);
