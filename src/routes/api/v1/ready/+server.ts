import { json } from '@sveltejs/kit';
import { route } from '$lib/server/http/http';
import { loadReady } from '$lib/server/http/ready';

/** 503 where something is missing, so that whoever only looks at the status sees it. */
export const GET = route('GET /ready', async () => {
	const state = await loadReady();
	return json(state, { status: state.ready ? 200 : 503 });
});
