import { adopt } from '$lib/server/records/adopted';
import { snapshot } from '$lib/server/database/database';
import { answering, askerOf, codeIn } from '$lib/server/http/http';
import { findItem } from '$lib/server/items/item-records';
import { loadAdopted } from '$lib/server/records/records';

/** So many at a time; `?before=ID` goes on from there. */
const PAGE = 20;

export const GET = answering('GET /items/[code]/adopted', ({ locals, params }, _, { before }) => {
	const { workspaceId } = locals.actor;
	return snapshot(async (client) =>
		loadAdopted(client, workspaceId, (await findItem(client, workspaceId, codeIn(params))).id, {
			most: PAGE,
			...(before !== null && { before }),
		}),
	);
});

export const POST = answering('POST /items/[code]/adopted', (event, request) =>
	adopt(event.locals.actor, codeIn(event.params), request, askerOf(event)),
);
