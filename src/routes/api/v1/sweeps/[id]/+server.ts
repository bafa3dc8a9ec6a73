import { answering, idIn } from '$lib/server/http/http';
import { loadSweepSums } from '$lib/server/sweeps/results';
import { loadSweep } from '$lib/server/sweeps/sweeps';

export const GET = answering('GET /sweeps/[id]', async ({ locals, params }) => {
	const { workspaceId } = locals.actor;
	const id = idIn(params.id, 'a sweep');
	return { sweep: await loadSweep(workspaceId, id), sums: await loadSweepSums(workspaceId, id) };
});
