import { askedOf } from '$lib/server/items/asked-sql';
import { groupedBy, loadGroups } from '$lib/server/list/groups';
import { answering } from '$lib/server/http/http';
import { makeSum } from '$lib/server/records/sums';

export const GET = answering('GET /groups', ({ locals, url }) =>
	loadGroups(
		locals.actor.workspaceId,
		askedOf(url.searchParams, { many: ['by'] }),
		groupedBy(url.searchParams),
	),
);
export const POST = answering('POST /groups', ({ locals }, wanted) => makeSum(locals.actor, wanted));
