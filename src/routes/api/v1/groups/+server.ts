import { askedOf } from '$lib/server/asked-sql';
import { groupedBy, loadGroups } from '$lib/server/groups';
import { answering } from '$lib/server/http';
import { makeSum } from '$lib/server/sums';

export const GET = answering('GET /groups', ({ locals, url }) =>
	loadGroups(
		locals.actor.workspaceId,
		askedOf(url.searchParams, { many: ['by'] }),
		groupedBy(url.searchParams),
	),
);
export const POST = answering('POST /groups', ({ locals }, wanted) => makeSum(locals.actor, wanted));
