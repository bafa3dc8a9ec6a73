import { json } from '@sveltejs/kit';
import { adopt, loadAdopted } from '$lib/server/adopted';
import { readBody, route } from '$lib/server/http';
import { findItem } from '$lib/server/items';
import { AdoptSchema } from '$lib/shapes';

const MOST = 100;

export const GET = route(async ({ locals, params }) => {
	const { workspaceId } = locals.actor;
	return json(await loadAdopted(workspaceId, await findItem(workspaceId, params.code!), MOST));
});

export const POST = route(async ({ locals, params, request }) => {
	const wish = await readBody(request, AdoptSchema);
	await adopt(locals.actor, params.code!, wish);
	const { workspaceId } = locals.actor;
	const [newest] = await loadAdopted(workspaceId, await findItem(workspaceId, params.code!), 1);
	return json(newest, { status: 201 });
});
