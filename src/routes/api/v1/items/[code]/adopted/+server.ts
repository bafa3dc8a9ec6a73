import { json } from '@sveltejs/kit';
import { adopt, loadAdopted } from '$lib/server/adopted';
import { snapshot } from '$lib/server/database';
import { askerOf, codeIn, idIn, readBody, route } from '$lib/server/http';
import { findItem } from '$lib/server/item-records';
import { AdoptSchema } from '$lib/shapes';

/** So many at a time; `?before=ID` goes on from there. */
const PAGE = 20;

export const GET = route(async ({ locals, params, url }) => {
	const { workspaceId } = locals.actor;
	const before = url.searchParams.get('before');
	return json(
		await snapshot(async (client) =>
			loadAdopted(client, workspaceId, (await findItem(client, workspaceId, codeIn(params))).id, {
				most: PAGE,
				...(before !== null && { before: idIn(before, 'An adopted forecast') }),
			}),
		),
	);
});

/** Answers with the record that was made. */
export const POST = route(async (event) => {
	const wish = await readBody(event.request, AdoptSchema);
	const made = await adopt(event.locals.actor, codeIn(event.params), wish, askerOf(event));
	return json(made, { status: 201 });
});
