import { loadGroups } from '$lib/server/list/groups';
import { answering } from '$lib/server/http/http';
import { makeSum } from '$lib/server/records/sums';

export const GET = answering('GET /groups', ({ locals }, _, { asked, by }) =>
	loadGroups(locals.actor.workspaceId, asked, by),
);
export const POST = answering('POST /groups', ({ locals }, wanted) => makeSum(locals.actor, wanted));
