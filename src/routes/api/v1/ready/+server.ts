import { json } from '@sveltejs/kit';
import { route } from '$lib/server/http';
import { loadReady } from '$lib/server/ready';

/** 503 where something is missing, so that whoever only looks at the status sees it. */
export const GET = route(async () => {
	const state = await loadReady();
	return json(state, { status: state.ready ? 200 : 503 });
});
